import { baseVelocity, columnOf, type Hit } from "../document/pattern.ts";
import { type TimeMaps, ticksToMs } from "../time/index.ts";
import { findGraceNotes } from "../timing/grace-notes.ts";

// Hits that nobody played: a pad that triggered twice, and pads that picked up a hard stroke on another.

interface FaultOf {
  readonly hitId: string;
  readonly voiceId: string;
  /** The stroke that caused it. */
  readonly causeId: string;
  readonly causeVoiceId: string;
  /** How long after its cause it came. */
  readonly afterMs: number;
  /** How loud it is in proportion to its cause. */
  readonly loudness: number;
}

export interface DoubleTrigger extends FaultOf {
  readonly kind: "double";
}

export interface CrossTalk extends FaultOf {
  readonly kind: "crossTalk";
  /** Of so many hits of its voice that are as weak, so many came with a stroke of the other. */
  readonly ofWeakHits: number;
  readonly withCause: number;
}

export type Fault = DoubleTrigger | CrossTalk;

/** A pad that rebounds or rings triggers again within this, and clearly weaker. */
const DOUBLE_MS = [6, 50] as const;
const DOUBLE_LOUDNESS = 0.55;
/** A voice that plays so much in so quick steps plays rolls, and a weak stroke of a roll is none. */
const MOST_DOUBLES_SHARE = 0.25;
/** A voice with so many strokes as near as this plays rolls: there, only what is faint and at once is no stroke. */
const ROLL_MS = 98;
const ROLLS_SHARE = 0.08;
const DOUBLE_MS_IN_ROLLS = 36;
const DOUBLE_LOUDNESS_IN_ROLLS = 0.4;
const GRACE_STEP_MS = 100;

/** Vibration through a stand or a rim is as good as at once. */
const TALK_MS = [-2, 8] as const;
const TALK_LOUDNESS = 0.25;
const LOUDEST_TALK = 45;
const SOFTEST_CAUSE = 60;
/** Once or twice may be meant; a habit is not. */
const FEWEST_TALKS = 4;
/** Unless all weak hits of a pad are as faint as this, and at once with hard strokes. */
const FAINTEST = 18;
const FAINTEST_LOUDNESS = 0.17;
const AT_ONCE_MS = 6;
const SMALLEST_SHARE = 0.6;
/** Weak strokes that are played along with another drum are off by this; those that are picked up are not. */
const PLAYED_ALONG_MS = 30;
const MOST_PLAYED_ALONG = 0.25;

interface VoiceTimes {
  readonly voiceId: string;
  readonly hits: readonly Hit[];
  /** When each was recorded, ascending. */
  readonly timesMs: Float64Array;
  readonly velocities: Float64Array;
}

/**
 * Finds double triggers and cross-talk of a take. Hits that a hand has added or muted are left out.
 * @param byVoice the hits of each voice
 * @returns what was found, in order of time within each voice; nothing is changed
 */
export function findFaults(byVoice: ReadonlyMap<string, readonly Hit[]>, { tempoMap }: TimeMaps): readonly Fault[] {
  const voices = [...byVoice].map(([voiceId, all]): VoiceTimes => {
    const recorded = all.filter((hit) => hit.recordedTick !== null && !hit.isMuted);
    // Only where a hand has moved hits past each other are they not in order already.
    const isOrdered = recorded.every((hit, row) => row === 0 || recorded[row - 1]!.recordedTick! <= hit.recordedTick!);
    const hits = isOrdered ? recorded : recorded.toSorted((a, b) => a.recordedTick! - b.recordedTick!);
    return {
      voiceId,
      hits,
      timesMs: ticksToMs(
        tempoMap,
        columnOf(hits, (hit) => hit.recordedTick!),
      ),
      velocities: columnOf(hits, (hit) => hit.recordedVelocity ?? baseVelocity(hit)),
    };
  });
  const doubles = voices.flatMap(findDoubles);
  const doubled = new Set(doubles.map(({ hitId }) => hitId));
  const talks = voices.flatMap((victim) => findCrossTalk(victim, doubled, voices));
  const talked = new Set(talks.map(({ hitId }) => hitId));
  return [...doubles.filter(({ hitId }) => !talked.has(hitId)), ...talks];
}

