import { say } from "../../../../components/messages/say.ts";
import { canWrite, type Stroke, writeStrokes } from "../../../../core/commands/index.ts";
import type { Edit, Hit } from "../../../../core/document/index.ts";
import { gridStepTicks, nearestSlots, slotStepsAway } from "../../../../core/time/index.ts";
import type { BenchState } from "../../../../store/bench/bench-state.ts";
import type { LaneView } from "../../../../store/bench/lane-view.ts";
import { rowsBetween } from "../../../../store/bench/rows-between.ts";
import { hitCount } from "../../commands/actions.ts";
import { drawGridOf, drawnMarks } from "../../commands/write-actions.ts";
import { type DrawPlace, drawPlaceAt, loudnessDrawn, ticksPassed } from "../draw-place.ts";
import type { Point } from "../under-pointer.ts";
import type { Gesture, GestureStage } from "./gesture.ts";

/** The slot of the cell that a place lies in: a cell reaches from its slot to the next. */
export function cellAt(state: BenchState, lane: LaneView, tick: number): number {
  const grid = drawGridOf(state, lane, tick);
  const { slotTick } = nearestSlots(grid, state.maps.meterMap, tick);
  return slotTick > tick ? slotStepsAway(grid, state.maps.meterMap, tick, -1) : slotTick;
}

/** The hits that belong to a cell: those that are nearest to its slot, also when they are early. */
export function hitsOfCell(state: BenchState, lane: LaneView, slotTick: number): readonly Hit[] {
  const { meterMap } = state.maps;
  const { ticks } = lane.cleaned;
  // No hit is farther from its slot than a step; a lane can have thousands that are.
  const stepTicks = gridStepTicks(drawGridOf(state, lane, slotTick), meterMap.ppq);
  const { first, end } = rowsBetween(ticks, slotTick - stepTicks, slotTick + stepTicks);
  return lane.hits.slice(first, end).filter((_, index) => {
    const tick = ticks[first + index]!;
    return nearestSlots(drawGridOf(state, lane, tick), meterMap, tick).slotTick === slotTick;
  });
}

/** Sets the cells that the pointer passes, or clears them: whichever the first of them was not. */
export function startCells({ bench, showNote }: GestureStage, start: Point, voiceId: string): Gesture {
  const { store, playback } = bench;
  const place: DrawPlace | null = drawPlaceAt(store.getState(), start, voiceId);
  const strokes = new Map<number, Stroke>();
  const removed = new Map<string, Hit>();
  const passed = new Set<number>();
  let isSetting: boolean | null = null;
  let lastX = start.x;

  const editOf = (newId: () => string): Edit | null => {
    if (strokes.size > 0) return writeStrokes(store.getState().pattern, [...strokes.values()], newId);
    return removed.size > 0 ? { kind: "removeHits", hits: [...removed.values()] } : null;
  };

  return {
    move(point) {
      if (!place) return;
      const state = store.getState();
      const { lane, articulationId } = place;
      if (!canWrite(state.pattern)) {
        say("No track of this take counts as drums.");
        return;
      }
      for (const at of ticksPassed(state, lastX, point.x)) {
        const slotTick = cellAt(state, lane, Math.max(0, at));
        if (passed.has(slotTick)) continue;
        passed.add(slotTick);
        const there = hitsOfCell(state, lane, slotTick);
        isSetting ??= there.length === 0;
        if (!isSetting) for (const hit of there) removed.set(hit.id, hit);
        else if (there.length === 0) {
          const velocity = loudnessDrawn(place, start, point);
          strokes.set(slotTick, { voiceId, articulationId, tick: slotTick, velocity, marks: drawnMarks(state) });
          void playback.audition(voiceId, articulationId, velocity);
        }
      }
      lastX = point.x;
      let turn = 0;
      const edit = editOf(() => `drawn ${turn++}`);
      if (edit) store.preview(edit);
      showNote({ ...point, text: isSetting ? `${strokes.size} set` : `${hitCount(removed.size)} cleared` });
    },
    end() {
      store.endPreview();
      const edit = editOf(store.newId);
      if (!edit) return;
      const count = isSetting ? strokes.size : removed.size;
      store.commit(`${isSetting ? "Draw" : "Remove"} ${hitCount(count)}`, edit);
    },
  };
}
