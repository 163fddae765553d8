import { extentOf } from "../../extent.ts";
import { barAt, type MeterMap } from "../../time/index.ts";
import { median } from "../../timing/drift.ts";
import { type CrossTalk, LOUDEST_TALK, type VoiceTimes } from "./fault.ts";
import { WRITTEN_MS } from "./played-together.ts";

// What pads picked up from others. A weak hit just after a hard stroke elsewhere may as well be a soft stroke that was meant to go along
// with it. Two things tell: who plays along is also ahead now and then, and plays along at the same places of every bar, whereas a pad
// hears a stroke or not wherever it falls.

/** Vibration through a stand or a rim takes a moment at most, and a module reads its pads in turn. */
const TALK_MS = [-2, 13] as const;
/** … and some on average. */
const LEAST_AFTER_MS = 0.7;
/** Or by so much closer than hands. */
const CLOSER = 0.35;
const TALK_LOUDNESS = 0.36;
const SOFTEST_CAUSE = 64;
/** Weak strokes that are played along with another drum are off by up to this. */
const PLAYED_ALONG_MS = 30;
/** What was picked up is softer than all that was played on a pad, by so much. */
const SOFTER_BY = 1.12;
/** What is demanded of the weak hits of a pad before they are taken for picked up. */
interface Demand {
  /** Once or twice may be meant; a habit is not. */
  readonly fewest: number;
  /** So many of them came with a hard stroke on another. */
  readonly smallestShare: number;
  /** Played along, but not at once: in proportion to those that were. */
  readonly mostAlong: number;
  /** How much better it is foretold by which drum was struck than by where in the bar, as a logarithm. */
  readonly irregular: number;
}

/** Of hits that are softer by themselves than all others of their pad, and of a few such. */
const APART: Demand = { fewest: 8, smallestShare: 0.75, mostAlong: 0.12, irregular: 0.5 };
const FEW: Demand = { fewest: 4, smallestShare: 0.9, mostAlong: 0, irregular: 2 };
/** Of the softest ones among hits of all velocities. */
const AMONG: Demand = { fewest: 8, smallestShare: 0.9, mostAlong: 0.05, irregular: 3 };

/** Those just above them are not: of hits up to so much louder, at most this share came with a hard stroke. */
const ABOVE = 1.6;
const MOST_ABOVE = 0.5;

interface Border {
  readonly loudest: number;
  /** Whether the pad has no hit for a while above it. */
  readonly isApart: boolean;
}

/** A drum that is to blame for so much less than another was struck by chance with what was played softly. */
const LEAST_WORTH = 0.1;
/** What comes with a larger share of the strokes of others is as regular either way. */
const MOST_HEARD = 0.8;
/** Who plays along does so at a place or does not; what a pad hears of a drum may be any share. */
const PLAYED_PRIOR = 0.12;
const HEARD_PRIOR = 1;
/** Fewer may be heard, too, if all weak hits of a pad are as faint as this, and at once with hard strokes. */
const FAINTEST = 18;
const FAINTEST_LOUDNESS = 0.17;

/** How exact the times of a take are: of its file, and of the hands, as `togetherMs` has it. */
export interface Exactness {
  readonly stepMs: number;
  readonly playedMs: number;
}

/** A hit of a pad, and the hard stroke on another that it came with. */
interface TalkEvent {
  readonly row: number;
  readonly cause: VoiceTimes;
  readonly causeRow: number;
  readonly afterMs: number;
  readonly loudness: number;
}

interface WeakHit {
  readonly row: number;
  readonly velocity: number;
  /** Whether it came so soon after one of its own pad that it may be an echo of that. */
  readonly isEcho: boolean;
  readonly event: TalkEvent | null;
  /** Whether it was struck together with another, but not at once. */
  readonly isAlong: boolean;
}

/**
 * What a pad picked up from others, whichever they are. One pad may hear several, and each of them seldom. Such a hit may come just after
 * a stroke of its own as well.
 * @param doubled hits that came so soon after one of their own pad that it may have triggered twice
 */
