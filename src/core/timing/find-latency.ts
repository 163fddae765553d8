import type { FoundGrid } from "./find-grid.ts";

/** Less than this is nobody's latency, but a way of playing. */
const LEAST_MS = 5;
/** Voices that lag by the same amount do so within this. */
const SAME_MS = 7;
/** Of the hits, so many must be in voices that agree. */
const AGREEING_SHARE = 0.7;
const FEWEST_VOICES = 3;

/**
 * How late the whole take came in, as a slow module or a wrong sound-card setting makes it: by what nearly all voices lag
 * alike. A single late voice is a habit and no latency.
 * @param voices what was found for each voice, with how many hits it has
 * @returns ms, late is positive; null if the voices do not agree on any
 */
export function findLatency(
  voices: readonly { readonly found: FoundGrid | null; readonly hitCount: number }[],
): number | null {
  const known = voices
    .flatMap(({ found, hitCount }) => (found && !found.isPoor ? [{ ms: found.meanDriftMs, hitCount }] : []))
    .sort((a, b) => a.ms - b.ms);
  if (known.length < FEWEST_VOICES) return null;
  const total = known.reduce((sum, { hitCount }) => sum + hitCount, 0);
  let before = 0;
  const middle = known.find(({ hitCount }) => {
    before += hitCount;
    return before * 2 >= total;
  })!;
  if (Math.abs(middle.ms) < LEAST_MS) return null;
  const agreeing = known.filter(({ ms }) => Math.abs(ms - middle.ms) <= SAME_MS);
  const share = agreeing.reduce((sum, { hitCount }) => sum + hitCount, 0) / total;
  if (share < AGREEING_SHARE || agreeing.length < FEWEST_VOICES) return null;
  return Math.round(middle.ms * 2) / 2;
}
