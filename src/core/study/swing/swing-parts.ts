import { barAt, gridStepTicks, type MeterMap } from "../../time/index.ts";
import { median } from "../../timing/drift.ts";
import type { Onsets } from "../onsets.ts";
import { FEWEST_FIRSTS, inPlainPairs, isFirst, mean, placesInPairs } from "./find-swing.ts";

// A verse may be straight and its chorus swing. One swing for both would be wrong in each.

/** Where seconds of straight and of swung pairs are, as shares of the pair. */
const SECOND_FROM = 0.42;
const SECOND_TO = 0.72;
/** A part lasts so many bars that show how far they swing, and has so many in all: fewer are a fill, or a hand that is late for a phrase. */
const FEWEST_BARS = 4;
const FEWEST_IN_ALL = 6;
/** Parts are so far apart, as shares of the pair, and so many standard errors; and the farther one swings so that it is meant. */
const LEAST_APART = 0.05;
const SURE_ERRORS = 6;
const LEAST_SWUNG = 0.545;
/** Bars of one part are at least so far apart: of a few it is not known. */
const LEAST_SPREAD = 0.008;
/** More seconds of a bar tell nothing new. */
const MOST_WEIGHT = 8;
/** What it costs to go from one part to the other, and what a bar costs at the most, which may be in neither, as logarithms. */
const TURN_PRICE = 4;
const MOST_COST = 8;
const MOST_ROUNDS = 6;

/** Where seconds are in a bar. */
interface BarSwing {
  readonly bar: number;
  /** Their mean, as a share of the pair. */
  readonly place: number;
  readonly weight: number;
}

/** Bars of one of two kinds, up to the next part. The first begins with the take. */
export interface SwingPart {
  readonly fromBar: number;
  readonly kind: 0 | 1;
}

/**
 * Finds whether some bars of a take swing clearly farther than the others, for parts at a time.
 * @param lateMs how late the take came in
 * @returns null where they do not
 * @source two levels by least squares, and the most likely path between them (Viterbi)
 */
export function findSwingParts(
  voices: readonly Onsets[],
  meterMap: MeterMap,
  lateMs: number,
): readonly SwingPart[] | null {
  for (const denominator of [16, 8] as const) {
    const pairTicks = 2 * gridStepTicks({ family: "straight", denominator }, meterMap.ppq);
    const found = partsOf(swingOfBars(voices, pairTicks, meterMap, lateMs));
    if (found) return found;
  }
  return null;
}

/** How far each bar swings that shows it. */
function swingOfBars(
  voices: readonly Onsets[],
  pairTicks: number,
  meterMap: MeterMap,
  lateMs: number,
): readonly BarSwing[] {
  const secondsOf = new Map<number, number[]>();
  for (const places of inPlainPairs(voices.map((onsets) => placesInPairs(onsets, pairTicks, lateMs)))) {
    const firsts = places.flatMap(({ phase }) => (isFirst(phase) ? [phase] : []));
    // What a voice without firsts is late by may be its habit.
    if (firsts.length < FEWEST_FIRSTS) continue;
    const habit = median(firsts);
    for (const { phase, pairTick } of places) {
      const second = phase - habit;
      if (second < SECOND_FROM || second > SECOND_TO) continue;
      const { barIndex } = barAt(meterMap, pairTick);
      const known = secondsOf.get(barIndex) ?? [];
      secondsOf.set(barIndex, known);
      known.push(second);
    }
  }
  return [...secondsOf]
    .map(([bar, seconds]) => ({ bar, place: mean(seconds), weight: Math.min(MOST_WEIGHT, seconds.length) }))
    .sort((one, other) => one.bar - other.bar);
}

