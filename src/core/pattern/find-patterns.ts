import type { Family } from "../document/index.ts";
import { countsOf, type Knock } from "./knock.ts";
import { barOf, type IndexedRhythm, layerOf, nearness, PLACES_PER_QUARTER } from "./pattern-index.ts";
import { placeWords, type RhythmBar, type RhythmStroke, weightOf } from "./rhythm.ts";

/** A few bars that are like a knock. */
export interface FoundPattern {
  readonly id: string;
  /** From 0. */
  readonly firstBar: number;
  readonly bars: number;
  /** 0 to 1. */
  readonly likeness: number;
  /** What both play, and where they differ, in words: `kick 1`, `snare 2 & is not knocked`. */
  readonly agrees: readonly string[];
  readonly differs: readonly string[];
  /** How the knock was read to fit: its tempo as a factor of its own, and where in the bars it begins. */
  readonly tempoFactor: number;
  readonly turnedQuarters: number;
}

/** Kick and snare are what a rhythm is known by. */
const FAMILY_WEIGHT: Readonly<Record<Family, number>> = {
  kick: 1,
  snare: 1,
  toms: 0.8,
  hats: 0.35,
  cymbals: 0.3,
  percussion: 0.5,
};
const weightOfFamily = (family: Family | null) => (family === null ? 1 : FAMILY_WEIGHT[family]);

/** What a reading costs that is not as it was knocked: the same at half or double tempo, or from another beat. */
const OTHER_TEMPO = 0.985;
const TURNED = 0.94;
/** Of what the two sides play, so much of the knock's counts: a stroke slips in more easily than one is left out. */
const KNOCKED_SHARE = 0.9;
/** Without a click nothing says where a bar begins. */
const TURNED_FREELY = 0.985;
/** So many of the likeliest are compared stroke by stroke. */
const COMPARED = 150;
/** A knock ends in the bar of its last stroke; what comes this close to the next one is early for the first beat again. */
const END_SLACK_QUARTERS = 0.2;
/** How far off its strokes are, as a person knocks. */
const SPREAD_MS = 24;
/** Offsets of all strokes together are taken off up to here: a late pad, a bad start. */
const MOST_SHIFT_MS = 60;
const MOST_REPEATED_BARS = 64;

/** A knock as it is read: counted at some tempo. */
interface Reading {
  readonly factor: number;
  readonly cost: number;
  /** What a turn by beats costs. */
  readonly costOfTurn: number;
  /** Of its first stroke; places count from it. */
  readonly from: number;
  /** By stroke, in places from the first bar line, or without a click from a beat before the first stroke. */
  readonly places: Int32Array;
  readonly spanQuarters: number;
  /** Where it may begin beside the beats: so many times a beat. */
  readonly startsOfBeat: number;
}

/** The strokes of a knock as columns. */
interface KnockColumns {
  readonly layers: Int32Array;
  /** What each is worth, with what its family is worth. */
  readonly weights: Float64Array;
  readonly familyWeights: Float64Array;
  readonly usedLayers: readonly { readonly layer: number; readonly weight: number }[];
  readonly total: number;
}

/** A knock as it is read, laid on some bars, turned by some beats. */
interface Candidate {
  readonly index: IndexedRhythm;
  readonly firstBar: number;
  readonly bars: number;
  readonly reading: Reading;
  readonly turnedPlaces: number;
  readonly score: number;
}

/**
 * The bars of rhythms that are most like a knock, best first; of each rhythm its best place.
 * @param most how many are wanted
 */
export function findPatterns(indexed: readonly IndexedRhythm[], knock: Knock, most: number): readonly FoundPattern[] {
  const columns = columnsOf(knock);
  const readings = readingsOf(knock);
  const wanted = Math.max(COMPARED, most);
  const best = new BestOf(wanted);
  for (const index of indexed) {
    const candidate = bestPlace(index, columns, readings, best.least);
    if (candidate) best.add(candidate);
  }
  return best.all
    .map((candidate) => compare(candidate, knock))
    .sort((a, b) => b.likeness - a.likeness)
    .slice(0, most);
}

/** Keeps the best of many, and knows what it takes to be one of them. */
class BestOf {
  readonly #most: number;
  #kept: Candidate[] = [];
  least = 0;

