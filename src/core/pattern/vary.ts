import type { Family } from "../document/index.ts";
import { barOf } from "./pattern-index.ts";
import { type Rhythm, type RhythmBar, type RhythmStroke, weightOf } from "./rhythm.ts";

/** How a pattern is to differ from how it was played. Nothing of it is lost: all at 0 is the pattern itself. */
export interface Variation {
  /** By family: so many strokes more, or fewer where it is negative. */
  readonly strokes: Readonly<Partial<Record<Family, number>>>;
  /** By family, in steps of velocity: harder, or softer where it is negative. */
  readonly velocity: Readonly<Partial<Record<Family, number>>>;
  /** Another number makes other strokes of those that are as likely. */
  readonly seed: number;
  /** Added strokes that stay whatever the seed, by where they are (`addedAt`), each with the seed that it was made of. */
  readonly kept: Readonly<Record<string, number>>;
  /** Where nothing is to be added. */
  readonly thrown: readonly string[];
}

export const NO_VARIATION: Variation = { strokes: {}, velocity: {}, seed: 1, kept: {}, thrown: [] };

/** A stroke of a pattern as it is varied. */
export interface VariedStroke extends RhythmStroke {
  /** Whether it is not in the pattern itself. */
  readonly isAdded: boolean;
  /** Where it was added: by this it is kept, or thrown out. */
  readonly addedAt?: string;
}

/** Two strokes of one hand lie at least so far apart; what is nearer is one moment. */
const MOMENT_QUARTERS = 0.06;
/** Places are told apart so finely: it holds sixteenths and triplets. */
const PLACES_PER_QUARTER = 12;
const HANDS = 2;

/**
 * A pattern fuller or sparser, harder or softer, drum by drum. Sparser leaves out what counts least; fuller adds only what is played
 * elsewhere, as it is played there, and never asks for a third hand, or for hats that are open and shut at once.
 * @param pattern one that was varied before keeps its marks: what was added to it counts least
 * @param elsewhere other bars of the same player, or of the same style
 */
export function varied(pattern: Rhythm, elsewhere: readonly Rhythm[], variation: Variation): readonly VariedStroke[] {
  const { strokes: wanted, velocity } = variation;
  let strokes: readonly VariedStroke[] = pattern.strokes.map((stroke) => ({ isAdded: false, ...stroke }));
  for (const [name, count = 0] of Object.entries(wanted)) {
    const family = name as Family;
    if (count < 0) strokes = without(strokes, pattern, family, -count);
    else if (count > 0)
      strokes = withMore(strokes, pattern.bars, donorsOf(pattern, elsewhere, family), count, variation);
  }
  return strokes
    .map((stroke) => {
      const louder = velocity[stroke.family] ?? 0;
      return louder === 0 ? stroke : { ...stroke, velocity: Math.max(1, Math.min(127, stroke.velocity + louder)) };
    })
    .sort((a, b) => a.quarters - b.quarters);
}

/** A variation in which an added stroke stays as it is, whatever else is added or taken away; or, kept already, no longer. */
export function toggleKept(variation: Variation, addedAt: string): Variation {
  const { [addedAt]: keptBy, ...others } = variation.kept;
  return { ...variation, kept: keptBy === undefined ? { ...others, [addedAt]: variation.seed } : others };
}

/** A variation without an added stroke: nothing is added there again, and nothing in its stead. */
export function throwOut(variation: Variation, { family, addedAt }: VariedStroke): Variation {
  if (addedAt === undefined) return variation;
  const { [addedAt]: _, ...kept } = variation.kept;
  const strokes = { ...variation.strokes, [family]: Math.max(0, (variation.strokes[family] ?? 0) - 1) };
  return { ...variation, strokes, kept, thrown: [...variation.thrown, addedAt] };
}

/** How many strokes could be added to a family, and how many it has. */
export function roomOf(
  pattern: Rhythm,
  elsewhere: readonly Rhythm[],
  family: Family,
): { readonly fewer: number; readonly more: number } {
  const own = pattern.strokes.filter((stroke) => stroke.family === family).length;
  const all = varied(pattern, elsewhere, { ...NO_VARIATION, strokes: { [family]: 999 } });
  return { fewer: own, more: all.length - pattern.strokes.length };
}

/** What counts least goes first: added strokes, the last added of them first, then ghosts, then weak places. */
function without(
  strokes: readonly VariedStroke[],
  pattern: Rhythm,
  family: Family,
  count: number,
): readonly VariedStroke[] {
  const counts = new Map(
    strokes
      .filter((stroke) => stroke.family === family)
      .map((stroke) => [stroke, stroke.isAdded ? -1 : countsFor(stroke, pattern)] as const),
  );
  const lightest = [...counts].sort(([, a], [, b]) => a - b).slice(0, count);
  const gone = new Set(lightest.map(([stroke]) => stroke));
  return strokes.filter((stroke) => !gone.has(stroke));
}

/**
 * How much a stroke counts in its pattern: by how loud it is struck, where in the bar it is, and in how many bars it comes again.
 * @returns 0 to 3
 */
