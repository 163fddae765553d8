import { say } from "../../../../components/messages/say.ts";
import { canWrite, type Stroke, writeStrokes } from "../../../../core/commands/index.ts";
import type { Hit } from "../../../../core/document/index.ts";
import { gridStepTicks } from "../../../../core/time/index.ts";
import { doAndSay } from "../../commands/do-and-say.ts";
import { drawGridOf, drawnMarks, drawnTick, withRemoved, write } from "../../commands/write-actions.ts";
import { type DrawPlace, drawPlaceAt, isFreehand, loudnessDrawn, ticksPassed } from "../draw-place.ts";
import type { Point } from "../under-pointer.ts";
import type { Gesture, GestureStage } from "./gesture.ts";

/** What is drawn nearer to a hit than this share of a step would fall on it. */
const TAKEN_SHARE = 0.3;
/** Off the grid, hits are at least this far apart in a stroke of the pointer. */
const FREE_STEP_PX = 14;

/**
 * Draws hits in the lane in which the pointer was pressed, and in a row of the open lane that row's stroke: on the grid that is drawn
 * or off it, as the switch says, and the other way with Shift. Hits that are there already stay as they are; with Alt they make room.
 */
export function startDrawing({ bench, showNote }: GestureStage, start: Point, voiceId: string): Gesture {
  const { store, playback } = bench;
  const strokes = new Map<number, Stroke>();
  const replaced = new Map<string, Hit>();
  let lastX = start.x;
  const place: DrawPlace | null = drawPlaceAt(store.getState(), start, voiceId);

  return {
    move(point, { isShift, isAlt }) {
      if (!place) return;
      const state = store.getState();
      const { lane, articulationId } = place;
      if (!canWrite(state.pattern)) {
        say("No track of this take counts as drums.");
        return;
      }
      const loudness = loudnessDrawn(place, start, point);
      const isFree = isFreehand(state, isShift);
      for (const at of ticksPassed(state, lastX, point.x)) {
        const tick = drawnTick(state, lane, at, isFree);
        const stepTicks = isFree
          ? FREE_STEP_PX * state.viewport.ticksPerPx
          : gridStepTicks(drawGridOf(state, lane, at), state.maps.meterMap.ppq);
        const near = stepTicks * TAKEN_SHARE;
        if (isFree && isNear(strokes.keys(), tick, FREE_STEP_PX * state.viewport.ticksPerPx)) continue;
        const inWay = lane.hits.filter((_, row) => Math.abs(lane.cleaned.ticks[row]! - tick) < near);
        if (inWay.length > 0 && !isAlt && !strokes.has(tick)) continue;
        for (const hit of inWay) replaced.set(hit.id, hit);
        if (!strokes.has(tick)) void playback.audition(voiceId, articulationId, loudness);
        strokes.set(tick, { voiceId, articulationId, tick, velocity: loudness, marks: drawnMarks(state) });
      }
      lastX = point.x;
      if (strokes.size > 0) {
        let turn = 0;
        const drawn = writeStrokes(state.pattern, [...strokes.values()], () => `drawn ${turn++}`);
        store.preview(withRemoved(drawn, [...replaced.values()]));
      }
      const instead = replaced.size > 0 ? `, in place of ${replaced.size}` : "";
      showNote({ ...point, text: `${strokes.size} drawn${instead}, velocity ${loudness}` });
    },
    end() {
      store.endPreview();
      if (strokes.size === 0) return;
      doAndSay(bench, () => write(bench, "Draw", [...strokes.values()], [...replaced.values()]));
    },
  };
}

function isNear(ticks: Iterable<number>, tick: number, distance: number): boolean {
  for (const other of ticks) if (other !== tick && Math.abs(other - tick) < distance) return true;
  return false;
}
