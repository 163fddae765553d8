import type { LaidVoice } from "./lay-pattern.ts";

/** How a voice is played in a pattern, place by place of its bars. Entry i of every column is one place. */
export interface FeelProfile {
  /** In quarters from the bar line. */
  readonly quarters: readonly number[];
  readonly hitCounts: readonly number[];
  /** How far off the slot on the mean, late is positive. */
  readonly recordedMs: readonly number[];
  readonly cleanedMs: readonly number[];
  /** How loud on the mean, in dB under the loudest that there is. */
  readonly recordedDb: readonly number[];
  readonly cleanedDb: readonly number[];
}

/** Places are told apart as finely as this: it holds every grid but septuplets. */
const PLACES_PER_QUARTER = 48;

/**
 * Sums are kept flat, five numbers for each place (its hits, and four columns), since a song has thousands of cells.
 * @param barTicks where the bars of the pattern begin, and its end
 */
export function profileOf(laid: LaidVoice, barTicks: Float64Array, ppq: number): FeelProfile {
  const firsts = new Map<number, number>();
  const sums: number[] = [];
  let bar = 0;
  for (let at = 0; at < laid.slotTicks.length; at++) {
    if (laid.isSilent[at] === 1 || laid.isFollower[at] === 1) continue;
    const slot = laid.slotTicks[at]!;
    while (bar > 0 && slot < barTicks[bar]!) bar--;
    while (bar + 2 < barTicks.length && slot >= barTicks[bar + 1]!) bar++;
    const place = Math.round(((slot - barTicks[bar]!) / ppq) * PLACES_PER_QUARTER);
    let first = firsts.get(place);
    if (first === undefined) {
      first = sums.length;
      firsts.set(place, first);
      sums.push(0, 0, 0, 0, 0);
    }
    sums[first]!++;
    sums[first + 1]! += laid.recordedMs[at]!;
    sums[first + 2]! += laid.cleanedMs[at]!;
    sums[first + 3]! += decibels(laid.recorded.velocities[at]!);
    sums[first + 4]! += decibels(laid.cleaned.velocities[at]!);
  }
  const places = [...firsts.keys()].sort((a, b) => a - b);
  const mean = (column: number) =>
    places.map((place) => {
      const first = firsts.get(place)!;
      return sums[first + column]! / sums[first]!;
    });
  return {
    quarters: places.map((place) => place / PLACES_PER_QUARTER),
    hitCounts: places.map((place) => sums[firsts.get(place)!]!),
    recordedMs: mean(1),
    cleanedMs: mean(2),
    recordedDb: mean(3),
    cleanedDb: mean(4),
  };
}

/** By velocity: there are only 127. */
const DECIBELS = Float64Array.from({ length: 128 }, (_, velocity) => 20 * Math.log10(Math.max(1, velocity) / 127));

function decibels(velocity: number): number {
  return DECIBELS[velocity]!;
}

/** How far apart the feels of a voice are from pattern to pattern: 0 if every pattern is played alike. */
export interface Sameness {
  readonly voiceId: string;
  /** Null if no place is played in two patterns. */
  readonly recorded: FeelDistance | null;
  readonly cleaned: FeelDistance | null;
}

export interface FeelDistance {
  readonly ms: number;
  readonly dB: number;
}

/**
 * The distance of two patterns that are picked by chance, at a place that both play, as a root mean square.
 * @source the mean square of the difference of two of n values is twice their variance
 */
export function samenessOf(voiceId: string, profiles: readonly FeelProfile[]): Sameness {
  // Of each place how many patterns play it, and the sums and sums of squares of four columns.
  const byPlace = new Map<number, Float64Array>();
  for (const { quarters, recordedMs, recordedDb, cleanedMs, cleanedDb } of profiles) {
    const columns = [recordedMs, recordedDb, cleanedMs, cleanedDb];
    for (let index = 0; index < quarters.length; index++) {
      const sums = byPlace.get(quarters[index]!) ?? new Float64Array(1 + 2 * columns.length);
      byPlace.set(quarters[index]!, sums);
      sums[0]!++;
      for (let column = 0; column < columns.length; column++) {
        const value = columns[column]![index]!;
        sums[1 + 2 * column]! += value;
        sums[2 + 2 * column]! += value * value;
      }
    }
  }
  const distance = (column: number) => {
    let squares = 0;
    let pairs = 0;
    for (const sums of byPlace.values()) {
      const count = sums[0]!;
      if (count < 2) continue;
      const [sum, sumOfSquares] = [sums[1 + 2 * column]!, sums[2 + 2 * column]!];
      const variance = Math.max(0, sumOfSquares - (sum * sum) / count) / (count - 1);
      const own = (count * (count - 1)) / 2;
      squares += own * 2 * variance;
      pairs += own;
    }
    return pairs === 0 ? null : Math.sqrt(squares / pairs);
  };
  const both = (ms: number | null, dB: number | null) => (ms === null || dB === null ? null : { ms, dB });
  return { voiceId, recorded: both(distance(0), distance(1)), cleaned: both(distance(2), distance(3)) };
}
