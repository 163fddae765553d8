import { barAt, type MeterMap } from "../time/index.ts";

/** A hit up to this far ahead of a beat, in quarters, is played for it. */
const AHEAD_QUARTERS = 1 / 16;

/** The hits of one pulse of the meter. */
export interface PulseHits {
  readonly startTick: number;
  readonly endTick: number;
  readonly rows: readonly number[];
}

/**
 * Groups hits by the pulse that they are played in; one that is a little ahead of it belongs to it.
 * @param rows in the order of time
 * @param placeTick where each was played, its habit taken off
 * @returns the pulses that have hits
 */
export function hitsByPulse(
  rows: Iterable<number>,
  placeTick: (row: number) => number,
  meterMap: MeterMap,
): readonly PulseHits[] {
  const found: { startTick: number; endTick: number; rows: number[] }[] = [];
  let bar = barAt(meterMap, 0);
  for (const row of rows) {
    const tick = Math.max(0, placeTick(row) + AHEAD_QUARTERS * meterMap.ppq);
    if (tick < bar.startTick || tick >= bar.endTick) bar = barAt(meterMap, tick);
    const pulses = bar.pulseTicks;
    let pulse = pulses.length - 1;
    while (pulse > 0 && bar.startTick + pulses[pulse]! > tick) pulse--;
    const startTick = bar.startTick + pulses[pulse]!;
    const endTick = Math.min(bar.endTick, bar.startTick + (pulses[pulse + 1] ?? Number.POSITIVE_INFINITY));
    const last = found.at(-1);
    if (last?.startTick === startTick) last.rows.push(row);
    else found.push({ startTick, endTick, rows: [row] });
  }
  return found;
}