export function findCrossTalk(
  victim: VoiceTimes,
  doubled: ReadonlySet<string>,
  voices: readonly VoiceTimes[],
  meterMap: MeterMap,
  take: Exactness,
): readonly CrossTalk[] {
  const weak = weakHits(victim, doubled, voices, take.stepMs);
  if (weak.every(({ event }) => event === null)) return [];
  const counts = countsUpTo(weak);
  for (const { loudest, isApart } of bordersOf(victim)) {
    if (!mayBeHabit(counts[loudest]!)) continue;
    const all = weak.filter(({ velocity }) => velocity <= loudest);
    const plain = all.filter(({ isEcho }) => !isEcho);
    const above = weak.filter(({ velocity }) => velocity > loudest && velocity <= ABOVE * loudest);
    if (!isApart && eventsOf(above).length > MOST_ABOVE * above.length) continue;
    const demands = isApart ? [APART, FEW] : [AMONG];
    const isTalk = (hits: readonly WeakHit[]) =>
      demands.some((demand) => isHabit(victim, hits, demand, meterMap, take));
    if (isTalk(plain) || isTalk(all)) return talksOf(victim, all);
  }
  const plain = weak.filter(({ isEcho }) => !isEcho);
  return plain.length < FEW.fewest && plain.every(isFaintest) ? talksOf(victim, plain) : [];
}

/** How many weak hits there are up to a velocity. */
interface Counts {
  events: number;
  /** Those that may be echoes are left out of these. */
  plain: number;
  along: number;
}

function countsUpTo(weak: readonly WeakHit[]): readonly Counts[] {
  const counts = Array.from({ length: LOUDEST_TALK + 1 }, (): Counts => ({ events: 0, plain: 0, along: 0 }));
  for (const { velocity, event, isEcho, isAlong } of weak) {
    const own = counts[velocity]!;
    if (event) own.events++;
    if (isEcho) continue;
    own.plain++;
    if (isAlong) own.along++;
  }
  for (let velocity = 1; velocity <= LOUDEST_TALK; velocity++) {
    const [softer, own] = [counts[velocity - 1]!, counts[velocity]!];
    own.events += softer.events;
    own.plain += softer.plain;
    own.along += softer.along;
  }
  return counts;
}

/** Hot. Up to most velocities there is no habit, which a count tells at once: no demand is less than these. */
const mayBeHabit = ({ events, plain, along }: Counts): boolean =>
  events >= FEW.fewest && events >= APART.smallestShare * plain && along <= APART.mostAlong * events;

function talksOf(victim: VoiceTimes, weak: readonly WeakHit[]): readonly CrossTalk[] {
  const events = eventsOf(weak);
  const worths = worthOfCauses(events);
  const least = LEAST_WORTH * Math.max(...worths.values());
  const heard = events.filter(({ cause }) => worths.get(cause)! >= least);
  return heard.map(({ row, cause, causeRow, afterMs, loudness }) => ({
    kind: "crossTalk",
    hitId: victim.hits[row]!.id,
    voiceId: victim.voiceId,
    causeId: cause.hits[causeRow]!.id,
    causeVoiceId: cause.voiceId,
    afterMs,
    loudness,
    ofWeakHits: weak.length,
    withCause: heard.length,
  }));
}

const eventsOf = (weak: readonly WeakHit[]) => weak.flatMap(({ event }) => event ?? []);

/** The velocities up to which the hits of a pad may be of another sort than those above, the loudest first. */
function bordersOf({ velocities }: VoiceTimes): readonly Border[] {
  const ascending = velocities.toSorted();
  const borders: Border[] = [];
  for (let index = 0; index < ascending.length; index++) {
    const loudest = ascending[index]!;
    if (loudest > LOUDEST_TALK) break;
    const next = ascending[index + 1] ?? Number.POSITIVE_INFINITY;
    if (next === loudest) continue;
    borders.unshift({ loudest, isApart: next > loudest + 2 && next >= SOFTER_BY * loudest });
  }
  return borders;
}

