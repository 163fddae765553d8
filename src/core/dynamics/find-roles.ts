import type { RoleBorders } from "../document/role.ts";
import { bell, fitGroups, type Group, type GroupOf, type Played, playedOf } from "./fit-groups.ts";

/** Groups whose means are closer than this, in velocity, are one role to the ear. */
const SMALLEST_GAP = 14;
/** Hardly anybody strikes one loudness so unevenly; what is more uneven than this, by some of these steps, is rather two. */
const EVEN_SPREAD = 10.5;
const UNEVEN_BY = 1.8;
/** A group is more than a slip. */
const SMALLEST_SHARE = 0.015;
/** Between two groups there are clearly fewer hits than in the smaller of them; a ramp from soft to loud is one group. */
const DEEPEST_SHARE = 0.8;
const SMOOTHING = 3;
/** Of two groups the softer one is of ghosts if it is so much softer than the other, and not loud. */
const GHOST_RATIO = 0.62;
const LOUDEST_GHOSTS = 72;
/** Where ghosts have only one group above them, it is one of accents if it is as loud as this, or three times as loud as they are. */
const SOFTEST_ACCENTS = 97;
const ACCENT_RATIO = 0.32;
/** A few soft hits beside many others say nothing of those. */
const FEWEST_GHOSTS = 0.1;
/** Softer than this share of the rest nobody plays: a pad has heard another, or triggered twice. */
const SOFTEST_GHOST_RATIO = 0.2;
/** Fewer than this, softer than two clear groups, are slips of the pad. */
const SLIPS_SHARE = 0.05;

export const ONLY_STROKES: RoleBorders = { ghostTop: 0, accentBottom: 128 };
const ONLY_GHOSTS: RoleBorders = { ghostTop: 127, accentBottom: 128 };
/** A voice whose hits are all about as loud as this is played in accents throughout, and one that is as soft in ghosts. */
const ALL_ACCENTS = 97;
/** Programs write 100 where nobody has said how loud: what is all the same is played in accents only if it is louder. */
const ALL_SAME_ACCENTS = 103;
const ALL_GHOSTS = 40;

/**
 * Finds the borders between ghosts, strokes and accents from a voice's own velocities: as many groups as the hits themselves
 * show, each a bell around its mean, with the border where a hit is as likely of one as of the next.
 * Where hits are alike anywhere, a bar's places tell loudnesses apart that lie too near to each other for a histogram: a hand that
 * accents the beats does so in every bar.
 * @param velocities 1 to 127
 * @param places of the bar, whatever their numbers mean; left out, only loudness tells
 * @source natural breaks (Jenks, found exactly) to begin with; then expectation maximisation, and the Bayesian information
 * criterion for the number of groups
 */
export function findRoleBorders(velocities: ArrayLike<number>, places?: ArrayLike<number>): RoleBorders {
  if (velocities.length < 2) return ONLY_STROKES;
  const anywhere = [playedOf(velocities)];
  const histogram = histogramOf(anywhere[0]!);
  const whole = naturalBreaks(histogram)
    .map((starts) => scored(anywhere, (_, velocity) => groupFrom(starts, velocity), starts.length))
    .filter(({ groups }) => areApart(groups, histogram));
  const byPlace = places ? playedByPlace(velocities, places) : [];
  const told = (byPlace.length < 2 ? [] : placeBreaks(byPlace))
    .map((starts) => scored(byPlace, ({ mean }) => groupFrom(starts, mean), starts.length))
    .filter(({ groups }) => areTold(groups));
  const [best] = [...whole, ...told].sort((a, b) => b.score - a.score);
  const groups = best?.groups ?? [];
  const slipTop = topOfSlips(groups);
  if (slipTop === 0) return bordersBetween(groups, anywhere[0]!.velocities.length === 1);
  // What no hand played, as cross-talk, is anywhere in the bar, and hides what the places tell of the rest.
  const isPlayed = (row: number) => velocities[row]! > slipTop;
  const { ghostTop, accentBottom } = findRoleBorders(rowsOf(velocities, isPlayed), places && rowsOf(places, isPlayed));
  return { ghostTop: Math.max(slipTop, ghostTop), accentBottom };
}

