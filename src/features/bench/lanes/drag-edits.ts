import {
  changeVelocityBy,
  farthestMove,
  loudnessOf,
  type PlacedHit,
  revoiceHits,
} from "../../../core/commands/index.ts";
import { type Edit, type NoteMeaning, strokeName } from "../../../core/document/index.ts";
import { meanVelocity, scaleAround, scaleVelocities } from "../../../core/dynamics/index.ts";
import { formatBarBeat, handGridAt, msToTick, nearestSlots, tickToMs } from "../../../core/time/index.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import type { HeldKeys } from "./gestures/gesture.ts";
import { boxesOf, RAIL_MS } from "./lane-layout.ts";

// What a drag would do, as an edit, and in the words that are shown at the pointer.

/** The hit under the pointer and all that go with it, as they were when the drag began. */
export interface Dragged {
  readonly grabbed: PlacedHit;
  readonly placed: readonly PlacedHit[];
}

export interface DragWords {
  readonly edit: Edit;
  readonly text: string;
}

/** How far hits would be moved, and the words for it. */
export interface DragMove {
  readonly deltaTicks: number;
  readonly text: string;
}

/** A drag along the lane. Everything is measured from where the hits were when the drag began. */
export function moveAlong(
  state: BenchState,
  { grabbed, placed }: Dragged,
  acrossPx: number,
  isSnapped: boolean,
): DragMove {
  const { meterMap, tempoMap } = state.maps;
  const lane = state.lanes.find(({ voiceId }) => voiceId === grabbed.hit.voiceId) as LaneView;
  const slotNear = (tick: number) => nearestSlots(handGridAt(lane.treatment.timing, tick), meterMap, tick).slotTick;
  const freeTick = grabbed.tick + acrossPx * state.viewport.ticksPerPx;
  const targetTick = isSnapped ? slotNear(freeTick) : freeTick;
  const deltaTicks = farthestMove(state.pattern, placed, targetTick - grabbed.tick);
  const landing = grabbed.tick + deltaTicks;
  const driftMs = Math.round(tickToMs(tempoMap, landing) - tickToMs(tempoMap, slotNear(landing)));
  return { deltaTicks, text: `${formatBarBeat(meterMap, landing)}, ${driftWords(driftMs)}` };
}

/** Up is louder: by the same for all; with Shift in proportion, so that the shape stays; with Alt around the middle. */
export function loudnessEdit(
  state: BenchState,
  { grabbed, placed }: Dragged,
  upPx: number,
  { isShift, isAlt }: HeldKeys,
): DragWords {
  const box = boxesOf(state).find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const delta = Math.round((upPx / (box?.finHeight ?? 40)) * 127);
  const hits = placed.map(({ hit }) => hit);
  const velocityOf = loudnessOf(placed);
  const before = velocityOf(grabbed.hit);
  const edit = isShift
    ? scaleVelocities(hits, (before + delta) / before, velocityOf)
    : isAlt
      ? scaleAround(hits, meanVelocity(hits, velocityOf), pivotFactor(delta), velocityOf)
      : changeVelocityBy(hits, delta, velocityOf);
  const velocity =
    edit.kind === "setVelocity" ? edit.changes.find(({ hitId }) => hitId === grabbed.hit.id)?.toVelocity : null;
  const how = isShift
    ? `, all × ${Math.max(0, (before + delta) / before).toFixed(2)}`
    : isAlt
      ? `, spread × ${pivotFactor(delta).toFixed(2)} around ${Math.round(meanVelocity(hits, velocityOf))}`
      : "";
  return { edit, text: `velocity ${velocity ?? ""}${how}` };
}

/** A hit at the middle cannot say how far it is dragged from it, so the way of the pointer does: 64 up doubles the spread. */
function pivotFactor(delta: number): number {
  return Math.max(0, 1 + delta / 64);
}

/** A drag of a dot of the drift rail. Up is later, as the rail is drawn. */
export function moveDrift(state: BenchState, { grabbed, placed }: Dragged, upPx: number): DragMove {
  const { meterMap, tempoMap } = state.maps;
  const box = boxesOf(state).find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const ms = (upPx / (box?.open?.railReach ?? RAIL_MS)) * RAIL_MS;
  const tick = msToTick(tempoMap, tickToMs(tempoMap, grabbed.tick) + ms);
  const lane = state.lanes.find(({ voiceId }) => voiceId === grabbed.hit.voiceId) as LaneView;
  const { slotTick } = nearestSlots(handGridAt(lane.treatment.timing, tick), meterMap, tick);
  const driftMs = Math.round((tickToMs(tempoMap, tick) - tickToMs(tempoMap, slotTick)) * 10) / 10;
  return { deltaTicks: farthestMove(state.pattern, placed, tick - grabbed.tick), text: driftWords(driftMs) };
}

export function revoicingEdit(state: BenchState, { placed }: Dragged, meaning: NoteMeaning): DragWords {
  const hits = placed.map(({ hit }) => hit);
  const name = strokeName(state.pattern.noteMap, meaning);
  return { edit: revoiceHits(state.pattern, hits, meaning), text: `to ${name}` };
}

export function driftWords(ms: number): string {
  return ms === 0 ? "on the slot" : `${Math.round(Math.abs(ms) * 10) / 10} ms ${ms > 0 ? "late" : "early"}`;
}
