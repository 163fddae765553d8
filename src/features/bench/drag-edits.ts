import { type NoteMeaning, strokeName } from "../../core/notemap/index.ts";
import { changeVelocityBy, moveHitsBy, type PlacedHit, revoiceHits } from "../../core/part/index.ts";
import { formatBarBeat, msToTick, nearestSlots, tickToMs } from "../../core/time/index.ts";
import { type BenchState, visibleLanes } from "../../store/bench-store.ts";
import type { LaneView } from "../../store/lane-view.ts";
import { layoutLanes, RAIL_MS } from "./lane-layout.ts";

// What a drag would do, as an edit, and in the words that are shown at the pointer.

/** The hit under the pointer and all that go with it, as they were when the drag began. */
export interface Dragged {
  readonly grabbed: PlacedHit;
  readonly placed: readonly PlacedHit[];
}

/** Everything is measured from where the hits were when the drag began. */
export function movingEdit(state: BenchState, { grabbed, placed }: Dragged, acrossPx: number, isSnapped: boolean) {
  const { meterMap, tempoMap } = state.maps;
  const lane = state.lanes.find(({ voiceId }) => voiceId === grabbed.hit.voiceId) as LaneView;
  const { grid } = lane.treatment.timing;
  const freeTick = grabbed.tick + acrossPx * state.viewport.ticksPerPx;
  const targetTick = isSnapped ? nearestSlots(grid, meterMap, freeTick).slotTick : freeTick;
  const edit = moveHitsBy(state.pattern, placed, targetTick - grabbed.tick);
  const landing =
    edit.kind === "moveHits" ? (edit.moves.find(({ hitId }) => hitId === grabbed.hit.id)?.toTick ?? 0) : 0;
  const { slotTick } = nearestSlots(grid, meterMap, landing);
  const driftMs = Math.round(tickToMs(tempoMap, landing) - tickToMs(tempoMap, slotTick));
  return { edit, text: `${formatBarBeat(meterMap, landing)}, ${driftWords(driftMs)}` };
}

export function loudnessEdit(state: BenchState, { grabbed, placed }: Dragged, upPx: number) {
  const box = layoutLanes(visibleLanes(state), state.openVoiceId).find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const delta = Math.round((upPx / (box?.finHeight ?? 40)) * 127);
  const edit = changeVelocityBy(
    placed.map(({ hit }) => hit),
    delta,
  );
  const velocity =
    edit.kind === "setVelocity" ? edit.changes.find(({ hitId }) => hitId === grabbed.hit.id)?.toVelocity : null;
  return { edit, text: `velocity ${velocity ?? ""}` };
}

/** Up is later, as the rail is drawn. */
export function driftEdit(state: BenchState, { grabbed, placed }: Dragged, upPx: number) {
  const { meterMap, tempoMap } = state.maps;
  const box = layoutLanes(visibleLanes(state), state.openVoiceId).find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const ms = (upPx / (box?.open?.railReach ?? RAIL_MS)) * RAIL_MS;
  const tick = msToTick(tempoMap, tickToMs(tempoMap, grabbed.tick) + ms);
  const edit = moveHitsBy(state.pattern, placed, tick - grabbed.tick);
  const lane = state.lanes.find(({ voiceId }) => voiceId === grabbed.hit.voiceId) as LaneView;
  const { slotTick } = nearestSlots(lane.treatment.timing.grid, meterMap, tick);
  return { edit, text: driftWords(Math.round((tickToMs(tempoMap, tick) - tickToMs(tempoMap, slotTick)) * 10) / 10) };
}

export function revoicingEdit(state: BenchState, { placed }: Dragged, meaning: NoteMeaning) {
  const hits = placed.map(({ hit }) => hit);
  const name = strokeName(state.pattern.noteMap, meaning);
  return { edit: revoiceHits(state.pattern, hits, meaning), text: `to ${name}` };
}

export function driftWords(ms: number): string {
  return ms === 0 ? "on the slot" : `${Math.round(Math.abs(ms) * 10) / 10} ms ${ms > 0 ? "late" : "early"}`;
}
