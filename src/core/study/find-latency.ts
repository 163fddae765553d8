import type { FoundGrid } from "./find-grid.ts";

/** Less than this is nobody's latency, but a way of playing. */
const LEAST_MS = 9;
/** How much farther off than voices differ by chance a take must be for it to be the take that is late. */
const SURE_ERRORS = 3;
/** Limbs sit off the beat by habit about as far as this share of how much their single hits vary. */
const HABIT_SHARE = 0.8;
/** Of one or two voices nothing is known but that nobody sits so far off by habit. */
const FEWEST_VOICES = 3;
const NO_HABIT_MS = 30;
/** Voices that are on their slots to the tick, and off by the same to within this, were put there by no hand. */
const CONSTANT_MS = 1.5;
/** Where more of the hits than this are on no grid, the take does not follow the file, and is not late by anything. */
const MOST_ON_NONE = 0.5;

/** What a take as a whole is late by. */
export interface FoundLatency {
  /** Late is positive, in half ms. */
  readonly ms: number;
  /** Every hit by the same: it was programmed so, ahead or behind, or moved as a whole, and not played late. */
  readonly isConstant: boolean;
}

/** What was found for a voice, with how many hits it has. */
interface VoiceFound {
  readonly found: FoundGrid | null;
  readonly hitCount: number;
}

/** With so many hits a voice's chance is as large as its habit, which no number of hits averages away. */
const HITS_OF_HABIT = 4;
/** Voices that are known by few hits count for less; those with many all alike. @source weights of random effects */
const weightOf = (hitCount: number) => hitCount / (hitCount + HITS_OF_HABIT);

/**
 * How late the whole take came in, as a slow module or a wrong sound-card setting makes it: by what its voices are off on average,
 * if that is more than they differ among themselves. What a single voice is off by is its habit and no latency.
 * @returns null if it cannot be told from habits
 */
export function findLatency(voices: readonly VoiceFound[]): FoundLatency | null {
  const known = voices.flatMap(({ found, hitCount }) =>
    found && !found.isPoor && hitCount > 0
      ? [{ ms: found.meanDriftMs, spreadMs: found.spreadMs, isExact: found.isExact, weight: weightOf(hitCount) }]
      : [],
  );
  if (known.length === 0 || shareOnNone(voices) > MOST_ON_NONE) return null;
  const total = known.reduce((sum, { weight }) => sum + weight, 0);
  const mean = (of: (one: (typeof known)[number]) => number) =>
    known.reduce((sum, one) => sum + of(one) * one.weight, 0) / total;
  const meanMs = mean(({ ms }) => ms);
  const isConstant = known.every(({ ms, isExact }) => isExact && Math.abs(ms - meanMs) < CONSTANT_MS);
  const latency: FoundLatency = { ms: toHalf(meanMs), isConstant };
  // To the tick nobody plays, so that one voice is enough.
  if (isConstant) return Math.abs(meanMs) >= LEAST_MS ? latency : null;
  if (known.length < FEWEST_VOICES) return Math.abs(meanMs) >= NO_HABIT_MS ? latency : null;
  const variance = mean(({ ms }) => (ms - meanMs) ** 2);
  // That few voices agree is chance, as a rule: a loose hand has habits as well.
  const habitMs = HABIT_SHARE * mean(({ spreadMs }) => spreadMs);
  const errorMs = Math.max(Math.sqrt(variance / (known.length - 1)), habitMs / Math.sqrt(known.length));
  return Math.abs(meanMs) >= Math.max(LEAST_MS, SURE_ERRORS * errorMs) ? latency : null;
}

/** The share of all hits whose voice is on no grid. */
function shareOnNone(voices: readonly VoiceFound[]): number {
  let [onNone, all] = [0, 0];
  for (const { found, hitCount } of voices) {
    if (!found) continue;
    all += hitCount;
    if (found.isPoor) onNone += hitCount;
  }
  return onNone / all;
}

const toHalf = (ms: number) => Math.round(ms * 2) / 2;
