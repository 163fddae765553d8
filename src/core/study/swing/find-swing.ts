import { type Grid, gridStepTicks } from "../../time/index.ts";
import { median } from "../../timing/drift.ts";
import { USUAL_HABIT_MS } from "../grid-model.ts";
import type { Onsets } from "../onsets.ts";

/** Less than this is nothing that is meant, nor is more. */
const LEAST_SWING_PERCENT = 53;
const MOST_SWING_PERCENT = 70;
/** A first look that is so much below it is not looked at closer. */
const FIRST_LOOK_PERCENT = 2;
/** So many standard errors from straight is no accident. */
const SURE_ERRORS = 3;
const TRIPLET_PERCENT = 200 / 3;
/** A swing that cannot be told from triplets is called triplets: so many standard errors, and at least so many percent. */
const TRIPLET_ERRORS = 1.6;
const LEAST_FROM_TRIPLET = 0.6;
/** Where some voice plays middle triplets, as ghosts do between the hats of a shuffle, it must be clearer. */
const SURE_BESIDE_MIDDLES = 4;
const LEAST_BESIDE_MIDDLES = 1;
const MOST_BESIDE_MIDDLES = 3;
/** Fewer second hits of pairs than this say nothing. */
const FEWEST_HITS = 10;
/** Where in the pair its second hit may be, as shares, and how far from its start the first. */
const SECOND_FROM = 0.34;
const SECOND_TO = 0.84;
const FIRST_WITHIN = 0.18;
/** A voice with fewer firsts than this, or than this share of its seconds, says nothing, unless no other does. */
export const FEWEST_FIRSTS = 4;
const LEAST_FIRSTS_SHARE = 0.1;
/** Seconds farther than this from the middle of all are something else, as in a straight fill of a shuffle. */
const SAME_WITHIN = 0.05;
const SAME_SPREADS = 2.5;
const MOST_SPREAD = 0.085;
const LEAST_SAME_SHARE = 0.6;
/** A hit this many spreads off says nothing. */
const FAR_SPREADS = 5;
/** Of hits to the tick. */
const LEAST_SPREAD = 0.002;
/** Habits and swing settle within fewer. */
const MOST_ROUNDS = 40;
/** Where middle triplets are, as shares of the pair, and how many of them make it a part in triplets. */
const MIDDLE_FROM = 0.28;
const MIDDLE_TO = 0.39;
const MOST_MIDDLES = 0.12;
/** Where more pairs have the second of four as well, it is a part in fours: its last is at 75 %, which is no swing. */
const MOST_IN_FOURS = 0.6;

/**
 * Finds how late the second of each pair of eighths or sixteenths is played in a take, from all of its voices together: a voice
 * that plays few of them has too few to show it. What is as late as a triplet is a swing as long as no middle triplet is played.
 * @param lateMs how late the take came in
 * @returns grids that are worth trying besides the straight ones
 * @source swing percent = where the second hit is in its pair; the mean of all that are there, but for strays
 */
