import type { Family } from "../src/core/document/index.ts";
import { importUnplanned } from "../src/core/file/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { clashesOf, NO_VARIATION, type Rhythm, rhythmOf, roomOf, twinKey, varied } from "../src/core/pattern/index.ts";
import { bytesOfPattern, type ShelfPattern, shelfPatterns } from "../src/standin/shelf-patterns.ts";

// Fuller and sparser, and twins, over the patterns of the shelf.

export interface VariationScore {
  /** Patterns that were made fuller, drum by drum. */
  readonly made: number;
  readonly added: number;
  /** Moments that ask for a third hand, or strike a drum twice, and did not before. */
  readonly clashes: number;
  /** Of those made fuller and then sparser by as much, how many are the original. */
  readonly backAgain: number;
  /** How far the middle loudness of what is added lies from that of the same drum at the same places elsewhere, in velocity. */
  readonly loudnessOff: number;
  /** The same for how far after its place it is struck, in ms. */
  readonly timingOffMs: number;
}

export interface TwinScore {
  readonly pairs: number;
  /** Of one pattern played twice. */
  readonly recognised: number;
  readonly others: number;
  /** Of two different parts taken for one. */
  readonly mistaken: number;
}

const FAMILIES: readonly Family[] = ["kick", "snare", "hats"];
const MOST_MORE = 4;
const PLACES = 12;

const rhythmsOf = (patterns: readonly ShelfPattern[]) =>
  patterns.map((pattern) => rhythmOf(importUnplanned(bytesOfPattern(pattern), GENERAL_MIDI).pattern));

const middle = (values: readonly number[]) => values.toSorted((a, b) => a - b)[values.length >> 1] ?? 0;
const offOf = (quarters: number) => quarters * PLACES - Math.round(quarters * PLACES);

export function scoreVariations(): VariationScore {
  const patterns = shelfPatterns();
  const rhythms = rhythmsOf(patterns);
  let [made, added, clashes, backAgain] = [0, 0, 0, 0];
  const loudness: number[] = [];
  const timing: number[] = [];
  for (const [index, { style, part }] of patterns.entries()) {
    const own = rhythms[index]!;
    const elsewhere = rhythms.filter((_, other) => other !== index && patterns[other]!.style === style);
    const before = clashesOf(own.strokes);
    for (const family of FAMILIES) {
      const { more } = roomOf(own, elsewhere, family);
      const wish = Math.min(MOST_MORE, more);
      if (wish === 0) continue;
      const fuller = varied(own, elsewhere, { ...NO_VARIATION, seed: index, strokes: { [family]: wish } });
      made++;
      clashes += Math.max(0, clashesOf(fuller) - before);
      const news = fuller.filter(({ isAdded }) => isAdded);
      added += news.length;
      const back = varied({ bars: own.bars, strokes: fuller }, [], { ...NO_VARIATION, strokes: { [family]: -wish } });
      if (isSame({ bars: own.bars, strokes: back }, own)) backAgain++;
      const there = elsewhere.flatMap(({ strokes }) => strokes.filter((stroke) => stroke.family === family));
      for (const stroke of news) {
        const like = there.filter(({ quarters }) => placeOf(quarters, own) === placeOf(stroke.quarters, own));
        if (like.length < 5) continue;
        loudness.push(stroke.velocity - middle(like.map(({ velocity }) => velocity)));
        const ms = 60_000 / part.bpm / PLACES;
        timing.push((offOf(stroke.quarters) - middle(like.map(({ quarters }) => offOf(quarters)))) * ms);
      }
    }
  }
  return { made, added, clashes, backAgain, loudnessOff: middle(loudness), timingOffMs: middle(timing) };
}

const placeOf = (quarters: number, { bars }: Rhythm) =>
  Math.round((quarters % (bars[0]?.lengthQuarters ?? 4)) * PLACES);

function isSame(one: Rhythm, other: Rhythm): boolean {
  const key = ({ strokes }: Rhythm) =>
    strokes.map(({ quarters, velocity, family }) => `${family} ${quarters} ${velocity}`).join();
  return key(one) === key(other);
}

export function scoreTwins(): TwinScore {
  const patterns = shelfPatterns();
  const keys = rhythmsOf(patterns).map(twinKey);
  const again = rhythmsOf(patterns.map((pattern) => ({ ...pattern, seed: pattern.seed + 7 }))).map(twinKey);
  // How hard something is struck is how it is played.
  const partOf = ({ part }: ShelfPattern) =>
    JSON.stringify([part.numerator, part.denominator, part.swing, part.bars]).replaceAll(/[gsa](?=[-gsa"])/g, "s");
  let mistaken = 0;
  let others = 0;
  for (let one = 0; one < patterns.length; one++) {
    for (let other = one + 1; other < patterns.length; other++) {
      if (partOf(patterns[one]!) === partOf(patterns[other]!)) continue;
      others++;
      if (keys[one] === keys[other]) mistaken++;
    }
  }
  return {
    pairs: patterns.length,
    recognised: keys.filter((key, index) => key === again[index]).length,
    others,
    mistaken,
  };
}