export function countsFor(stroke: RhythmStroke, { bars, strokes }: Rhythm): number {
  const bar = bars[barOf(bars, stroke.quarters)]!;
  const place = placeOf(stroke, bars);
  const bySame = strokes.filter((one) => one.family === stroke.family && placeOf(one, bars) === place).length;
  return weightOf(stroke.velocity) + strengthOf(bar, place) + Math.min(1, bySame / Math.max(1, bars.length));
}

/** 1 on the bar line, less on the other beats, little between them. */
function strengthOf({ beats }: RhythmBar, place: number): number {
  if (place === 0) return 1;
  if (beats.some((beat) => Math.round(beat * PLACES_PER_QUARTER) === place)) return 0.75;
  const half = PLACES_PER_QUARTER / 2;
  return place % half === 0 ? 0.4 : 0.1;
}

/** The place that a stroke was meant for, counted from its bar line. */
function placeOf({ quarters }: RhythmStroke, bars: readonly RhythmBar[]): number {
  const bar = bars[barOf(bars, quarters)]!;
  return Math.max(0, Math.round((quarters - bar.startQuarters) * PLACES_PER_QUARTER));
}

/** What is played elsewhere at one place of a bar. */
interface Donor {
  readonly place: number;
  readonly played: readonly { readonly stroke: RhythmStroke; readonly offQuarters: number }[];
}

/** What a family plays in other bars of the pattern, and elsewhere, by place; most often first. */
function donorsOf(pattern: Rhythm, elsewhere: readonly Rhythm[], family: Family): readonly Donor[] {
  const byPlace = new Map<number, Donor["played"][number][]>();
  const [first] = pattern.bars;
  for (const { bars, strokes } of [pattern, ...elsewhere]) {
    for (const stroke of strokes) {
      if (stroke.family !== family) continue;
      const bar = bars[barOf(bars, stroke.quarters)];
      if (!bar || bar.lengthQuarters !== first?.lengthQuarters) continue;
      const place = placeOf(stroke, bars);
      const offQuarters = stroke.quarters - bar.startQuarters - place / PLACES_PER_QUARTER;
      const played = byPlace.get(place);
      if (played) played.push({ stroke, offQuarters });
      else byPlace.set(place, [{ stroke, offQuarters }]);
    }
  }
  return [...byPlace]
    .map(([place, played]) => ({ place, played }))
    .sort((a, b) => b.played.length - a.played.length || a.place - b.place);
}

/** Adds strokes where others are played elsewhere: those that are kept first, as they were made; then what is played most often. */
function withMore(
  strokes: readonly VariedStroke[],
  bars: readonly RhythmBar[],
  donors: readonly Donor[],
  count: number,
  { seed, kept, thrown }: Variation,
): readonly VariedStroke[] {
  const all = [...strokes];
  let left = count;
  const addWhere = (isWanted: (addedAt: string) => boolean) => {
    for (const { place, played } of donors) {
      for (const [index, bar] of bars.entries()) {
        if (left === 0) return;
        const addedAt = `${played[0]!.stroke.family} ${index} ${place}`;
        if (!isWanted(addedAt)) continue;
        // As one of those that are played there, which one by the seed.
        const one = played[mixed(kept[addedAt] ?? seed, place, index) % played.length]!;
        const quarters = bar.startQuarters + place / PLACES_PER_QUARTER + one.offQuarters;
        const stroke: VariedStroke = { ...one.stroke, quarters: Math.max(0, quarters), isAdded: true, addedAt };
        if (place >= bar.lengthQuarters * PLACES_PER_QUARTER || !canBePlayed(stroke, all)) continue;
        all.push(stroke);
        left--;
      }
    }
  };
  addWhere((addedAt) => addedAt in kept);
  addWhere((addedAt) => !(addedAt in kept) && !thrown.includes(addedAt));
  return all;
}

/** Whether somebody with two hands and two feet can play a stroke beside others. */
export function canBePlayed(stroke: RhythmStroke, others: readonly RhythmStroke[]): boolean {
  const together = others.filter(({ quarters }) => Math.abs(quarters - stroke.quarters) < MOMENT_QUARTERS);
  if (together.some(({ hit }) => hit.voiceId === stroke.hit.voiceId)) return false;
  const byHand = together.filter((one) => !isByFoot(one)).length;
  return isByFoot(stroke) || byHand < HANDS;
}

const isByFoot = ({ family, hit }: RhythmStroke) => family === "kick" || hit.articulationId === "foot";

/** Moments at which more is asked for than two hands can do, or one drum is struck twice. */
export function clashesOf(strokes: readonly RhythmStroke[]): number {
  return strokes.filter(
    (stroke, index) =>
      !canBePlayed(stroke, [...strokes.slice(0, index), ...strokes.slice(index + 1)].filter(isNot(stroke))),
  ).length;
}
const isNot = (stroke: RhythmStroke) => (other: RhythmStroke) => other !== stroke;

/** A whole number from several, the same ones always giving the same. @source 32-bit multiplicative hashing, Knuth, vol. 3, 6.4 */
export function mixed(...numbers: readonly number[]): number {
  let state = 0x9e3779b9;
  for (const number of numbers) {
    state = Math.imul(state ^ (number + 0x7f4a7c15), 0x85ebca6b);
    state ^= state >>> 15;
  }
  return state >>> 0;
}
