import { xToTick, zoomAround } from "../../../../store/bench/viewport.ts";
import type { Point } from "../under-pointer.ts";
import type { Gesture, GestureStage } from "./gesture.ts";

/** The pointer may tremble this far before a tap becomes a drag. */
const DRAG_AFTER_PX = 4;
/** A finger that rests this long before it moves means a frame around hits, not a way to travel. */
const HELD_MS = 400;

/**
 * One finger on empty ground: travels along the take and, by the element that scrolls, over the lanes. A tap picks nothing.
 * @param startHeld what to do when the finger rested first
 * @param nowMs the clock
 */
export function startTravel(
  { bench }: GestureStage,
  start: Point,
  scroller: Element | null,
  startHeld: () => Gesture,
  nowMs: () => number,
): Gesture {
  const { store } = bench;
  const { startTick } = store.getState().viewport;
  const scrollTop = scroller?.scrollTop ?? 0;
  const pressedMs = nowMs();
  let gesture: Gesture | "travelling" | null = null;
  return {
    move(point, held) {
      const across = point.x - start.x;
      // The canvas scrolls along with the lanes, so its own distance is added back.
      const down = point.y - start.y - ((scroller?.scrollTop ?? 0) - scrollTop);
      if (gesture === null) {
        if (Math.hypot(across, down) < DRAG_AFTER_PX) return;
        gesture = nowMs() - pressedMs > HELD_MS ? startHeld() : "travelling";
      }
      if (gesture !== "travelling") {
        gesture.move(point, held);
        return;
      }
      const { viewport } = store.getState();
      store.setViewport({ ...viewport, startTick: startTick - across * viewport.ticksPerPx });
      if (scroller) scroller.scrollTop = scrollTop - down;
    },
    end() {
      if (gesture === null) store.pick(new Set());
      else if (gesture !== "travelling") gesture.end();
    },
  };
}

/** Two fingers: nearer and farther by their distance, along by their middle. */
export class TwoFingers {
  readonly #stage: GestureStage;
  #before: readonly [Point, Point];

  constructor(stage: GestureStage, fingers: readonly [Point, Point]) {
    this.#stage = stage;
    this.#before = fingers;
  }

  move(fingers: readonly [Point, Point]): void {
    const { store } = this.#stage.bench;
    const { viewport, pattern } = store.getState();
    const middle = ([a, b]: readonly [Point, Point]) => (a.x + b.x) / 2;
    const apart = ([a, b]: readonly [Point, Point]) => Math.max(20, Math.hypot(a.x - b.x, a.y - b.y));
    const tick = xToTick(viewport, middle(this.#before));
    const zoomed = zoomAround(
      viewport,
      middle(this.#before),
      apart(this.#before) / apart(fingers),
      pattern.lengthTicks,
    );
    store.setViewport({ ...zoomed, startTick: tick - middle(fingers) * zoomed.ticksPerPx });
    this.#before = fingers;
  }
}
