import type { RoleBorders } from "../document/role.ts";

/** Groups whose means are closer than this, in velocity, are one role to the ear. */
const SMALLEST_GAP = 14;
/** A player is as even as this, counted as if so many hits had shown it. */
const PRIOR_SPREAD = 6;
const PRIOR_HITS = 3;
const NARROWEST_SPREAD = 2;
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
const SOFTEST_ACCENTS = 104;
const ACCENT_RATIO = 0.32;
const ROUNDS = 40;
/** Means that move by less than this no longer matter. */
const SETTLED = 0.02;

/** Hits of about the same loudness: a bell over the velocities. */
interface Group {
  readonly mean: number;
  readonly spread: number;
  /** Of all hits, 0 to 1. */
  readonly share: number;
}

export const ONLY_STROKES: RoleBorders = { ghostTop: 0, accentBottom: 128 };
const ONLY_GHOSTS: RoleBorders = { ghostTop: 127, accentBottom: 128 };
/**
 * A voice whose hits are all about as loud as this is played in accents throughout, and one that is as soft in ghosts. Programs write
 * 100 where nobody has said how loud.
 */
const ALL_ACCENTS = 103;
const ALL_GHOSTS = 40;

/**
 * Finds the borders between ghosts, strokes and accents from a voice's own velocities: as many groups as the hits themselves
 * show, each a bell around its mean, with the border where a hit is as likely of one as of the next.
 * @param velocities 1 to 127
 * @source natural breaks (Jenks, found exactly) to begin with; then expectation maximisation, and the Bayesian information
 * criterion for the number of groups
 */
export function findRoleBorders(velocities: ArrayLike<number>): RoleBorders {
  const histogram = new Float64Array(128);
  for (let index = 0; index < velocities.length; index++) histogram[velocities[index]!]!++;
  const count = velocities.length;
  if (count < 2) return ONLY_STROKES;
  let best: { groups: readonly Group[]; score: number } | null = null;
  for (const starts of naturalBreaks(histogram)) {
    const { groups, likelihood } = fitGroups(histogram, count, starts);
    if (!areApart(groups, histogram)) continue;
    const uneven = groups.reduce(
      (sum, { spread }) => sum + 0.5 * (Math.max(0, spread - EVEN_SPREAD) / UNEVEN_BY) ** 2,
      0,
    );
    const score = likelihood - 0.5 * (3 * groups.length - 1) * Math.log(count) - uneven;
    if (!best || score > best.score) best = { groups, score };
  }
  return bordersBetween(best?.groups ?? []);
}

/** Which role each group is, and where it ends. */
function bordersBetween(groups: readonly Group[]): RoleBorders {
  const [first, second, third] = groups;
  if (!first) return ONLY_STROKES;
  // A voice with one loudness has the role that it has by itself.
  if (!second)
    return first.mean >= ALL_ACCENTS
      ? { ghostTop: 0, accentBottom: 1 }
      : first.mean <= ALL_GHOSTS
        ? ONLY_GHOSTS
        : ONLY_STROKES;
  if (third) return { ghostTop: borderOf(first, second), accentBottom: borderOf(second, third) + 1 };
  const border = borderOf(first, second);
  const isGhostly = first.mean <= LOUDEST_GHOSTS && first.mean <= GHOST_RATIO * second.mean;
  if (!isGhostly) return { ghostTop: 0, accentBottom: border + 1 };
  const isHard = second.mean >= SOFTEST_ACCENTS || first.mean <= ACCENT_RATIO * second.mean;
  return { ghostTop: border, accentBottom: isHard ? border + 1 : 128 };
}

/** The loudest velocity that is as likely of the softer group as of the louder one. */
function borderOf(soft: Group, loud: Group): number {
  let border = Math.floor(soft.mean);
  while (border + 1 < loud.mean && density(soft, border + 1) >= density(loud, border + 1)) border++;
  return border;
}

function density({ mean, spread, share }: Group, velocity: number): number {
  return (share / spread) * Math.exp(-0.5 * ((velocity - mean) / spread) ** 2);
}

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

/** Fits bells to the velocities, from a first guess at which hits are of which group. */
function fitGroups(
  histogram: Float64Array,
  count: number,
  starts: readonly number[],
): { readonly groups: readonly Group[]; readonly likelihood: number } {
  const weights = starts.map((from, index) =>
    histogram.map((_, velocity) => (velocity >= from && velocity < (starts[index + 1] ?? 128) ? 1 : 0)),
  );
  let groups: readonly Group[] = [];
  for (let round = 0; round < (starts.length === 1 ? 1 : ROUNDS); round++) {
    const next = weights.map((weight) => groupOf(histogram, weight, count));
    const isSettled = round > 0 && next.every(({ mean }, index) => Math.abs(mean - groups[index]!.mean) < SETTLED);
    groups = next;
    if (isSettled) break;
    shareOut(groups, histogram, weights);
  }
  let likelihood = 0;
  for (let velocity = 1; velocity < 128; velocity++) {
    if (histogram[velocity] === 0) continue;
    const total = groups.reduce((sum, group) => sum + density(group, velocity), 0);
    likelihood += histogram[velocity]! * Math.log(Math.max(total, Number.MIN_VALUE));
  }
  return { groups, likelihood };
}

/** For each group how likely a hit of each velocity that is played is one of it. Plain loops: this runs dozens of times a voice. */
function shareOut(groups: readonly Group[], histogram: Float64Array, weights: readonly Float64Array[]): void {
  for (let velocity = 1; velocity < 128; velocity++) {
    if (histogram[velocity] === 0) continue;
    let total = 0;
    for (let index = 0; index < groups.length; index++) {
      const one = density(groups[index]!, velocity);
      weights[index]![velocity] = one;
      total += one;
    }
    for (const weight of weights) weight[velocity] = total > 0 ? weight[velocity]! / total : 0;
  }
}

function groupOf(histogram: Float64Array, weight: Float64Array, count: number): Group {
  let hits = 0;
  let sum = 0;
  for (let velocity = 1; velocity < 128; velocity++) {
    hits += histogram[velocity]! * weight[velocity]!;
    sum += histogram[velocity]! * weight[velocity]! * velocity;
  }
  const mean = hits > 0 ? sum / hits : 0;
  let squares = PRIOR_HITS * PRIOR_SPREAD ** 2;
  for (let velocity = 1; velocity < 128; velocity++) {
    squares += histogram[velocity]! * weight[velocity]! * (velocity - mean) ** 2;
  }
  const spread = Math.max(NARROWEST_SPREAD, Math.sqrt(squares / (hits + PRIOR_HITS)));
  return { mean, spread, share: hits / count };
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
