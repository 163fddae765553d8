import { areaBetween, hitsInArea, type Point } from "../under-pointer.ts";
import type { Gesture, GestureStage } from "./gesture.ts";

/** Picks what is inside of a frame, beside what was picked before if that is added to. */
export function startMarquee({ bench, showMarquee }: GestureStage, start: Point, isAdding: boolean): Gesture {
  const { store } = bench;
  const before = isAdding ? store.getState().picked : new Set<string>();
  store.pick(before);
  return {
    move(point) {
      const area = areaBetween(start, point);
      showMarquee(area);
      store.pick(new Set([...before, ...hitsInArea(store.getState(), area)]));
    },
    end() {},
  };
}