  constructor(most: number) {
    this.#most = most;
  }

  add(candidate: Candidate): void {
    this.#kept.push(candidate);
    if (this.#kept.length < this.#most * 2) return;
    this.#kept = this.all as Candidate[];
    this.least = this.#kept.at(-1)!.score;
  }

  get all(): readonly Candidate[] {
    return this.#kept.toSorted((a, b) => b.score - a.score).slice(0, this.#most);
  }
}

function columnsOf({ strokes }: Knock): KnockColumns {
  const familyWeights = Float64Array.from(strokes, ({ family }) => weightOfFamily(family));
  const weights = Float64Array.from(strokes, ({ weight }) => weight);
  const families = [...new Set(strokes.map(({ family }) => family))];
  return {
    layers: Int32Array.from(strokes, ({ family }) => layerOf(family)),
    weights,
    familyWeights,
    usedLayers: families.map((family) => ({ layer: layerOf(family), weight: weightOfFamily(family) })),
    total: weights.reduce((sum, weight, row) => sum + weight * familyWeights[row]!, 0),
  };
}

/** As it was knocked, at half and at double tempo; without a click as its strokes can be counted. */
function readingsOf({ strokes, hasClick, bpm }: Knock): readonly Reading[] {
  const last = strokes.at(-1)?.quarters ?? 0;
  const read = (factor: number, cost: number, from: number, costOfTurn: number, startsOfBeat: number): Reading => ({
    factor,
    cost,
    costOfTurn,
    from,
    places: Int32Array.from(strokes, ({ quarters }) => Math.round((quarters - from) * factor * PLACES_PER_QUARTER)),
    spanQuarters: (last - from) * factor - END_SLACK_QUARTERS,
    startsOfBeat,
  });
  if (hasClick) {
    return [read(1, 1, 0, TURNED, 1), read(0.5, OTHER_TEMPO, 0, TURNED, 1), read(2, OTHER_TEMPO, 0, TURNED, 1)];
  }
  const first = strokes[0]?.quarters ?? 0;
  return countsOf({ strokes, hasClick, bpm }).map(({ factor, lateQuarters, slots }) => {
    // Its first stroke is on a slot, which all others are counted from.
    const slot = Math.round((first * factor - lateQuarters) * slots) / slots;
    return read(factor, 1, (slot + lateQuarters) / factor, TURNED_FREELY, slots);
  });
}

function bestPlace(
  index: IndexedRhythm,
  knock: KnockColumns,
  readings: readonly Reading[],
  least: number,
): Candidate | null {
  const { bars } = index.rhythm;
  let best: Candidate | null = null;
  let bar = least;
  for (const reading of readings) {
    for (let firstBar = 0; firstBar < bars.length; firstBar++) {
      const count = barsOfSpan(bars, firstBar, reading.spanQuarters);
      // What is shorter than the knock is repeated, from its first bar.
      if (firstBar > 0 && firstBar + count > bars.length) break;
      const turn = bestTurn(index, knock, reading, firstBar, count, bar);
      if (turn === null) continue;
      bar = turn.score;
      best = { index, firstBar, bars: count, reading, ...turn };
    }
  }
  return best;
}

const bothSides = (knocked: number, played: number) => KNOCKED_SHARE * knocked + (2 - KNOCKED_SHARE) * played;

/** How many bars a knock takes from a bar on, at least one. */
function barsOfSpan(bars: readonly RhythmBar[], firstBar: number, span: number): number {
  let count = 0;
  let left = span;
  do {
    left -= bars[(firstBar + count) % bars.length]!.lengthQuarters;
    count++;
  } while (left > 0 && count < MOST_REPEATED_BARS);
  return count;
}

/**
 * How like a knock is to some bars, from the beat where it is most: twice what agrees, by all that either plays.
 * Hot: thousands of patterns are asked, from every beat, at every tempo. Nothing is made but the answer.
 * @param least what it takes to be worth an answer
 */
function bestTurn(
  { rhythm: { bars }, endQuarters, near, weightBefore, beatPlaces, firstBeats }: IndexedRhythm,
  { layers, weights, familyWeights, usedLayers, total }: KnockColumns,
  { places, cost, costOfTurn, startsOfBeat }: Reading,
  firstBar: number,
  count: number,
  least: number,
): { readonly turnedPlaces: number; readonly score: number } | null {
  const isRepeated = count > bars.length;
  const repeats = isRepeated ? count / bars.length : 1;
  const lastBar = Math.min(bars.length, firstBar + count);
  let played = 0;
  for (const { layer, weight } of usedLayers) {
    const column = weightBefore[layer]!;
    played += weight * repeats * (column[lastBar]! - column[firstBar]!);
  }
  const all = bothSides(total, played);
  // More than all of the smaller one cannot agree.
  if (played === 0 || (2 * Math.min(total, played) * cost) / all <= least) return null;
  const start = Math.round(bars[firstBar]!.startQuarters * PLACES_PER_QUARTER);
  const ownLength = Math.round(endQuarters * PLACES_PER_QUARTER);
  const end = lastBar < bars.length ? Math.round(bars[lastBar]!.startQuarters * PLACES_PER_QUARTER) : ownLength;
  const length = isRepeated ? ownLength * repeats : end - start;
  const slack = (END_SLACK_QUARTERS / 2) * PLACES_PER_QUARTER;
  let [bestScore, turnedPlaces] = [least, -1];
  for (let beat = firstBeats[firstBar]!; beat < firstBeats[lastBar]!; beat++) {
    const beatPlace = beatPlaces[beat]!;
    const beatLength = (beat + 1 < beatPlaces.length ? beatPlaces[beat + 1]! : ownLength) - beatPlace;
    for (let part = 0; part < startsOfBeat; part++) {
      const turn = beatPlace - start + Math.round((beatLength * part) / startsOfBeat);
      let agreed = 0;
      for (let row = 0; row < places.length; row++) {
        const column = near[layers[row]!];
        if (!column) continue;
        let place = places[row]! + turn;
        if (place >= length - slack) place -= length;
        const at = isRepeated ? (place + length) % ownLength : Math.max(0, start + place);
        const value = column[at]!;
        const weight = weights[row]!;
        agreed += familyWeights[row]! * Math.min(weight, value);
      }
      const score = ((2 * agreed) / all) * cost * (turn === 0 ? 1 : costOfTurn);
      if (score > bestScore) [bestScore, turnedPlaces] = [score, turn];
    }
  }
  return turnedPlaces < 0 ? null : { turnedPlaces, score: bestScore };
}

/** A stroke of either side, on the time of the bars that are compared. */
interface Placed {
  readonly family: Family | null;
  readonly at: number;
  readonly weight: number;
  readonly name: string;
}

/** Compares stroke by stroke: each is matched with one of the other side at most, and what is late as a whole is taken back. */
function compare(candidate: Candidate, knock: Knock): FoundPattern {
  const { index, firstBar, bars: count, reading, turnedPlaces } = candidate;
  const { bars, strokes } = index.rhythm;
  const start = bars[firstBar]!.startQuarters;
  const length = Array.from({ length: count }, (_, bar) => bars[(firstBar + bar) % bars.length]!.lengthQuarters).reduce(
    (sum, one) => sum + one,
    0,
  );
  const turnedQuarters = turnedPlaces / PLACES_PER_QUARTER;
  const perMs = (knock.bpm * reading.factor) / 60_000;
  const layers = new Set(knock.strokes.map(({ family }) => family));
  const familyIn = (family: Family) => (layers.has(null) && (family === "kick" || family === "snare") ? null : family);
  const knocked = knock.strokes.map(({ family, quarters, weight }): Placed => {
    const at = turned((quarters - reading.from) * reading.factor + turnedQuarters, length);
    return { family, at, weight: weight * weightOfFamily(family), name: nameOf(index, firstBar, start + at, family) };
  });
  const played = strokesOfBars(strokes, bars, firstBar, count).flatMap(({ stroke, at }): Placed[] => {
    const family = familyIn(stroke.family);
    if (!layers.has(family)) return [];
    const weight = weightOf(stroke.velocity) * weightOfFamily(family);
    return [{ family, at, weight, name: nameOf(index, firstBar, start + at, stroke.family) }];
  });
  const shift = shiftOf(pair(knocked, played, length, 0, SPREAD_MS * perMs));
  const isWhole = Math.abs(shift) <= MOST_SHIFT_MS * perMs;
  const pairs = pair(knocked, played, length, isWhole ? shift : 0, SPREAD_MS * perMs);
  const agreed = pairs.reduce((sum, { one, other, near }) => sum + Math.min(one.weight, other.weight) * near, 0);
  const sum = (strokes: readonly Placed[]) => strokes.reduce((all, { weight }) => all + weight, 0);
  const all = bothSides(sum(knocked), sum(played));
  const cost = reading.cost * (turnedPlaces === 0 ? 1 : reading.costOfTurn);
  const [matchedOnes, matchedOthers] = [new Set(pairs.map(({ one }) => one)), new Set(pairs.map(({ other }) => other))];
  return {
    id: index.id,
    firstBar,
    bars: count,
    likeness: Math.min(1, ((2 * agreed) / Math.max(1e-9, all)) * cost),
    agrees: pairs.toSorted((a, b) => a.other.at - b.other.at).map(({ other }) => other.name),
    differs: [
      ...knocked.filter((one) => !matchedOnes.has(one)).map(({ name }) => `${name} is not in the pattern`),
      ...played.filter((one) => !matchedOthers.has(one)).map(({ name }) => `${name} was not knocked`),
    ],
    tempoFactor: reading.factor,
    turnedQuarters,
  };
}

const turned = (quarters: number, length: number) => ((quarters % length) + length) % length;

function strokesOfBars(
  strokes: readonly RhythmStroke[],
  bars: readonly RhythmBar[],
  firstBar: number,
  count: number,
): readonly { readonly stroke: RhythmStroke; readonly at: number }[] {
  const start = bars[firstBar]!.startQuarters;
  const end = bars[0]!.startQuarters + bars.reduce((sum, { lengthQuarters }) => sum + lengthQuarters, 0);
  return strokes.flatMap((stroke) => {
    const bar = barOf(bars, stroke.quarters);
    const rounds: { stroke: RhythmStroke; at: number }[] = [];
    for (let within = bar - firstBar, shift = 0; within < count; within += bars.length, shift += end) {
      if (within >= 0) rounds.push({ stroke, at: stroke.quarters - start + shift });
    }
    return rounds;
  });
}

interface Pair {
  readonly one: Placed;
  readonly other: Placed;
  /** How much later the first is. */
  readonly late: number;
  readonly near: number;
}

/**
 * Pairs of strokes of one family, the nearest first. Time goes round.
 * @param shift taken off the first of each
 * @param spread how far off strokes are, as a person knocks; all of it in quarters
 */
function pair(
  ones: readonly Placed[],
  others: readonly Placed[],
  length: number,
  shift: number,
  spread: number,
): readonly Pair[] {
  const possible: Pair[] = [];
  for (const one of ones) {
    for (const other of others) {
      if (one.family !== other.family) continue;
      const away = turned(one.at - shift - other.at + length / 2, length) - length / 2;
      const near = nearness(away, spread);
      if (near > 0) possible.push({ one, other, late: away + shift, near });
    }
  }
  const taken = new Set<Placed>();
  return possible
    .sort((a, b) => b.near - a.near)
    .filter(({ one, other }) => {
      if (taken.has(one) || taken.has(other)) return false;
      taken.add(one).add(other);
      return true;
    });
}

/** How late the first of each pair is in the middle. */
function shiftOf(pairs: readonly Pair[]): number {
  const late = pairs.map((one) => one.late).sort((a, b) => a - b);
  return late[late.length >> 1] ?? 0;
}

function nameOf(
  { rhythm: { bars } }: IndexedRhythm,
  firstBar: number,
  quarters: number,
  family: Family | null,
): string {
  const total = bars.reduce((sum, { lengthQuarters }) => sum + lengthQuarters, 0);
  const within = turned(quarters, total);
  const bar = barOf(bars, within);
  const place = placeWords(bars[bar]!, Math.max(0, within - bars[bar]!.startQuarters));
  const where = bars.length > 1 && bar !== firstBar ? `${place} of bar ${bar + 1}` : place;
  return `${family === null ? "stroke" : family} ${where}`;
}
