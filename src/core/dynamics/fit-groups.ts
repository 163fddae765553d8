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

const VELOCITIES = Uint8Array.from({ length: 128 }, (_, velocity) => velocity);

/** @param velocities 1 to 127, at least one */
export function playedOf(velocities: ArrayLike<number>): Played {
  const histogram = new Float64Array(128);
  let sum = 0;
  for (let index = 0; index < velocities.length; index++) {
    histogram[velocities[index]!]!++;
    sum += velocities[index]!;
  }
  const played = VELOCITIES.filter((velocity) => histogram[velocity]! > 0);
  const hits = new Float64Array(played.length);
  for (let at = 0; at < hits.length; at++) hits[at] = histogram[played[at]!]!;
  return { velocities: played, hits, count: velocities.length, mean: sum / velocities.length };
}

/** How likely a group has a hit of a velocity, but for a factor that is the same for all. */
export function bell({ mean, spread }: Group, velocity: number): number {
  return Math.exp(-0.5 * ((velocity - mean) / spread) ** 2) / spread;
}

/** For each place, for each group, how likely a hit of each of the place's velocities is one of it. */
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
  const numbers = Array.from({ length: groupCount }, (_, group) => group);
  const weights: Weights = byPlace.map((at) =>
    numbers.map((group) => {
      const guess = new Float64Array(at.velocities.length);
      for (let index = 0; index < guess.length; index++) guess[index] = +(groupOf(at, at.velocities[index]!) === group);
      return guess;
    }),
  );
  const count = byPlace.reduce((sum, at) => sum + at.count, 0);
  const isAnywhere = new Uint8Array(128);
  for (const { velocities } of byPlace) for (const velocity of velocities) isAnywhere[velocity] = 1;
  const anywhere = VELOCITIES.filter((velocity) => isAnywhere[velocity] === 1);
  const mostRounds = groupCount === 1 ? 1 : ROUNDS;
  let groups: readonly Group[] = [];
  for (let round = 1; ; round++) {
    const next = numbers.map((group) => groupFrom(byPlace, weights, group, count));
    const isSettled = round > 1 && next.every(({ mean }, group) => Math.abs(mean - groups[group]!.mean) < SETTLED);
    groups = next;
    const isLast = isSettled || round === mostRounds;
    const likelihood = shareOut(groups, byPlace, weights, anywhere, isLast);
    if (isLast) return { groups, likelihood };
  }
}

/**
 * Shares each hit out to the groups. Plain loops: this runs dozens of times a voice.
 * @param anywhere the velocities that are played at any place
 * @param isLast whether it is asked how likely all hits are, which costs a logarithm for each
 * @returns the log of that, or 0
 */
function shareOut(
  groups: readonly Group[],
  byPlace: readonly Played[],
  weights: Weights,
  anywhere: Uint8Array,
  isLast: boolean,
): number {
  let likelihood = 0;
  const bells = groups.map((group) => bellsOf(group, anywhere));
  const shares = new Float64Array(groups.length);
  for (let place = 0; place < byPlace.length; place++) {
    const { velocities, hits, count } = byPlace[place]!;
    const ofPlace = weights[place]!;
    for (let group = 0; group < groups.length; group++) {
      const { share } = groups[group]!;
      const weight = ofPlace[group]!;
      let own = PRIOR_AT_PLACE * share;
      for (let at = 0; at < hits.length; at++) own += hits[at]! * weight[at]!;
      shares[group] = byPlace.length === 1 ? share : own / (count + PRIOR_AT_PLACE);
    }
    for (let at = 0; at < hits.length; at++) {
      let total = 0;
      for (let group = 0; group < groups.length; group++) {
        const one = shares[group]! * bells[group]![velocities[at]!]!;
        ofPlace[group]![at] = one;
        total += one;
      }
      for (let group = 0; group < groups.length; group++) {
        ofPlace[group]![at] = total > 0 ? ofPlace[group]![at]! / total : 0;
      }
      if (isLast) likelihood += hits[at]! * Math.log(Math.max(total, Number.MIN_VALUE));
    }
  }
  return likelihood;
}

function bellsOf(group: Group, velocities: Uint8Array): Float64Array {
  const bells = new Float64Array(128);
  for (let at = 0; at < velocities.length; at++) bells[velocities[at]!] = bell(group, velocities[at]!);
  return bells;
}

/** The group that hits of these weights are. */
function groupFrom(byPlace: readonly Played[], weights: Weights, group: number, count: number): Group {
  let hits = 0;
  let sum = 0;
  let squares = 0;
  for (let place = 0; place < byPlace.length; place++) {
    const played = byPlace[place]!;
    const weight = weights[place]![group]!;
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
