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
/** A few soft hits beside many others, such as cross-talk, say nothing of those. */
const FEWEST_GHOSTS = 0.1;
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
 * Where hits are alike anywhere, a bar's places tell loudnesses apart that lie too near to each other for a histogram: a hand that
 * accents the beats does so in every bar.
 * @param velocities 1 to 127
 * @param places of the bar, whatever their numbers mean; left out, only loudness tells
 * @source natural breaks (Jenks, found exactly) to begin with; then expectation maximisation, and the Bayesian information
 * criterion for the number of groups
 */
export function findRoleBorders(velocities: ArrayLike<number>, places?: ArrayLike<number>): RoleBorders {
  const count = velocities.length;
  if (count < 2) return ONLY_STROKES;
  const histogram = histogramOf(velocities);
  const whole = naturalBreaks(histogram).map((starts) => scored([histogram], startsBy(starts, [histogram])));
  const byPlace = places ? histogramsByPlace(velocities, places) : [];
  const told =
    byPlace.length < 2 ? [] : placeBreaks(byPlace).map((starts) => scored(byPlace, startsOfPlaces(starts, byPlace)));
  const [best] = [
    ...whole.filter(({ groups }) => areApart(groups, histogram)),
    ...told.filter(({ groups }) => areTold(groups)),
  ].sort((a, b) => b.score - a.score);
  return bordersBetween(best?.groups ?? []);
}

function histogramOf(velocities: ArrayLike<number>): Float64Array {
  const histogram = new Float64Array(128);
  for (let index = 0; index < velocities.length; index++) histogram[velocities[index]!]!++;
  return histogram;
}

/** A place that is played less often than this tells nothing by itself. */
const FEWEST_AT_PLACE = 4;

/** The velocities of each place of the bar that is played often; the others are one place. */
function histogramsByPlace(velocities: ArrayLike<number>, places: ArrayLike<number>): readonly Float64Array[] {
  const counts = new Map<number, number>();
  for (let index = 0; index < places.length; index++) counts.set(places[index]!, (counts.get(places[index]!) ?? 0) + 1);
  const histograms = new Map<number, Float64Array>();
  for (let index = 0; index < velocities.length; index++) {
    const place = counts.get(places[index]!)! >= FEWEST_AT_PLACE ? places[index]! : OTHER_PLACES;
    const histogram = histograms.get(place) ?? new Float64Array(128);
    histograms.set(place, histogram);
    histogram[velocities[index]!]!++;
  }
  return [...histograms.values()];
}

const OTHER_PLACES = -1;

/** The natural breaks of how loud places are on average, each counted as often as it is played. */
function placeBreaks(byPlace: readonly Float64Array[]): readonly (readonly number[])[] {
  const means = new Float64Array(128);
  for (const histogram of byPlace) means[Math.round(meanOf(histogram))]! += sumOf(histogram);
  return naturalBreaks(means).filter((starts) => starts.length > 1);
}

const sumOf = (histogram: Float64Array) => histogram.reduce((sum, hits) => sum + hits, 0);
const meanOf = (histogram: Float64Array) =>
  histogram.reduce((sum, hits, velocity) => sum + hits * velocity, 0) / sumOf(histogram);

/**
 * How well groups explain what is played, less what so many of them would explain of anything: a mean and a spread each, and at each
 * place the shares, which are known from its own hits only.
 */
function scored(byPlace: readonly Float64Array[], weights: readonly (readonly Float64Array[])[]) {
  const counts = byPlace.map(sumOf);
  const count = counts.reduce((sum, hits) => sum + hits, 0);
  const { groups, likelihood } = fitGroups(byPlace, counts, weights);
  const uneven = groups.reduce(
    (sum, { spread }) => sum + 0.5 * (Math.max(0, spread - EVEN_SPREAD) / UNEVEN_BY) ** 2,
    0,
  );
  const shares = counts.reduce((sum, hits) => sum + Math.log(hits), 0);
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
  const isHard =
    second.mean >= SOFTEST_ACCENTS || (first.share >= FEWEST_GHOSTS && first.mean <= ACCENT_RATIO * second.mean);
  return { ghostTop: border, accentBottom: isHard ? border + 1 : 128 };
}

/** The loudest velocity that is as likely of the softer group as of the louder one. */
function borderOf(soft: Group, loud: Group): number {
  let border = Math.floor(soft.mean);
  while (border + 1 < loud.mean && density(soft, border + 1) >= density(loud, border + 1)) border++;
  return border;
}

