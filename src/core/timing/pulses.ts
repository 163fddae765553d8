import { type Bar, barAt, type MeterMap } from "../time/index.ts";

/** A hit up to this far ahead of a beat, in quarters, is played for it. */
export const AHEAD_QUARTERS = 1 / 16;

/** Finds the pulse of the meter that a hit is played in. It answers with itself, until the next call. */
export class PulseFinder {
  startTick = 0;
  endTick = 0;
  readonly #meterMap: MeterMap;
  #bar: Bar;

  constructor(meterMap: MeterMap) {
    this.#meterMap = meterMap;
    this.#bar = barAt(meterMap, 0);
  }

  /** @param placeTick where a hit was played, its habit taken off; one that is a little ahead of a pulse belongs to it */
  find(placeTick: number): this {
    const tick = Math.max(0, placeTick + AHEAD_QUARTERS * this.#meterMap.ppq);
    // Hot: most hits are in the pulse of the one before.
    if (tick >= this.startTick && tick < this.endTick) return this;
    if (tick < this.#bar.startTick || tick >= this.#bar.endTick) this.#bar = barAt(this.#meterMap, tick);
    const { startTick, endTick, pulseTicks } = this.#bar;
    let pulse = pulseTicks.length - 1;
    while (pulse > 0 && startTick + pulseTicks[pulse]! > tick) pulse--;
    this.startTick = startTick + pulseTicks[pulse]!;
    this.endTick = Math.min(endTick, startTick + (pulseTicks[pulse + 1] ?? Number.POSITIVE_INFINITY));
    return this;
  }
}

/** The hits of one pulse: rows from `firstRow` to before `endRow`. */
export interface PulseHits {
  readonly startTick: number;
  readonly endTick: number;
  readonly firstRow: number;
  readonly endRow: number;
}

/**
 * Groups hits by the pulse that they are played in.
 * @param placeTick where each was played, its habit taken off, in the order of time
 * @returns the pulses that have hits
 */
export function hitsByPulse(
  count: number,
  placeTick: (row: number) => number,
  meterMap: MeterMap,
): readonly PulseHits[] {
  const found: { startTick: number; endTick: number; firstRow: number; endRow: number }[] = [];
  const finder = new PulseFinder(meterMap);
  for (let row = 0; row < count; row++) {
    const { startTick, endTick } = finder.find(placeTick(row));
    const last = found.at(-1);
    if (last?.startTick === startTick) last.endRow = row + 1;
    else found.push({ startTick, endTick, firstRow: row, endRow: row + 1 });
  }
  return found;
}
