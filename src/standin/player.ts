import { baseTick, baseVelocity, type Hit, type Pattern, strikeOf } from "../core/document/index.ts";
import { findRoleBorders } from "../core/dynamics/index.ts";
import type { LiveStrike, TickLoop } from "../core/record/index.ts";
import { type TempoMap, tickToMs } from "../core/time/index.ts";
import type { Random } from "./random.ts";

// The stand-in player: a simulated device that plays a part, stroke by stroke, into the same input as pads do.

/** How far strokes lie from where they are meant: each by chance, and each limb by a habit. In ms; loudness in steps of velocity. */
export const TIGHTNESSES = {
  none: { strokeMs: 0, habitMs: 0, loudness: 0 },
  tight: { strokeMs: 4, habitMs: 2, loudness: 3 },
  normal: { strokeMs: 9, habitMs: 5, loudness: 6 },
  loose: { strokeMs: 17, habitMs: 9, loudness: 9 },
} as const;
export type Tightness = keyof typeof TIGHTNESSES;

/** A stroke of a part. */
export interface PartStroke {
  readonly ms: number;
  readonly strike: LiveStrike;
}

/**
 * The hits of a part as strokes, from one tick up to another, in ms after the first. What comes at most so much ahead of the end is
 * played with what begins there, as what is ahead of the start is with this.
 */
export function strokesOf(
  pattern: Pattern,
  hits: readonly Hit[],
  tempoMap: TempoMap,
  { startTick, endTick }: TickLoop,
  aheadMs: number,
): readonly PartStroke[] {
  const [startMs, endMs] = [tickToMs(tempoMap, startTick), tickToMs(tempoMap, endTick)];
  return hits.flatMap((hit) => {
    const ms = tickToMs(tempoMap, baseTick(hit));
    if (ms < startMs - aheadMs || ms >= endMs - aheadMs) return [];
    return [{ ms: ms - startMs, strike: { ...strikeOf(pattern, hit), velocity: baseVelocity(hit) } }];
  });
}

/**
 * Plays strokes as a hand does: the same numbers give the same playing.
 * @returns in the order in which they are struck; `none` plays them as they are
 */
export function playStrokes(
  strokes: readonly PartStroke[],
  tightness: Tightness,
  random: Random,
): readonly PartStroke[] {
  const { strokeMs, habitMs, loudness } = TIGHTNESSES[tightness];
  if (strokeMs === 0) return strokes.toSorted((a, b) => a.ms - b.ms);
  const habits = new Map<number, number>();
  return strokes
    .map(({ ms, strike }) => {
      const habit = habits.get(strike.note) ?? random.bell(habitMs);
      habits.set(strike.note, habit);
      const velocity = Math.round(strike.velocity + random.bell(loudness));
      return {
        ms: ms + habit + random.bell(strokeMs),
        strike: { ...strike, velocity: Math.max(1, Math.min(127, velocity)) },
      };
    })
    .sort((a, b) => a.ms - b.ms);
}

/** The words that passes can be made of, beside the names of drums. */
const PASS_WORDS = ["ghosts", "cymbals", "hats", "toms", "percussion", "rest", "all"] as const;

/**
 * What each pass plays, in words: `kick,snare;hat;ghosts`. Ghosts that a pass of their own plays are in no other one.
 * @throws RangeError with the word that names nothing in the part
 */
export function readPasses(text: string, pattern: Pattern): readonly (readonly Hit[])[] {
  const passes = text.split(";").map((pass) =>
    pass
      .split(",")
      .map((word) => word.trim().toLowerCase())
      .filter((word) => word !== ""),
  );
  const left = new Set(pattern.hits);
  const played = passes.map((): Hit[] => []);
  // What is told by its loudness is more exact than the name of a drum, and `rest` is what nothing else names.
  const rank = (word: string) => (word === "ghosts" ? 0 : word === "rest" || word === "all" ? 2 : 1);
  for (const wanted of [0, 1, 2]) {
    for (const [index, words] of passes.entries()) {
      for (const word of words.filter((one) => rank(one) === wanted)) {
        const test = wordTest(word, pattern);
        for (const hit of left) {
          if (!test(hit)) continue;
          played[index]!.push(hit);
          left.delete(hit);
        }
      }
    }
  }
  return played.map((hits) => hits.sort((a, b) => baseTick(a) - baseTick(b)));
}

function wordTest(word: string, { noteMap, hits }: Pattern): (hit: Hit) => boolean {
  if (word === "rest" || word === "all") return () => true;
  if (word === "ghosts") {
    // Soft strokes of other drums are the weak half of what they play.
    const snares = new Set(noteMap.voices.flatMap(({ id, family }) => (family === "snare" ? [id] : [])));
    const own = hits.filter(({ voiceId }) => snares.has(voiceId));
    const { ghostTop } = findRoleBorders(Float64Array.from(own, baseVelocity));
    return (hit) => snares.has(hit.voiceId) && baseVelocity(hit) <= ghostTop;
  }
  const named = noteMap.voices.filter(
    ({ id, name, family }) => id === word || name.toLowerCase() === word || family === word,
  );
  if (named.length === 0) throw new RangeError(`“${word}” names no drum. Name drums, or ${PASS_WORDS.join(", ")}.`);
  const voiceIds = new Set(named.map(({ id }) => id));
  return (hit) => voiceIds.has(hit.voiceId);
}