/** The loudest hit of a group that is too soft for a hand, or too small below two clear groups to be meant; 0 if there is none. */
function topOfSlips([first, ...others]: readonly Group[]): number {
  const [second, third] = others;
  if (!first || !second) return 0;
  const share = others.reduce((sum, one) => sum + one.share, 0);
  const mean = others.reduce((sum, one) => sum + one.mean * one.share, 0) / share;
  const isTooSmall = third !== undefined && first.share < SLIPS_SHARE && isGhostly(second, third);
  return isTooSmall || first.mean < SOFTEST_GHOST_RATIO * mean ? borderOf(first, second) : 0;
}

function rowsOf(column: ArrayLike<number>, isOf: (row: number) => boolean): readonly number[] {
  return Array.from(column).filter((_, row) => isOf(row));
}

/** The last of the groups that begins no later. */
const groupFrom = (starts: readonly number[], velocity: number) => starts.findLastIndex((from) => from <= velocity);

function histogramOf({ velocities, hits }: Played): Float64Array {
  const histogram = new Float64Array(128);
  for (const [index, velocity] of velocities.entries()) histogram[velocity] = hits[index]!;
  return histogram;
}

/** A place that is played less often than this tells nothing by itself. */
const FEWEST_AT_PLACE = 4;

/** What is played at each place of the bar that is played often; the others are one place. */
function playedByPlace(velocities: ArrayLike<number>, places: ArrayLike<number>): readonly Played[] {
  const atPlace = new Map<number, number[]>();
  for (let index = 0; index < velocities.length; index++) {
    const own = atPlace.get(places[index]!);
    if (own) own.push(velocities[index]!);
    else atPlace.set(places[index]!, [velocities[index]!]);
  }
  const all = [...atPlace.values()];
  const few = all.filter(({ length }) => length < FEWEST_AT_PLACE).flat();
  const often = all.filter(({ length }) => length >= FEWEST_AT_PLACE);
  return [...often, ...(few.length > 0 ? [few] : [])].map(playedOf);
}

/** The natural breaks of how loud places are on average, each counted as often as it is played. */
function placeBreaks(byPlace: readonly Played[]): readonly (readonly number[])[] {
  const means = new Float64Array(128);
  for (const { mean, count } of byPlace) means[Math.round(mean)]! += count;
  return naturalBreaks(means).filter((starts) => starts.length > 1);
}

/**
 * How well groups explain what is played, less what so many of them would explain of anything: a mean and a spread each, and at each
 * place the shares, which are known from its own hits only.
 */
function scored(byPlace: readonly Played[], groupOf: GroupOf, groupCount: number) {
  const { groups, likelihood } = fitGroups(byPlace, groupOf, groupCount);
  const uneven = groups.reduce(
    (sum, { spread }) => sum + 0.5 * (Math.max(0, spread - EVEN_SPREAD) / UNEVEN_BY) ** 2,
    0,
  );
  const count = byPlace.reduce((sum, place) => sum + place.count, 0);
  const shares = byPlace.reduce((sum, place) => sum + Math.log(place.count), 0);
  const freedom = 0.5 * (2 * groups.length * Math.log(count) + (groups.length - 1) * shares);
  return { groups, score: likelihood - freedom - uneven };
}

/** Whether groups that places tell apart are heard apart. */
function areTold(groups: readonly Group[]): boolean {
  return (
    groups.every(({ share }) => share >= SMALLEST_SHARE) &&
    groups.slice(1).every(({ mean }, index) => mean - groups[index]!.mean >= SMALLEST_GAP)
  );
}

