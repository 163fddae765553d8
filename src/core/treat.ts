import { columnsOf, type Hit, type LaneColumns } from "./part/pattern.ts";
import type { TimeMaps } from "./time/index.ts";
import { quantize } from "./timing/quantize.ts";
import type { Treatment } from "./treatment.ts";

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
  const placed = quantize(lane, treatment.timing, maps);
  return {
    ticks: keepOrder(lane, placed.ticks, lengthTicks),
    velocities: new Uint8Array(lane.velocities),
    slotTicks: placed.slotTicks,
    driftsMs: placed.driftsMs,
    flags: placed.flags,
  };
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
