import type { Family } from "../src/core/document/index.ts";
import { importUnplanned } from "../src/core/file/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import {
  findPatterns,
  type IndexedRhythm,
  indexRhythm,
  type Knock,
  knockOf,
  type Rhythm,
  type RhythmStroke,
  rhythmOf,
} from "../src/core/pattern/index.ts";
import { createRandom, type Random } from "../src/standin/random.ts";
import { bytesOfPattern, shelfPatterns } from "../src/standin/shelf-patterns.ts";

// Knocks made of the patterns of the shelf, as loosely as people knock, and where the pattern that was meant comes.

const SPREAD_MS = 20;
const MISSING = 0.1;
const EXTRA_A_BAR = 1;
const SEED = 4201;

export interface KnockScore {
  readonly title: string;
  readonly count: number;
  readonly firstShare: number;
  readonly firstFiveShare: number;
}

interface Meant {
  readonly index: IndexedRhythm;
  readonly bpm: number;
}

export function patternsOfShelf(): readonly Meant[] {
  return shelfPatterns().map((pattern) => {
    const { pattern: take } = importUnplanned(bytesOfPattern(pattern), GENERAL_MIDI);
    return { index: indexRhythm(pattern.id, rhythmOf(take)), bpm: pattern.part.bpm };
  });
}

/** What is played on kick and snare, on sixteenths and triplets: two patterns that say the same are twins to a knock. */
function twinKey({ rhythm: { strokes, bars } }: IndexedRhythm): string {
  const places = strokes
    .filter(({ family }) => isKnocked(family))
    .map(({ family, quarters }) => `${family} ${Math.round(quarters * 12)}`);
  return `${bars.map(({ lengthQuarters }) => lengthQuarters).join()} ${[...new Set(places)].toSorted().join()}`;
}

const isKnocked = (family: Family) => family === "kick" || family === "snare";

/** @param factor how fast it is knocked: 2 for half time @param isFree whether no click says where bars and beats are */
export function knockOn({ index, bpm }: Meant, random: Random, factor: number, isFree = false): Knock {
  const { rhythm } = index;
  const spread = (SPREAD_MS * bpm) / 60_000;
  const struck = rhythm.strokes.filter(({ family }) => isKnocked(family));
  const kept = struck.filter(() => !random.chance(MISSING));
  const extra = rhythm.bars.flatMap((bar): RhythmStroke[] =>
    Array.from({ length: EXTRA_A_BAR }, () => ({
      ...struck[0]!,
      family: random.chance(0.5) ? "kick" : "snare",
      quarters: bar.startQuarters + Math.floor(random.uniform() * bar.lengthQuarters * 4) / 4,
    })),
  );
  const strokes = [...kept, ...extra]
    .map((stroke) => ({ ...stroke, quarters: Math.max(0, stroke.quarters * factor + random.bell(spread)) }))
    .sort((a, b) => a.quarters - b.quarters);
  const bars: Rhythm["bars"] = rhythm.bars.map((bar) => ({
    ...bar,
    startQuarters: bar.startQuarters * factor,
    lengthQuarters: bar.lengthQuarters * factor,
  }));
  return knockOf({ bars, strokes }, bpm, !isFree);
}

export function scoreKnocks(): readonly KnockScore[] {
  const meant = patternsOfShelf();
  const indexed = meant.map(({ index }) => index);
  const keys = new Map(meant.map(({ index }) => [index.id, twinKey(index)]));
  const rate = (title: string, factor: number, isFree = false): KnockScore => {
    const random = createRandom(SEED);
    // What plays neither kick nor snare twice cannot be knocked.
    const asked = meant.filter(
      ({ index }) => index.rhythm.strokes.filter(({ family }) => isKnocked(family)).length >= 3,
    );
    let [first, five] = [0, 0];
    for (const one of asked) {
      const found = findPatterns(indexed, knockOn(one, random, factor, isFree), 5);
      const at = found.findIndex(({ id }) => keys.get(id) === keys.get(one.index.id));
      if (at === 0) first++;
      if (at >= 0) five++;
    }
    return { title, count: asked.length, firstShare: first / asked.length, firstFiveShare: five / asked.length };
  };
  return [rate("to a click", 1), rate("half time", 2), rate("double time", 0.5), rate("free of tempo", 0.83, true)];
}