const density = (group: Group, velocity: number) => group.share * bell(group, velocity);

function bell({ mean, spread }: Group, velocity: number): number {
  return Math.exp(-0.5 * ((velocity - mean) / spread) ** 2) / spread;
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

/** Which hits are of which group to begin with: those between its start and the next. For each group, for each place. */
function startsBy(starts: readonly number[], byPlace: readonly Float64Array[]): readonly (readonly Float64Array[])[] {
  return starts.map((from, index) =>
    byPlace.map((histogram) =>
      histogram.map((_, velocity) => (velocity >= from && velocity < (starts[index + 1] ?? 128) ? 1 : 0)),
    ),
  );
}

/** The same with all hits of a place in one group. */
function startsOfPlaces(
  starts: readonly number[],
  byPlace: readonly Float64Array[],
): readonly (readonly Float64Array[])[] {
  return starts.map((from, index) =>
    byPlace.map((histogram) => {
      const mean = Math.round(meanOf(histogram));
      return new Float64Array(128).fill(mean >= from && mean < (starts[index + 1] ?? 128) ? 1 : 0);
    }),
  );
}

/**
 * Fits bells to the velocities, from a first guess at which hits are of which group. The bells are the same everywhere; how many hits
 * are of each is another matter at each place.
 */
function fitGroups(
  byPlace: readonly Float64Array[],
  counts: readonly number[],
  weights: readonly (readonly Float64Array[])[],
): { readonly groups: readonly Group[]; readonly likelihood: number } {
  const count = counts.reduce((sum, hits) => sum + hits, 0);
  let groups: readonly Group[] = [];
  let likelihood = 0;
  for (let round = 0; round < (weights.length === 1 ? 1 : ROUNDS); round++) {
    const next = weights.map((weight) => groupOf(byPlace, weight, count));
    const isSettled = round > 0 && next.every(({ mean }, index) => Math.abs(mean - groups[index]!.mean) < SETTLED);
    groups = next;
    likelihood = shareOut(groups, byPlace, counts, weights);
    if (isSettled) break;
  }
  return { groups, likelihood };
}

/** A place has the groups in the shares that the whole has, as if so many hits had shown it. */
const PRIOR_AT_PLACE = 1;

/**
 * For each group how likely a hit of each velocity that is played at a place is one of it. Plain loops: this runs dozens of times a voice.
 * @returns the log of how likely all of them are
 */
function shareOut(
  groups: readonly Group[],
  byPlace: readonly Float64Array[],
  counts: readonly number[],
  weights: readonly (readonly Float64Array[])[],
): number {
  let likelihood = 0;
  const bells = groups.map((group) => Float64Array.from({ length: 128 }, (_, velocity) => bell(group, velocity)));
  for (let place = 0; place < byPlace.length; place++) {
    const histogram = byPlace[place]!;
    const shares = groups.map(({ share }, index) => {
      if (byPlace.length === 1) return share;
      const weight = weights[index]![place]!;
      let own = PRIOR_AT_PLACE * share;
      for (let velocity = 1; velocity < 128; velocity++) own += histogram[velocity]! * weight[velocity]!;
      return own / (counts[place]! + PRIOR_AT_PLACE);
    });
    for (let velocity = 1; velocity < 128; velocity++) {
      if (histogram[velocity] === 0) continue;
      let total = 0;
      for (let index = 0; index < groups.length; index++) {
        const one = shares[index]! * bells[index]![velocity]!;
        weights[index]![place]![velocity] = one;
        total += one;
      }
      for (const weight of weights) weight[place]![velocity] = total > 0 ? weight[place]![velocity]! / total : 0;
      likelihood += histogram[velocity]! * Math.log(Math.max(total, Number.MIN_VALUE));
    }
  }
  return likelihood;
}

function groupOf(byPlace: readonly Float64Array[], weights: readonly Float64Array[], count: number): Group {
  let hits = 0;
  let sum = 0;
  for (let place = 0; place < byPlace.length; place++) {
    for (let velocity = 1; velocity < 128; velocity++) {
      const own = byPlace[place]![velocity]! * weights[place]![velocity]!;
      hits += own;
      sum += own * velocity;
    }
  }
  const mean = hits > 0 ? sum / hits : 0;
  let squares = PRIOR_HITS * PRIOR_SPREAD ** 2;
  for (let place = 0; place < byPlace.length; place++) {
    for (let velocity = 1; velocity < 128; velocity++) {
      squares += byPlace[place]![velocity]! * weights[place]![velocity]! * (velocity - mean) ** 2;
    }
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
