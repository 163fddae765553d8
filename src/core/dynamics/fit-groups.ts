/** How often each loudness is played: anywhere, or at one place of the bar. */
export interface Played {
  /** Those that are played, ascending. */
  readonly velocities: Uint8Array;
  /** How many hits are so loud. */
  readonly hits: Float64Array;
  readonly count: number;
  readonly mean: number;
}

/** Hits of about the same loudness: a bell over the velocities. */
export interface Group {
  readonly mean: number;
  readonly spread: number;
  /** Of all hits, 0 to 1. */
  readonly share: number;
}

/** Which group hits are of to begin with. */
export type GroupOf = (at: Played, velocity: number) => number;

/** A player is as even as this, counted as if so many hits had shown it. */
const PRIOR_SPREAD = 6;
const PRIOR_HITS = 3;
const NARROWEST_SPREAD = 2;
const ROUNDS = 25;
/** Means that move by less than this no longer matter. */
const SETTLED = 0.02;
/** A place has the groups in the shares that the whole has, as if so many hits had shown it. */
const PRIOR_AT_PLACE = 1;

/** @param velocities 1 to 127, at least one */
export function playedOf(velocities: ArrayLike<number>): Played {
  const histogram = new Float64Array(128);
  let sum = 0;
  for (let index = 0; index < velocities.length; index++) {
    histogram[velocities[index]!]!++;
    sum += velocities[index]!;
  }
  const played = Uint8Array.from(histogram.keys()).filter((velocity) => histogram[velocity]! > 0);
  return {
    velocities: played,
    hits: Float64Array.from(played, (velocity) => histogram[velocity]!),
    count: velocities.length,
    mean: sum / velocities.length,
  };
}

/** How likely a group has a hit of a velocity, but for a factor that is the same for all. */
export function bell({ mean, spread }: Group, velocity: number): number {
  return Math.exp(-0.5 * ((velocity - mean) / spread) ** 2) / spread;
}

/** For each group, for each place, how likely a hit of each of its velocities is one of it. */
type Weights = readonly (readonly Float64Array[])[];

/**
 * Fits bells to what is played, from a first guess at which hits are of which group. The bells are the same everywhere; how many hits
 * are of each is another matter at each place.
 * @returns groups from soft to loud, and the log of how likely they make what is played
 * @source expectation maximisation
 */
export function fitGroups(
  byPlace: readonly Played[],
  groupOf: GroupOf,
  groupCount: number,
): { readonly groups: readonly Group[]; readonly likelihood: number } {
  const weights: Weights = Array.from({ length: groupCount }, (_, group) =>
    byPlace.map((at) => Float64Array.from(at.velocities, (velocity) => (groupOf(at, velocity) === group ? 1 : 0))),
  );
  const count = byPlace.reduce((sum, at) => sum + at.count, 0);
  let groups: readonly Group[] = [];
  let likelihood = 0;
  for (let round = 0; round < (groupCount === 1 ? 1 : ROUNDS); round++) {
    const next = weights.map((weight) => groupFrom(byPlace, weight, count));
    const isSettled = round > 0 && next.every(({ mean }, index) => Math.abs(mean - groups[index]!.mean) < SETTLED);
    groups = next;
    likelihood = shareOut(groups, byPlace, weights);
    if (isSettled) break;
  }
  return { groups, likelihood };
}

/** Shares each hit out to the groups. Plain loops: this runs dozens of times a voice. @returns the log of how likely all hits are */
function shareOut(groups: readonly Group[], byPlace: readonly Played[], weights: Weights): number {
  let likelihood = 0;
  const bells = groups.map((group) => Float64Array.from({ length: 128 }, (_, velocity) => bell(group, velocity)));
  for (let place = 0; place < byPlace.length; place++) {
    const { velocities, hits, count } = byPlace[place]!;
    const shares = groups.map(({ share }, index) => {
      const weight = weights[index]![place]!;
      let own = PRIOR_AT_PLACE * share;
      for (let at = 0; at < hits.length; at++) own += hits[at]! * weight[at]!;
      return byPlace.length === 1 ? share : own / (count + PRIOR_AT_PLACE);
    });
    for (let at = 0; at < hits.length; at++) {
      let total = 0;
      for (let index = 0; index < groups.length; index++) {
        const one = shares[index]! * bells[index]![velocities[at]!]!;
        weights[index]![place]![at] = one;
        total += one;
      }
      for (let index = 0; index < groups.length; index++) {
        weights[index]![place]![at] = total > 0 ? weights[index]![place]![at]! / total : 0;
      }
      likelihood += hits[at]! * Math.log(Math.max(total, Number.MIN_VALUE));
    }
  }
  return likelihood;
}

/** The group that hits of these weights are. */
function groupFrom(byPlace: readonly Played[], weights: readonly Float64Array[], count: number): Group {
  let hits = 0;
  let sum = 0;
  let squares = 0;
  for (let place = 0; place < byPlace.length; place++) {
    const played = byPlace[place]!;
    const weight = weights[place]!;
    for (let at = 0; at < weight.length; at++) {
      const own = played.hits[at]! * weight[at]!;
      const velocity = played.velocities[at]!;
      hits += own;
      sum += own * velocity;
      squares += own * velocity * velocity;
    }
  }
  const mean = hits > 0 ? sum / hits : 0;
  const variance = (PRIOR_HITS * PRIOR_SPREAD ** 2 + squares - mean * sum) / (hits + PRIOR_HITS);
  return { mean, spread: Math.max(NARROWEST_SPREAD, Math.sqrt(variance)), share: hits / count };
}