export function findSwings(voices: readonly Onsets[], ppq: number, lateMs: number): readonly Grid[] {
  return ([8, 16] as const).flatMap((denominator): Grid[] => {
    const grid = { family: "straight", denominator } as const;
    const pairTicks = 2 * gridStepTicks(grid, ppq);
    const placesOf = voices.map((onsets) => placesInPairs(onsets, pairTicks, lateMs));
    const phasesOf = placesOf.map((places) => places.map(({ phase }) => phase));
    // A voice that is late by habit is late with both; one without firsts does not show what is its habit and what is swing.
    const measured = phasesOf
      .map(pairOf)
      .filter(({ firsts, seconds }) => firsts.length >= Math.max(FEWEST_FIRSTS, LEAST_FIRSTS_SHARE * seconds.length));
    const areEnough = measured.reduce((sum, { seconds }) => sum + seconds.length, 0) >= FEWEST_HITS;
    const pairs = areEnough ? measured : [pairOf(phasesOf.flat())];
    const seconds = pairs.flatMap((pair) => pair.seconds);
    if (seconds.length < FEWEST_HITS || pairs.every(({ firsts }) => firsts.length === 0)) return [];
    const rough = median(seconds);
    const spread = 1.4826 * median(seconds.map((phase) => Math.abs(phase - rough)));
    // Two sorts of seconds, as in sixteenths, are no swing.
    if (spread > MOST_SPREAD) return [];
    const within = Math.max(SAME_WITHIN, SAME_SPREADS * spread);
    const isSame = (phase: number) => Math.abs(phase - rough) <= within;
    const sameCount = seconds.filter(isSame).length;
    if (sameCount < LEAST_SAME_SHARE * seconds.length) return [];
    const inFours = pairsWith(placesOf, FIRST_WITHIN, MIDDLE_FROM);
    const swung = [...pairsWith(placesOf, SECOND_FROM, SECOND_TO)];
    if (swung.filter((pairTick) => inFours.has(pairTick)).length > MOST_IN_FOURS * swung.length) return [];
    // Each voice says it as surely as it has firsts and seconds.
    let [sum, weights] = [0, 0];
    for (const pair of pairs) {
      const same = pair.seconds.filter(isSame);
      if (same.length === 0 || pair.firsts.length === 0) continue;
      const weight = 1 / (1 / same.length + 1 / pair.firsts.length);
      sum += weight * mean(same);
      weights += weight;
    }
    if (100 * (sum / weights) < LEAST_SWING_PERCENT - FIRST_LOOK_PERCENT) return [];
    const pairMs = pairTicks * median(voices.flatMap(({ msPerTick }) => msPerTick[0] ?? []));
    const habitSpread = USUAL_HABIT_MS / pairMs;
    const plain = inPlainPairs(placesOf).map((places) => places.map(({ phase }) => phase));
    const middle = settled(plain, sum / weights, habitSpread);
    // Where firsts and seconds are played by different drums, as in a blast, either may be late by habit.
    const error = Math.hypot(spread / Math.sqrt(weights), areEnough ? 0 : habitSpread);
    if (middle - 0.5 < SURE_ERRORS * error) return [];
    const swingPercent = Math.round(middle * 1000) / 10;
    if (swingPercent < LEAST_SWING_PERCENT || swingPercent > MOST_SWING_PERCENT) return [];
    const fromTriplet = Math.abs(swingPercent - TRIPLET_PERCENT);
    const middles = phasesOf.flat().filter((phase) => phase > MIDDLE_FROM && phase < MIDDLE_TO).length;
    const isTriplet =
      fromTriplet < Math.max(LEAST_FROM_TRIPLET, 100 * TRIPLET_ERRORS * error) ||
      (middles > MOST_MIDDLES * sameCount &&
        fromTriplet < Math.min(MOST_BESIDE_MIDDLES, Math.max(LEAST_BESIDE_MIDDLES, 100 * SURE_BESIDE_MIDDLES * error)));
    return isTriplet ? [] : [{ ...grid, swingPercent }];
  });
}

/**
 * Where second hits are, from all hits at once: each voice is off by its habit, and of a habit only so much is known as the voice has
 * hits. Hits far from both places of their pair count for less, up to nothing.
 * @param start where they are, roughly
 * @param habitSpread how far habits are off, as a share of a pair
 * @source least squares with random effects (Henderson's equations) and Tukey's biweight, solved by going round
 */