function findDoubles({ voiceId, hits, timesMs, velocities }: VoiceTimes): readonly DoubleTrigger[] {
  const mainRows = findGraceNotes({ timesMs, velocities }, new Float64Array(hits.length).fill(GRACE_STEP_MS));
  const found: DoubleTrigger[] = [];
  let causeRow = 0;
  let quick = 0;
  for (let row = 1; row < hits.length; row++) {
    const afterMs = timesMs[row]! - timesMs[causeRow]!;
    const loudness = velocities[row]! / velocities[causeRow]!;
    if (timesMs[row]! - timesMs[row - 1]! <= DOUBLE_MS[1] && mainRows[row] === -1 && mainRows[row - 1] === -1) quick++;
    const isGrace = mainRows[row] !== -1 || mainRows[causeRow] !== -1;
    if (!isGrace && afterMs >= DOUBLE_MS[0] && afterMs <= DOUBLE_MS[1] && loudness <= DOUBLE_LOUDNESS) {
      const [hit, cause] = [hits[row]!, hits[causeRow]!];
      found.push({
        kind: "double",
        hitId: hit.id,
        voiceId,
        causeId: cause.id,
        causeVoiceId: voiceId,
        afterMs,
        loudness,
      });
      continue; // what comes next is measured from the stroke, not from its echo
    }
    causeRow = row;
  }
  if (quick > MOST_DOUBLES_SHARE * hits.length && hits.length > 8) return [];
  if (!playsRolls(timesMs, found, hits)) return found;
  return found.filter(({ afterMs, loudness }) => afterMs <= DOUBLE_MS_IN_ROLLS && loudness <= DOUBLE_LOUDNESS_IN_ROLLS);
}

/** Whether enough strokes, without those that may be echoes, follow each other as quickly as in a roll. */
function playsRolls(timesMs: Float64Array, echoes: readonly DoubleTrigger[], hits: readonly Hit[]): boolean {
  const echoIds = new Set(echoes.map(({ hitId }) => hitId));
  let quick = 0;
  let before = Number.NEGATIVE_INFINITY;
  for (let row = 0; row < hits.length; row++) {
    if (echoIds.has(hits[row]!.id)) continue;
    // Grace notes are nearer still, and no roll.
    const afterMs = timesMs[row]! - before;
    if (afterMs <= ROLL_MS && afterMs > DOUBLE_MS[1]) quick++;
    before = timesMs[row]!;
  }
  return quick >= ROLLS_SHARE * hits.length;
}

interface TalkEvent {
  readonly row: number;
  readonly cause: VoiceTimes;
  readonly causeRow: number;
  readonly afterMs: number;
}

/** What some weak hits of a pad came with. */
interface WeakHits {
  readonly count: number;
  /** Those of them that came with a hard stroke on another. */
  readonly events: readonly TalkEvent[];
  /** How many were struck together with another, but not at once. */
  readonly playedAlong: number;
}

/**
 * What a pad picked up from others, whichever they are. One pad may hear several, and each of them seldom: whether it does is judged
 * by how many of its weak hits come with a hard stroke on any. Such a hit may come just after a stroke of its own as well.
 * @param doubled hits that came so soon after one of their own pad that it may have triggered twice
 */
function findCrossTalk(
  victim: VoiceTimes,
  doubled: ReadonlySet<string>,
  voices: readonly VoiceTimes[],
): readonly CrossTalk[] {
  const plain = weakHits(victim, voices, (id) => !doubled.has(id));
  const echoes = weakHits(victim, voices, (id) => doubled.has(id));
  const both = {
    count: plain.count + echoes.count,
    events: [...plain.events, ...echoes.events].sort((one, other) => one.row - other.row),
    playedAlong: plain.playedAlong + echoes.playedAlong,
  };
  const isSeldom =
    plain.events.length > 0 &&
    plain.events.length === plain.count &&
    plain.events.every((event) => isFaintest(victim, event));
  const { count, events } = isHabit(plain) || isHabit(both) ? both : isSeldom ? plain : NO_HITS;
  return events.map(({ row, cause, causeRow, afterMs }) => ({
    kind: "crossTalk",
    hitId: victim.hits[row]!.id,
    voiceId: victim.voiceId,
    causeId: cause.hits[causeRow]!.id,
    causeVoiceId: cause.voiceId,
    afterMs,
    loudness: victim.velocities[row]! / cause.velocities[causeRow]!,
    ofWeakHits: count,
    withCause: events.length,
  }));
}

