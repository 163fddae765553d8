/** One moment as two clocks tell it: the one that stamps events, and the one that sound runs by. */
export interface ClockPair {
  readonly eventMs: number;
  readonly audioMs: number;
}

/** Two good clocks run apart by less than this. */
const MOST_SKEW = 0.001;
/** Over less than this, readings say less of how fast two clocks run apart than is known of clocks: next to nothing. */
const SHORTEST_SPAN_MS = 10_000;
/** Slopes are taken between pairs that lie this share of all apart: enough for each to mean something, and for no pair to be in all of them. */
const SPAN_SHARE = 0.4;
/** Pairs that the line is fitted through: the slopes between all of them are looked at. */
export const MOST_PAIRS = 64;

/**
 * Turns the times of events into times of the audio clock: a line through pairs that were read often. A pair that was read late, as when
 * the page was busy between its two readings, does not bend it.
 * @param pairs in the order in which they were read; of more than `MOST_PAIRS` the latest count
 * @throws RangeError without a pair
 * @source Theil 1950 and Sen 1968: the median of the slopes between all points, and the median of what is left
 */
export function fitClock(pairs: readonly ClockPair[]): (eventMs: number) => number {
  const used = pairs.slice(-MOST_PAIRS);
  const [first] = used;
  if (!first) throw new RangeError("Clocks that were never read together say nothing of each other.");
  const slopes: number[] = [];
  const span = used.at(-1)!.eventMs - first.eventMs;
  const shortest = span < SHORTEST_SPAN_MS ? Number.POSITIVE_INFINITY : span * SPAN_SHARE;
  for (const [index, one] of used.entries()) {
    for (const other of used.slice(index + 1)) {
      const apart = other.eventMs - one.eventMs;
      if (apart >= shortest) slopes.push((other.audioMs - one.audioMs) / apart);
    }
  }
  const slope = slopes.length === 0 ? 1 : Math.min(1 + MOST_SKEW, Math.max(1 - MOST_SKEW, median(slopes)));
  // Counted from the first pair, since clocks that have run for days would lose the last digits.
  const offset = median(used.map(({ eventMs, audioMs }) => audioMs - slope * (eventMs - first.eventMs)));
  return (eventMs) => offset + slope * (eventMs - first.eventMs);
}

/** @throws RangeError of no values */
export function median(values: readonly number[]): number {
  if (values.length === 0) throw new RangeError("Of nothing there is no middle.");
  const sorted = values.toSorted((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