function settled(phasesOf: readonly (readonly number[])[], start: number, habitSpread: number): number {
  let middle = start;
  /** Whether a hit is nearer to the second place of its pair than to the first. */
  const isSecond = (off: number) => Math.abs(off - middle) < Math.abs(off);
  const leftOf = (off: number) => (isSecond(off) ? off - middle : off);
  const habits = phasesOf.map((own) => {
    const near = own.map(leftOf).filter((left) => Math.abs(left) < FIRST_WITHIN);
    return near.length > 0 ? median(near) : 0;
  });
  // Of all hits, one voice after the other: how far each is from the nearer of the two places, and whether that is the second.
  const count = phasesOf.reduce((sum, own) => sum + own.length, 0);
  const lefts = new Float64Array(count);
  const areSeconds = new Uint8Array(count);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const before = middle;
    let at = 0;
    for (const [voice, own] of phasesOf.entries()) {
      for (const phase of own) {
        const off = phase - habits[voice]!;
        lefts[at] = leftOf(off);
        areSeconds[at++] = isSecond(off) ? 1 : 0;
      }
    }
    const spread = Math.max(LEAST_SPREAD, 1.4826 * median(lefts.map(Math.abs)));
    const weightOf = (left: number) => Math.max(0, 1 - (left / (FAR_SPREADS * spread)) ** 2) ** 2;
    let [moved, seconds] = [0, 0];
    at = 0;
    for (const [voice, own] of phasesOf.entries()) {
      const end = at + own.length;
      let [sum, weights] = [0, 0];
      for (let hit = at; hit < end; hit++) {
        const weight = weightOf(lefts[hit]!);
        sum += weight * lefts[hit]!;
        weights += weight;
      }
      // A habit that few hits show is likelier small.
      const pull = (spread / habitSpread) ** 2;
      const habitMoved = (sum - pull * habits[voice]!) / (weights + pull);
      habits[voice]! += habitMoved;
      for (; at < end; at++) {
        if (areSeconds[at] === 0) continue;
        const weight = weightOf(lefts[at]!);
        moved += weight * (lefts[at]! - habitMoved);
        seconds += weight;
      }
    }
    // Where something else is played in nearly every pair, too few are left to tell more.
    if (seconds < FEWEST_HITS) return start;
    middle += moved / seconds;
    if (Math.abs(middle - before) < 1e-5) break;
  }
  return middle;
}

interface Pair {
  readonly firsts: readonly number[];
  /** Measured from the mean of the firsts. */
  readonly seconds: readonly number[];
}

/** The firsts and seconds of some hits. */
function pairOf(phasesOfVoice: readonly number[]): Pair {
  const near = phasesOfVoice.filter(isFirst);
  const rough = near.length > 0 ? median(near) : 0;
  const firsts = near.filter((phase) => Math.abs(phase - rough) <= FIRST_WITHIN / 2);
  const first = firsts.length > 0 ? mean(firsts) : rough;
  const seconds = phasesOfVoice
    .map((phase) => phase - first)
    .filter((phase) => phase > SECOND_FROM && phase < SECOND_TO);
  return { firsts, seconds };
}

export const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

export const isFirst = (phase: number) => Math.abs(phase) <= FIRST_WITHIN;

/** Where a hit is. */
export interface InPair {
  /** As a share of its pair: a little below 0 is just ahead of it. */
  readonly phase: number;
  readonly pairTick: number;
}

export function placesInPairs(
  { ticks, inBarTicks, barTicks, msPerTick }: Onsets,
  pairTicks: number,
  lateMs: number,
): readonly InPair[] {
  const isWhole = (count: number) => Math.abs(count / pairTicks - Math.round(count / pairTicks)) < 1e-6;
  const found: InPair[] = [];
  for (let row = 0; row < inBarTicks.length; row++) {
    // Where a bar holds no whole number of pairs, the next bar starts with a first again, but few people swing there.
    if (!isWhole(barTicks[row]!)) continue;
    const inPairs = (inBarTicks[row]! - lateMs / msPerTick[row]!) / pairTicks;
    const pair = Math.floor(inPairs + FIRST_WITHIN);
    found.push({ phase: inPairs - pair, pairTick: Math.round(ticks[row]! + (pair * pairTicks - inBarTicks[row]!)) });
  }
  return found;
}

/** The pairs in which something is played between two shares of them. */
function pairsWith(placesOf: readonly (readonly InPair[])[], from: number, to: number): ReadonlySet<number> {
  const found = new Set<number>();
  for (const places of placesOf) {
    for (const { phase, pairTick } of places) if (phase > from && phase < to) found.add(pairTick);
  }
  return found;
}

/** The hits of each voice in the pairs of which nobody plays something else, as straight sixteenths or triplets. */
export function inPlainPairs(placesOf: readonly (readonly InPair[])[]): readonly (readonly InPair[])[] {
  const others = pairsWith(placesOf, FIRST_WITHIN, MIDDLE_TO);
  return placesOf.map((places) => places.filter(({ pairTick }) => !others.has(pairTick)));
}