const NO_HITS: WeakHits = { count: 0, events: [], playedAlong: 0 };

const isHabit = ({ count, events, playedAlong }: WeakHits): boolean =>
  events.length >= FEWEST_TALKS &&
  events.length >= SMALLEST_SHARE * count &&
  playedAlong <= MOST_PLAYED_ALONG * events.length;

/** Some of the hits of a pad that are weak enough to be picked up from another. */
function weakHits(victim: VoiceTimes, voices: readonly VoiceTimes[], isOf: (hitId: string) => boolean): WeakHits {
  const events: TalkEvent[] = [];
  let [count, playedAlong] = [0, 0];
  for (let row = 0; row < victim.hits.length; row++) {
    if (victim.velocities[row]! > LOUDEST_TALK || !isOf(victim.hits[row]!.id)) continue;
    count++;
    let picked: TalkEvent | null = null;
    let isNear = false;
    for (const cause of voices) {
      if (cause === victim || cause.hits.length === 0) continue;
      const event = nearest(victim, row, cause);
      if (Math.abs(event.afterMs) > PLAYED_ALONG_MS) continue;
      isNear = true;
      // A weak hit may have come with two strokes at once; the nearer one is to blame.
      const isNearer = picked === null || Math.abs(event.afterMs) < Math.abs(picked.afterMs);
      if (isNearer && isPickedUp(victim, event)) picked = event;
    }
    if (picked) events.push(picked);
    else if (isNear) playedAlong++;
  }
  return { count, events, playedAlong };
}

function nearest(victim: VoiceTimes, row: number, cause: VoiceTimes): TalkEvent {
  const causeRow = nearestRow(cause.timesMs, victim.timesMs[row]!);
  return { row, cause, causeRow, afterMs: victim.timesMs[row]! - cause.timesMs[causeRow]! };
}

function isPickedUp({ velocities }: VoiceTimes, { row, cause, causeRow, afterMs }: TalkEvent): boolean {
  const causeVelocity = cause.velocities[causeRow]!;
  const isHard = causeVelocity >= SOFTEST_CAUSE;
  return isHard && velocities[row]! <= TALK_LOUDNESS * causeVelocity && afterMs >= TALK_MS[0] && afterMs <= TALK_MS[1];
}

/** Whether a hit is so faint and so much at once that even a single one was hardly meant. */
function isFaintest({ velocities }: VoiceTimes, { row, cause, causeRow, afterMs }: TalkEvent): boolean {
  const isFaint = velocities[row]! <= FAINTEST && velocities[row]! <= FAINTEST_LOUDNESS * cause.velocities[causeRow]!;
  return isFaint && Math.abs(afterMs) <= AT_ONCE_MS;
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

/**
 * Why a hit is taken for a fault, in a sentence: `Rack tom, 9 % as loud as the snare 3 ms before; 41 of 44 such hits come with one.`
 * @param nameOf the name of a voice
 */
export function faultSentence(fault: Fault, nameOf: (voiceId: string) => string): string {
  const share = `${Math.max(1, Math.round(fault.loudness * 100))} % as loud`;
  const ms = Math.round(Math.abs(fault.afterMs));
  if (fault.kind === "double")
    return `${nameOf(fault.voiceId)}, ${share} as its stroke ${ms} ms before: it triggered twice.`;
  const when = ms === 0 ? "at the same time" : `${ms} ms ${fault.afterMs < 0 ? "after" : "before"}`;
  const cause = nameOf(fault.causeVoiceId).toLowerCase();
  return `${nameOf(fault.voiceId)}, ${share} as the ${cause} ${when}; ${fault.withCause} of ${fault.ofWeakHits} such weak hits come with one.`;
}
