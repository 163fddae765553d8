import type { Hit } from "../../../../core/document/index.ts";
import { rowsBetween } from "../../../../store/bench/rows-between.ts";
import { tickToX, xToTick } from "../../../../store/bench/viewport.ts";
import { hitCount } from "../../commands/actions.ts";
import { doAndSay } from "../../commands/do-and-say.ts";
import { boxesOf } from "../lane-layout.ts";
import { hitAtPoint, type Point, rowAtPoint } from "../under-pointer.ts";
import type { Gesture, GestureStage } from "./gesture.ts";

/** The pointer takes hits whose edge it passes this near. */
const REACH_PX = 3;

/** Takes away the hits that the pointer passes in the lane in which it was pressed; in a row of the open lane, of that stroke alone. */
export function startErasing({ bench, showNote }: GestureStage, start: Point, voiceId: string): Gesture {
  const { store } = bench;
  const state = store.getState();
  const lane = state.lanes.find((one) => one.voiceId === voiceId);
  const box = boxesOf(state).find(({ voice }) => voice.id === voiceId);
  const row = box && rowAtPoint(box, start);
  const gone = new Map<string, Hit>();
  let lastX = start.x;
  const touched = row ? null : hitAtPoint(state, start)?.hit;
  if (touched) gone.set(touched.id, touched);

  return {
    move(point) {
      if (!lane) return;
      const { viewport } = store.getState();
      const [from, to] = [Math.min(lastX, point.x) - REACH_PX, Math.max(lastX, point.x) + REACH_PX];
      const { ticks } = lane.cleaned;
      const { first, end } = rowsBetween(ticks, xToTick(viewport, from), xToTick(viewport, to));
      for (let at = first; at < end; at++) {
        const [hit, x] = [lane.hits[at]!, tickToX(viewport, ticks[at]!)];
        if (x >= from && x <= to && (!row || hit.articulationId === row.id)) gone.set(hit.id, hit);
      }
      lastX = point.x;
      if (gone.size > 0) store.preview({ kind: "removeHits", hits: [...gone.values()] });
      showNote({ ...point, text: `${hitCount(gone.size)} to remove` });
    },
    end() {
      store.endPreview();
      if (gone.size === 0) return;
      doAndSay(bench, () => {
        store.commit(`Remove ${hitCount(gone.size)}`, { kind: "removeHits", hits: [...gone.values()] });
        return null;
      });
    },
  };
}