/** The hits of a pad that are weak enough to be picked up from another. */
function weakHits(
  victim: VoiceTimes,
  doubled: ReadonlySet<string>,
  voices: readonly VoiceTimes[],
  stepMs: number,
): readonly WeakHit[] {
  const near: { readonly row: number; readonly events: readonly TalkEvent[]; readonly isNear: boolean }[] = [];
  for (let row = 0; row < victim.hits.length; row++) {
    const velocity = victim.velocities[row]!;
    if (velocity > LOUDEST_TALK) continue;
    const events: TalkEvent[] = [];
    let isNear = false;
    for (const cause of voices) {
      if (cause.voiceId === victim.voiceId || cause.hits.length === 0) continue;
      const causeRow = nearestRow(cause.timesMs, victim.timesMs[row]!);
      const afterMs = victim.timesMs[row]! - cause.timesMs[causeRow]!;
      if (Math.abs(afterMs) > PLAYED_ALONG_MS) continue;
      isNear = true;
      const loudness = velocity / cause.velocities[causeRow]!;
      const isAtOnce = afterMs >= TALK_MS[0] - stepMs && afterMs <= TALK_MS[1] + stepMs;
      const isHard = cause.velocities[causeRow]! >= SOFTEST_CAUSE && loudness <= TALK_LOUDNESS;
      if (isAtOnce && isHard) events.push({ row, cause, causeRow, afterMs, loudness });
    }
    near.push({ row, events, isNear });
  }
  const blamed = blame(near.flatMap(({ events }) => events));
  return near.map(({ row, isNear }) => {
    const event = blamed.get(row) ?? null;
    const isEcho = doubled.has(victim.hits[row]!.id);
    return { row, velocity: victim.velocities[row]!, isEcho, event, isAlong: isNear && event === null };
  });
}

/**
 * A weak hit may have come with several strokes at once. The drum is to blame that explains most hits with the fewest strokes; of what is
 * left, the next.
 */
function blame(events: readonly TalkEvent[]): ReadonlyMap<number, TalkEvent> {
  const blamed = new Map<number, TalkEvent>();
  let left = events;
  while (left.length > 0) {
    const worths = worthOfCauses(left);
    const [first] = [...worths].reduce((best, one) => (one[1] > best[1] ? one : best));
    for (const event of left) if (event.cause === first) blamed.set(event.row, event);
    left = left.filter(({ row }) => !blamed.has(row));
  }
  return blamed;
}

/** How much each drum is to blame: more for many hits, less for strokes that nothing was heard of. */
function worthOfCauses(events: readonly TalkEvent[]): ReadonlyMap<VoiceTimes, number> {
  const counts = new Map<VoiceTimes, number>();
  for (const { cause } of events) counts.set(cause, (counts.get(cause) ?? 0) + 1);
  return new Map([...counts].map(([cause, count]) => [cause, count ** 2 / cause.hits.length]));
}

function isHabit(
  victim: VoiceTimes,
  weak: readonly WeakHit[],
  demand: Demand,
  meterMap: MeterMap,
  take: Exactness,
): boolean {
  const events = eventsOf(weak);
  const alongCount = weak.reduce((count, { isAlong }) => count + (isAlong ? 1 : 0), 0);
  return (
    events.length >= demand.fewest &&
    events.length >= demand.smallestShare * weak.length &&
    alongCount <= demand.mostAlong * events.length &&
    isBehind(events, take) &&
    isHeard(victim, events, demand.irregular, meterMap)
  );
}

/**
 * What is picked up comes after its cause, or more closely with it than hands are together. What is to the tick in a part that was written
 * was written, too.
 */
function isBehind(events: readonly TalkEvent[], { stepMs, playedMs }: Exactness): boolean {
  const afterMs = events.map((event) => event.afterMs);
  const usual = median(afterMs);
  // A file may have rounded some of it away.
  const offMs = median(afterMs.map((ms) => Math.abs(ms - usual))) + stepMs / 2;
  if (offMs < CLOSER * playedMs) return true;
  const mean = afterMs.reduce((sum, ms) => sum + ms, 0) / events.length;
  const [soonest, latest] = extentOf(afterMs);
  return mean >= LEAST_AFTER_MS && latest - soonest > WRITTEN_MS;
}

/** A hard stroke on a drum that a pad is said to hear. */
interface Cause {
  readonly tick: number;
  readonly voiceId: string;
  readonly velocity: number;
  readonly isHeard: boolean;
}

/**
 * Whether weak hits are heard, and not played. What is very faint is. Else the strokes that come with one have to be better foretold by a
 * share of each drum, or of how loud it is struck, than by their places in the bar. What comes with nearly all strokes of a drum, or is on
 * the pad of a pedal, is played all the same.
 * @source the ratio of two likelihoods, each of what comes next by what came before
 */
