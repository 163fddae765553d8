import { say } from "../../../components/say.ts";
import { canWrite, type Stroke, writeStrokes } from "../../../core/commands/index.ts";
import type { Hit } from "../../../core/document/index.ts";
import { gridStepTicks } from "../../../core/time/index.ts";
import { xToTick } from "../../../store/viewport.ts";
import { doAndSay } from "../do-and-say.ts";
import { boxesOf } from "../lane-layout.ts";
import type { Point } from "../under-pointer.ts";
import { drawGridOf, drawnTick, strokeOfLane, withRemoved, write } from "../write-actions.ts";
import type { Gesture, GestureStage } from "./gesture.ts";

/** What is drawn nearer to a hit than this share of a step would fall on it. */
const TAKEN_SHARE = 0.3;
/** Off the grid, hits are at least this far apart in a stroke of the pointer. */
const FREE_STEP_PX = 14;
const STEP_PX = 3;

/**
 * Draws hits in the lane in which the pointer was pressed, on the grid that the lane is drawn on; with Shift off it. Hits that
 * are there already stay as they are; with Alt they make room for what is drawn.
 */
export function startDrawing({ bench, showNote }: GestureStage, start: Point, voiceId: string): Gesture {
  const { store, playback } = bench;
  const strokes = new Map<number, Stroke>();
  const replaced = new Map<string, Hit>();
  let lastX = start.x;
  const first = store.getState();
  const laneAtStart = first.lanes.find((lane) => lane.voiceId === voiceId);
  const { articulationId, velocity } = laneAtStart
    ? strokeOfLane(laneAtStart, first.picked)
    : { articulationId: "", velocity: 1 };

  const loudnessAt = (y: number) => {
    const box = boxesOf(store.getState()).find(({ voice }) => voice.id === voiceId);
    const finHeight = box?.finHeight ?? 40;
    // In the open lane a fin is as tall as the pointer is high; others change from what they were last.
    const wanted = box?.open ? ((box.base - y) / finHeight) * 127 : velocity + ((start.y - y) / finHeight) * 127;
    return Math.max(1, Math.min(127, Math.round(wanted)));
  };

  return {
    move(point, { isShift, isAlt }) {
      const state = store.getState();
      const lane = laneAtStart;
      if (!lane) return;
      if (!canWrite(state.pattern)) {
        say("No track of this take counts as drums.");
        return;
      }
      const loudness = loudnessAt(point.y);
      const isFree = isShift || drawGridOf(state, lane, xToTick(state.viewport, point.x)) === "off";
      const steps = Math.max(1, Math.ceil(Math.abs(point.x - lastX) / STEP_PX));
      for (let step = 1; step <= steps; step++) {
        const x = lastX + ((point.x - lastX) * step) / steps;
        const place = xToTick(state.viewport, x);
        const tick = drawnTick(state, lane, place, isFree);
        const grid = drawGridOf(state, lane, place);
        const stepTicks =
          isFree || grid === "off"
            ? FREE_STEP_PX * state.viewport.ticksPerPx
            : gridStepTicks(grid, state.maps.meterMap.ppq);
        const near = stepTicks * TAKEN_SHARE;
        if (isFree && isNear(strokes.keys(), tick, FREE_STEP_PX * state.viewport.ticksPerPx)) continue;
        const inWay = lane.hits.filter((_, row) => Math.abs(lane.cleaned.ticks[row]! - tick) < near);
        if (inWay.length > 0 && !isAlt && !strokes.has(tick)) continue;
        for (const hit of inWay) replaced.set(hit.id, hit);
        if (!strokes.has(tick)) void playback.audition(voiceId, articulationId, loudness);
        strokes.set(tick, { voiceId, articulationId, tick, velocity: loudness });
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