/** Which role each group is, and where it ends. @param isSame whether all hits are equally loud */
function bordersBetween(groups: readonly Group[], isSame = false): RoleBorders {
  const [first, second, third] = groups;
  if (!first) return ONLY_STROKES;
  // A voice with one loudness has the role that it has by itself.
  if (!second)
    return first.mean >= (isSame ? ALL_SAME_ACCENTS : ALL_ACCENTS)
      ? { ghostTop: 0, accentBottom: 1 }
      : first.mean <= ALL_GHOSTS
        ? ONLY_GHOSTS
        : ONLY_STROKES;
  if (third) return { ghostTop: borderOf(first, second), accentBottom: borderOf(second, third) + 1 };
  const border = borderOf(first, second);
  if (!isGhostly(first, second)) return { ghostTop: 0, accentBottom: border + 1 };
  const areFarApart = first.share >= FEWEST_GHOSTS && first.mean <= ACCENT_RATIO * second.mean;
  const isHard = second.mean >= SOFTEST_ACCENTS || areFarApart;
  return { ghostTop: border, accentBottom: isHard ? border + 1 : 128 };
}

const isGhostly = (soft: Group, loud: Group) => soft.mean <= LOUDEST_GHOSTS && soft.mean <= GHOST_RATIO * loud.mean;

/** The loudest velocity that is as likely of the softer group as of the louder one. */
function borderOf(soft: Group, loud: Group): number {
  let border = Math.floor(soft.mean);
  while (border + 1 < loud.mean && density(soft, border + 1) >= density(loud, border + 1)) border++;
  return border;
}

const density = (group: Group, velocity: number) => group.share * bell(group, velocity);

/** Whether groups are far enough from each other to be heard apart, with fewer hits between them than in them. */
function areApart(groups: readonly Group[], histogram: Float64Array): boolean {
  if (groups.length === 1) return true;
  if (groups.some(({ share }) => share < SMALLEST_SHARE)) return false;
  const smooth = smoothed(histogram);
  const at = (velocity: number) => smooth[Math.max(1, Math.min(127, Math.round(velocity)))]!;
  return groups.slice(1).every((loud, index) => {
    const soft = groups[index]!;
    if (loud.mean - soft.mean < SMALLEST_GAP) return false;
    let least = Number.POSITIVE_INFINITY;
    for (let velocity = Math.ceil(soft.mean); velocity <= loud.mean; velocity++) least = Math.min(least, at(velocity));
    return least <= DEEPEST_SHARE * Math.min(at(soft.mean), at(loud.mean));
  });
}

function smoothed(histogram: Float64Array): Float64Array {
  const reach = 3 * SMOOTHING;
  return histogram.map((_, velocity) => {
    let sum = 0;
    for (let other = Math.max(1, velocity - reach); other <= Math.min(127, velocity + reach); other++) {
      sum += histogram[other]! * Math.exp(-0.5 * ((other - velocity) / SMOOTHING) ** 2);
    }
    return sum;
  });
}

/** Where the groups begin if there are one, two or three of them with the least variance inside. */
function naturalBreaks(histogram: Float64Array): readonly (readonly number[])[] {
  // Sums over velocities below each, so that the worth of any group is known at once.
  const counts = new Float64Array(129);
  const sums = new Float64Array(129);
  for (let velocity = 0; velocity < 128; velocity++) {
    counts[velocity + 1] = counts[velocity]! + histogram[velocity]!;
    sums[velocity + 1] = sums[velocity]! + velocity * histogram[velocity]!;
  }
  // Least variance inside the groups is the same as the largest sum of squared group sums over their counts.
  const worth = (from: number, to: number) => {
    const count = counts[to]! - counts[from]!;
    return count === 0 ? Number.NEGATIVE_INFINITY : (sums[to]! - sums[from]!) ** 2 / count;
  };
  let two = { total: Number.NEGATIVE_INFINITY, starts: [0] };
  let three = { total: Number.NEGATIVE_INFINITY, starts: [0] };
  for (let low = 1; low < 128; low++) {
    const pair = worth(0, low) + worth(low, 128);
    if (pair > two.total) two = { total: pair, starts: [0, low] };
    for (let high = low + 1; high < 128; high++) {
      const total = worth(0, low) + worth(low, high) + worth(high, 128);
      if (total > three.total) three = { total, starts: [0, low, high] };
    }
  }
  return [[0], ...[two, three].flatMap(({ starts }) => (starts.length > 1 ? [starts] : []))];
}