function isHeard(
  { family }: VoiceTimes,
  events: readonly TalkEvent[],
  leastIrregular: number,
  meterMap: MeterMap,
): boolean {
  if (median(events.map(({ loudness }) => loudness)) <= FAINTEST_LOUDNESS) return true;
  if (family === "kick") return false;
  const causes = causesOf(events);
  const byPlace = [1, 2].map((barCount) => foretold(causes, PLAYED_PRIOR, placeIn(causes, barCount, meterMap)));
  const byDrum = foretold(causes, HEARD_PRIOR, ({ voiceId }) => voiceId);
  const byLoudness = foretold(causes, HEARD_PRIOR, ({ voiceId, velocity }) => `${voiceId} ${velocity >> 4}`);
  if (Math.max(byDrum, byLoudness) - Math.max(...byPlace) < leastIrregular) return false;
  const ofAll = events.filter(({ cause: { voiceId } }) => {
    const strokes = causes.filter((one) => one.voiceId === voiceId);
    return strokes.filter((one) => one.isHeard).length > MOST_HEARD * strokes.length;
  });
  return ofAll.length <= events.length / 2;
}

/** The strokes of the drums that are to blame, as hard as those that were heard. */
function causesOf(events: readonly TalkEvent[]): readonly Cause[] {
  const heardRows = new Map<VoiceTimes, Set<number>>();
  for (const { cause, causeRow } of events) heardRows.set(cause, (heardRows.get(cause) ?? new Set()).add(causeRow));
  const [softest] = extentOf(events.map(({ cause, causeRow }) => cause.velocities[causeRow]!));
  return [...heardRows].flatMap(([{ voiceId, hits, velocities }, rows]) =>
    hits.flatMap(({ recordedTick }, row): Cause[] =>
      velocities[row]! >= softest
        ? [{ tick: recordedTick!, voiceId, velocity: velocities[row]!, isHeard: rows.has(row) }]
        : [],
    ),
  );
}

/** Says of a stroke which drum it is and where in so many bars, to a quarter of a beat. */
function placeIn(causes: readonly Cause[], barCount: number, meterMap: MeterMap): (cause: Cause) => string {
  const stepTicks = meterMap.ppq / 4;
  const offTicks = offBy(causes, stepTicks);
  return ({ tick, voiceId }) => {
    const { startTick, endTick, barIndex } = barAt(meterMap, tick - offTicks);
    const step = Math.round((tick - offTicks - startTick) / stepTicks);
    return `${voiceId} ${barIndex % barCount} ${endTick - startTick} ${step}`;
  };
}

/** How far strokes are behind the steps of a bar on average, so that none is counted now with one step and now with the next. */
function offBy(causes: readonly Cause[], stepTicks: number): number {
  let [across, along] = [0, 0];
  for (const { tick } of causes) {
    const angle = (2 * Math.PI * tick) / stepTicks;
    across += Math.sin(angle);
    along += Math.cos(angle);
  }
  return (Math.atan2(across, along) / (2 * Math.PI)) * stepTicks;
}

/** The log-likelihood of what was heard, each stroke foretold by those of its sort before it. */
function foretold(causes: readonly Cause[], prior: number, sortOf: (cause: Cause) => string): number {
  const seen = new Map<string, { count: number; heard: number }>();
  let sum = 0;
  for (const cause of causes) {
    const sort = sortOf(cause);
    const before = seen.get(sort) ?? { count: 0, heard: 0 };
    const chance = (before.heard + prior) / (before.count + 2 * prior);
    sum += Math.log(cause.isHeard ? chance : 1 - chance);
    seen.set(sort, { count: before.count + 1, heard: before.heard + (cause.isHeard ? 1 : 0) });
  }
  return sum;
}

/** Whether a hit is so faint and so much at once that even a single one was hardly meant. */
function isFaintest({ velocity, event }: WeakHit): boolean {
  return event !== null && velocity <= FAINTEST && event.loudness <= FAINTEST_LOUDNESS;
}

/** The row of an ascending column that is nearest to a time. */
function nearestRow(timesMs: Float64Array, ms: number): number {
  let low = 0;
  let high = timesMs.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (timesMs[middle]! < ms) low = middle + 1;
    else high = middle;
  }
  return low > 0 && ms - timesMs[low - 1]! < timesMs[low]! - ms ? low - 1 : low;
}
