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

interface Sums {
  count: number;
  recordedMs: number;
  cleanedMs: number;
  recordedDb: number;
  cleanedDb: number;
}

/** @param barTicks where the bars of the pattern begin, and its end */
export function profileOf(laid: LaidVoice, barTicks: Float64Array, ppq: number): FeelProfile {
  const byPlace = new Map<number, Sums>();
  let bar = 0;
  for (let at = 0; at < laid.slotTicks.length; at++) {
    if (laid.isSilent[at] === 1 || laid.isFollower[at] === 1) continue;
    const slot = laid.slotTicks[at]!;
    while (bar > 0 && slot < barTicks[bar]!) bar--;
    while (bar + 2 < barTicks.length && slot >= barTicks[bar + 1]!) bar++;
    const place = Math.round(((slot - barTicks[bar]!) / ppq) * PLACES_PER_QUARTER);
    const sums = byPlace.get(place) ?? { count: 0, recordedMs: 0, cleanedMs: 0, recordedDb: 0, cleanedDb: 0 };
    sums.count++;
    sums.recordedMs += laid.recordedMs[at]!;
    sums.cleanedMs += laid.cleanedMs[at]!;
    sums.recordedDb += decibels(laid.recorded.velocities[at]!);
    sums.cleanedDb += decibels(laid.cleaned.velocities[at]!);
    byPlace.set(place, sums);
  }
  const places = [...byPlace].sort(([a], [b]) => a - b);
  const mean = (field: Exclude<keyof Sums, "count">) => places.map(([, sums]) => sums[field] / sums.count);
  return {
    quarters: places.map(([place]) => place / PLACES_PER_QUARTER),
    hitCounts: places.map(([, { count }]) => count),
    recordedMs: mean("recordedMs"),
    cleanedMs: mean("cleanedMs"),
    recordedDb: mean("recordedDb"),
    cleanedDb: mean("cleanedDb"),
  };
}

function decibels(velocity: number): number {
  return 20 * Math.log10(Math.max(1, velocity) / 127);
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
  const byPlace = new Map<number, number[][]>();
  for (const profile of profiles) {
    for (const [index, quarter] of profile.quarters.entries()) {
      const values = [profile.recordedMs, profile.recordedDb, profile.cleanedMs, profile.cleanedDb];
      const known = byPlace.get(quarter) ?? [];
      known.push(values.map((column) => column[index]!));
      byPlace.set(quarter, known);
    }
  }
  const distance = (column: number) => {
    let squares = 0;
    let pairs = 0;
    for (const rows of byPlace.values()) {
      if (rows.length < 2) continue;
      const mean = rows.reduce((sum, row) => sum + row[column]!, 0) / rows.length;
      const variance = rows.reduce((sum, row) => sum + (row[column]! - mean) ** 2, 0) / (rows.length - 1);
      const own = (rows.length * (rows.length - 1)) / 2;
      squares += own * 2 * variance;
      pairs += own;
    }
    return pairs === 0 ? null : Math.sqrt(squares / pairs);
  };
  const both = (ms: number | null, dB: number | null) => (ms === null || dB === null ? null : { ms, dB });
  return { voiceId, recorded: both(distance(0), distance(1)), cleaned: both(distance(2), distance(3)) };
}