function partsOf(bars: readonly BarSwing[]): readonly SwingPart[] | null {
  if (bars.length < 2 * FEWEST_IN_ALL) return null;
  let levels = farthestLevels(bars);
  let spread = spreadOf(bars.map(({ place }) => Math.min(...levels.map((level) => Math.abs(place - level)))));
  let parts: readonly number[] = [];
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const next = withoutShortRuns(likeliestParts(bars, levels, spread));
    if (round > 0 && next.every((part, at) => part === parts[at])) break;
    parts = next;
    const of = [0, 1].map((part) => bars.filter((_, at) => parts[at] === part));
    if (of.some((own) => own.length < FEWEST_IN_ALL)) return null;
    levels = of.map(meanOf);
    spread = spreadOf(bars.map(({ place }, at) => Math.abs(place - levels[parts[at]!]!)));
  }
  const [near, far] = levels.toSorted((one, other) => one - other) as [number, number];
  const count = parts.filter((part) => part === 0).length;
  const error = spread * Math.sqrt(parts.length / (count * (parts.length - count)));
  if (far < LEAST_SWUNG || far - near < Math.max(LEAST_APART, SURE_ERRORS * error)) return null;
  // A bar that shows nothing is as those before it.
  return bars.flatMap(({ bar }, at): SwingPart[] =>
    at > 0 && parts[at] === parts[at - 1] ? [] : [{ fromBar: at === 0 ? 0 : bar, kind: parts[at] === 0 ? 0 : 1 }],
  );
}

const spreadOf = (offs: readonly number[]) => Math.max(LEAST_SPREAD, 1.4826 * median(offs));

/** The two means into which bars fall apart best. */
function farthestLevels(bars: readonly BarSwing[]): readonly number[] {
  const sorted = bars.toSorted((one, other) => one.place - other.place);
  const all = weightOf(sorted);
  const sum = all * meanOf(sorted);
  let best: readonly number[] = [];
  let most = Number.NEGATIVE_INFINITY;
  let [lowWeight, lowSum] = [0, 0];
  for (const { place, weight } of sorted.slice(0, -1)) {
    lowWeight += weight;
    lowSum += weight * place;
    const levels = [lowSum / lowWeight, (sum - lowSum) / (all - lowWeight)] as const;
    const between = lowWeight * (all - lowWeight) * (levels[1] - levels[0]) ** 2;
    if (between > most) [best, most] = [levels, between];
  }
  return best;
}

const weightOf = (bars: readonly BarSwing[]) => bars.reduce((sum, { weight }) => sum + weight, 0);
const meanOf = (bars: readonly BarSwing[]) =>
  bars.reduce((sum, { place, weight }) => sum + weight * place, 0) / weightOf(bars);

/** Which of two levels each bar is on, where to change costs something. */
function likeliestParts(bars: readonly BarSwing[], levels: readonly number[], spread: number): readonly number[] {
  let costs = [0, 0];
  const cameFrom = bars.map(({ place, weight }) => {
    const from = [0, 1].map((part) => (costs[1 - part]! + TURN_PRICE < costs[part]! ? 1 - part : part));
    costs = from.map((before, part) => {
      const turned = costs[before]! + (before === part ? 0 : TURN_PRICE);
      const off = (place - levels[part]!) / spread;
      return turned + (weight / MOST_WEIGHT) * MOST_COST * (1 - Math.exp((-off * off) / (2 * MOST_COST)));
    });
    return from;
  });
  let part = costs[1]! < costs[0]! ? 1 : 0;
  const parts = new Array<number>(bars.length);
  for (let at = bars.length - 1; at >= 0; at--) {
    parts[at] = part;
    part = cameFrom[at]![part]!;
  }
  return parts;
}

/** Bars that differ for too short a time to be a part are as those around them. */
function withoutShortRuns(parts: readonly number[]): readonly number[] {
  const lasting: number[] = [];
  for (let start = 0, end = 0; start < parts.length; start = end) {
    while (end < parts.length && parts[end] === parts[start]) end++;
    const part = end - start < FEWEST_BARS ? (lasting.at(-1) ?? parts[end] ?? parts[start]!) : parts[start]!;
    while (lasting.length < end) lasting.push(part);
  }
  return lasting;
}
