import { columnsOf, type Hit, type LaneColumns } from "./part/pattern.ts";
import { msToTick, type TimeMaps, tickToMs } from "./time/index.ts";
import { noiseOf } from "./timing/humanize.ts";
import { quantize } from "./timing/quantize.ts";
import type { TimingTreatment, Treatment } from "./treatment.ts";

/** What a treatment makes of a lane. Row i of every column belongs to hit i. */
export interface CleanedHits {
  /** Whole ticks, 0 to just before the pattern's end. */
  readonly ticks: Float64Array;
  /** 1 to 127. */
  readonly velocities: Uint8Array;
  readonly slotTicks: Float64Array;
  /** Drift before treatment, late is positive. */
  readonly driftsMs: Float64Array;
  /** Bits of `FLAG`: why a hit is worth a look. */
  readonly flags: Uint8Array;
}

/**
 * One voice's treatment, in order: the one place to read the chain.
 * Hits keep their order, none leaves the pattern, and pinned hits stay where a hand put them.
 * @param hits of one voice, ascending by base tick
 * @param lengthTicks where the pattern ends
 */
export function treat(hits: readonly Hit[], treatment: Treatment, maps: TimeMaps, lengthTicks: number): CleanedHits {
  const lane = columnsOf(hits);
  const { timing } = treatment;
  const onTime = takeLatency(lane, timing, maps);
  const placed = quantize(onTime, timing, maps);
  const pushed = push(placed.ticks, onTime, timing, maps);
  const human = humanize(pushed, hits, onTime, timing, maps);
  return {
    ticks: keepOrder(lane, human, lengthTicks),
    velocities: new Uint8Array(lane.velocities),
    slotTicks: placed.slotTicks,
    driftsMs: placed.driftsMs,
    flags: placed.flags,
  };
}

/** Takes off what came in late as a whole. @source t1 = t − latency */
function takeLatency(lane: LaneColumns, { isOn, latencyMs }: TimingTreatment, maps: TimeMaps): LaneColumns {
  if (!isOn || latencyMs === 0) return lane;
  return { ...lane, ticks: shifted(lane.ticks, lane, maps, () => -latencyMs) };
}

/** Ahead of the beat or behind it, all hits or every nth. */
function push(ticks: Float64Array, lane: LaneColumns, timing: TimingTreatment, maps: TimeMaps): Float64Array {
  const { isOn, pushMs, pushEvery, pushFrom } = timing;
  if (!isOn || pushMs === 0) return ticks;
  return shifted(ticks, lane, maps, (row) => ((row - (pushFrom - 1)) % pushEvery === 0 ? pushMs : 0));
}

/** A little chance for each hit, the same for the same seed. */
function humanize(
  ticks: Float64Array,
  hits: readonly Hit[],
  lane: LaneColumns,
  { isOn, humanizeMs, humanizeShape, humanizeSeed }: TimingTreatment,
  maps: TimeMaps,
): Float64Array {
  if (!isOn || humanizeMs === 0) return ticks;
  return shifted(ticks, lane, maps, (row) => humanizeMs * noiseOf(hits[row]!.id, humanizeSeed, humanizeShape));
}

/** Moves hits that are not pinned by milliseconds. */
function shifted(
  ticks: Float64Array,
  { isPinned }: LaneColumns,
  { tempoMap }: TimeMaps,
  msOf: (row: number) => number,
) {
  return ticks.map((tick, row) => {
    const ms = isPinned[row] === 1 ? 0 : msOf(row);
    return ms === 0 ? tick : msToTick(tempoMap, tickToMs(tempoMap, tick) + ms);
  });
}

/**
 * Rounds to whole ticks and keeps the order in which the hits were played: no hit passes its neighbour or a pinned hit,
 * and hits that were apart stay at least one tick apart where there is room.
 */
function keepOrder(lane: LaneColumns, ticks: Float64Array, lengthTicks: number): Float64Array {
  const { ticks: baseTicks, isPinned } = lane;
  const ordered = new Float64Array(ticks.length);
  let earliest = 0;
  for (let row = 0; row < ticks.length; row++) {
    ordered[row] = isPinned[row] === 1 ? ticks[row]! : Math.max(earliest, Math.round(ticks[row]!));
    earliest = ordered[row]! + (row + 1 < ticks.length && baseTicks[row + 1]! > baseTicks[row]! ? 1 : 0);
  }
  let latest = lengthTicks - 1;
  for (let row = ticks.length - 1; row >= 0; row--) {
    if (isPinned[row] === 0) ordered[row] = Math.max(0, Math.min(latest, ordered[row]!));
    latest = Math.min(latest, ordered[row]! - (row > 0 && baseTicks[row - 1]! < baseTicks[row]! ? 1 : 0));
  }
  return ordered;
}
