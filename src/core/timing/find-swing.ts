import type { Grid } from "../time/index.ts";
import { gridStepTicks } from "../time/index.ts";
import { median } from "./drift.ts";
import type { Onsets } from "./onsets.ts";

/** Less than this is nothing that is meant; from this on it is triplets, and beyond them swing again. */
const LEAST_SWING_PERCENT = 53;
/** So many standard errors from straight is no accident. */
const SURE_ERRORS = 4;
const TRIPLET_PERCENT = [64.5, 69] as const;
const MOST_SWING_PERCENT = 75;
/** Fewer second hits of pairs than this say nothing. */
const FEWEST_HITS = 10;
/** Where in the pair its second hit may be, as shares. */
const SECOND_FROM = 0.42;
const SECOND_TO = 0.82;

/**
 * Finds how late the second of each pair of eighths or sixteenths is played in a take, from all of its voices together: a voice
 * that plays few of them has too few to show it.
 * @returns grids that are worth trying besides the straight ones
 * @source swing percent = where the second hit is in its pair; the middle of all that are there
 */
export function findSwings(voices: readonly Onsets[], ppq: number): readonly Grid[] {
  return ([8, 16] as const).flatMap((denominator): Grid[] => {
    const grid = { family: "straight", denominator } as const;
    const pairTicks = 2 * gridStepTicks(grid, ppq);
    const seconds = voices.flatMap((onsets) => secondsOf(onsets, pairTicks));
    if (seconds.length < FEWEST_HITS) return [];
    const middle = median(seconds);
    const swingPercent = Math.round(middle * 1000) / 10;
    const spread = 1.4826 * median(seconds.map((phase) => Math.abs(phase - middle)));
    if (middle - 0.5 < (SURE_ERRORS * 1.25 * spread) / Math.sqrt(seconds.length)) return [];
    const isTriplet = swingPercent > TRIPLET_PERCENT[0] && swingPercent < TRIPLET_PERCENT[1];
    if (swingPercent < LEAST_SWING_PERCENT || swingPercent > MOST_SWING_PERCENT || isTriplet) return [];
    return [{ ...grid, swingPercent }];
  });
}

/** Where the second hits of pairs are after the first, as shares of the pair: two groups on a circle that is one pair round. */
function secondsOf({ inBarTicks, barTicks }: Onsets, pairTicks: number): readonly number[] {
  const isWhole = (ticks: number) => Math.abs(ticks / pairTicks - Math.round(ticks / pairTicks)) < 1e-6;
  const phases: number[] = [];
  const sines: number[] = [];
  const cosines: number[] = [];
  let [doubleSine, doubleCosine] = [0, 0];
  for (let row = 0; row < inBarTicks.length; row++) {
    // Where a bar holds no whole number of pairs, the next bar starts with a first again, but few people swing there.
    if (!isWhole(barTicks[row]!)) continue;
    const phase = (inBarTicks[row]! % pairTicks) / pairTicks;
    const [sine, cosine] = [Math.sin(2 * Math.PI * phase), Math.cos(2 * Math.PI * phase)];
    phases.push(phase);
    sines.push(sine);
    cosines.push(cosine);
    doubleSine += 2 * sine * cosine;
    doubleCosine += cosine * cosine - sine * sine;
  }
  let first = phaseOf(doubleSine, doubleCosine) / 2;
  let second = first + 0.5;
  // Each hit goes to the nearer group, and each group to the mean of its hits, until nothing changes.
  const isFirst = new Uint8Array(phases.length);
  for (let round = 0; round < 6; round++) {
    let [sine, cosine, count, otherSine, otherCosine] = [0, 0, 0, 0, 0];
    let isSame = round > 0;
    for (let row = 0; row < phases.length; row++) {
      const phase = phases[row]!;
      const isNear = circleDistance(phase, first) <= circleDistance(phase, second) ? 1 : 0;
      if (isFirst[row] !== isNear) isSame = false;
      isFirst[row] = isNear;
      count += isNear;
      if (isNear === 1) {
        sine += sines[row]!;
        cosine += cosines[row]!;
      } else {
        otherSine += sines[row]!;
        otherCosine += cosines[row]!;
      }
    }
    if (count === 0 || count === phases.length) return [];
    if (isSame) break;
    first = phaseOf(sine, cosine);
    second = phaseOf(otherSine, otherCosine);
  }
  // The first of a pair is the one after which the other comes later than half-way.
  if (wrapped(second - first) < 0.5) [first, second] = [second, first];
  return phases
    .filter((phase) => circleDistance(phase, second) < circleDistance(phase, first))
    .map((phase) => wrapped(phase - first))
    .filter((phase) => phase > SECOND_FROM && phase < SECOND_TO);
}

const wrapped = (phase: number) => ((phase % 1) + 1) % 1;

function circleDistance(a: number, b: number): number {
  const apart = wrapped(a - b);
  return Math.min(apart, 1 - apart);
}

/** Where on a circle that is 1 round the sum of some directions points. */
function phaseOf(sine: number, cosine: number): number {
  return wrapped(Math.atan2(sine, cosine) / (2 * Math.PI));
}
