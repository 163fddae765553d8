import { median } from "../../timing/drift.ts";
import { LOUDEST_TALK, type VoiceTimes } from "./fault.ts";

/** Strokes on two drums at once are no farther apart. */
const AT_ONCE_MS = 30;
/** So many strokes tell enough of a take. */
const MOST_STROKES = 2000;
const FEWEST_PAIRS = 8;
/** No hands are together as closely as this: it was written. */
export const WRITTEN_MS = 0.5;

/**
 * How closely drums are struck together in a take: how far strokes at once are off one another, what two drums are apart as a rule taken
 * off. Half of them are nearer than this.
 * @returns ms; 0 for a take that was written, and one in which hardly any are struck at once
 */
export function togetherMs(voices: readonly VoiceTimes[]): number {
  const strokes = voices
    .flatMap(({ timesMs, velocities }, voice) =>
      Array.from(timesMs.subarray(0, MOST_STROKES), (ms, row) => ({ ms, voice, velocity: velocities[row]! })),
    )
    .filter(({ velocity }) => velocity > LOUDEST_TALK)
    .sort((one, other) => one.ms - other.ms);
  const apartOfPairs = new Map<string, number[]>();
  for (const [index, stroke] of strokes.entries()) {
    const next = strokes[index + 1];
    if (!next || next.voice === stroke.voice || next.ms - stroke.ms > AT_ONCE_MS) continue;
    const [first, second] = stroke.voice < next.voice ? [stroke, next] : [next, stroke];
    const pair = `${first.voice} ${second.voice}`;
    const apart = apartOfPairs.get(pair);
    if (apart) apart.push(second.ms - first.ms);
    else apartOfPairs.set(pair, [second.ms - first.ms]);
  }
  const off = [...apartOfPairs.values()].flatMap((apart) => {
    const usual = median(apart);
    return apart.length > 1 ? apart.map((ms) => Math.abs(ms - usual)) : [];
  });
  return off.length < FEWEST_PAIRS ? 0 : median(off);
}
