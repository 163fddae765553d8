import { remembering } from "../remember.ts";
import type { MeterChange, TempoChange } from "../time/index.ts";
import type { Arrangement } from "./arrangement.ts";
import type { Fullness, HitChance } from "./chance.ts";
import type { NoteMap, NoteStream, Strike } from "./index.ts";
import type { Levels } from "./levels.ts";
import { trackLabel } from "./note-stream.ts";
import type { OtherSide } from "./other-side.ts";
import { ROLES, type Role } from "./role.ts";
import type { FilePlace, Timeline } from "./timeline.ts";
import { type TimingTreatment, type Treatment, takenLatencyMs } from "./treatment.ts";

/** One struck note. What was recorded never changes; what a hand sets is kept beside it. */
export interface Hit {
  /** `track:message` of its note-on in the file, or any other text for a hit added by hand. */
  readonly id: string;
  /** Which stream of the take it came from and goes out on: an index into `Pattern.streams`. */
  readonly streamIndex: number;
  /** The note as it came in, 0 to 127. */
  readonly note: number;
  readonly voiceId: string;
  readonly articulationId: string;
  /** Where the hat pedal was, 0 (open) to 127 (pressed); null if the take says nothing of a pedal. */
  readonly pedal: number | null;
  /** When the foot shut the hats after it, in ticks from its onset; null if they were shut, or stayed open. */
  readonly shutTicks: number | null;
  /** When a hand, or the end of its note, stopped it, in ticks from its onset; null if nothing did. */
  readonly chokedTicks: number | null;
  /** Null for a hit added by hand. */
  readonly recordedTick: number | null;
  /** 1 to 127; null for a hit added by hand. */
  readonly recordedVelocity: number | null;
  /** Where a hand put it; null means the lane's treatment places it. */
  readonly pinnedTick: number | null;
  /** How loud a hand made it, 1 to 127; null means the lane's treatment says. */
  readonly pinnedVelocity: number | null;
  /** Left out unless a hand has muted it: then it stays in its lane, but is neither heard nor exported. */
  readonly isMuted?: true;
  /** How long its note lasts when it goes out, 1 at the least. Left out unless a hand has mended it. */
  readonly lengthTicks?: number;
  /** What a hand says it is. Left out, its loudness says so. */
  readonly role?: Role;
  /** How much of the swing of its grid it follows, 0 to 100. Left out, as the treatment says: all of it, as a rule. */
  readonly swingSharePercent?: number;
  /** Left out, it is played always. */
  readonly chance?: HitChance;
  /** How much of its lane's deviation in time and loudness it takes, 0 to 200. Left out, 100. */
  readonly deviationPercent?: number;
  /** How far it is moved from where its lane's treatment or a hand has put it, at any tempo; later is positive. Left out, 0. */
  readonly offsetMs?: number;
  /** Where it is in the file. Left out unless the take is on a time of its own, and not on that of its file. */
  readonly inFile?: FilePlace;
  /** In which pass it was played in, from 1 on. Left out for hits of the file, and for those added by hand. */
  readonly pass?: number;
  /** The pass that plays in its place: as long as that one is heard, it is muted. */
  readonly replacedBy?: number;
}

/** What passes of recording have to do with a hit. */
export type PassMarks = Pick<Hit, "pass" | "replacedBy">;

export function passMarksOf({ pass, replacedBy }: Hit): PassMarks {
  return { ...(pass === undefined ? {} : { pass }), ...(replacedBy === undefined ? {} : { replacedBy }) };
}

/** Whether a hit is a message of the take's file. Others are played in, or added by hand. */
export function isOfFile(hit: Hit): boolean {
  return hit.recordedTick !== null && hit.pass === undefined;
}

/**
 * The drums that the file has hits of. What the take came in late by holds of those: what is played in here comes without the delay of
 * its input, and what is put by hand where it is meant.
 */
export const voicesOfFile = ({ hits }: Pick<Pattern, "hits">): ReadonlySet<string> =>
  new Set(hits.filter(isOfFile).map(({ voiceId }) => voiceId));

/** How much is taken off where a hit was recorded, as what the take came in late by. */
export const lateMsOf = (hit: Hit, timing: TimingTreatment): number => (isOfFile(hit) ? takenLatencyMs(timing) : 0);

/** What a hand says of a hit, so that treatments know. Left out, its loudness and its lane say it. */
export type HitMarks = Pick<Hit, (typeof HIT_MARKS)[number]>;
const HIT_MARKS = ["role", "swingSharePercent", "chance", "deviationPercent", "offsetMs"] as const;

/** What a hand says of a hit; nothing that it does not say is in it. */
export function marksOf(hit: Hit): HitMarks {
  return Object.fromEntries(HIT_MARKS.flatMap((mark) => (hit[mark] === undefined ? [] : [[mark, hit[mark]]])));
}

/** What a copy of a hit takes along. */
export type CopiedMarks = HitMarks & Pick<Hit, "isMuted" | "lengthTicks">;

export function copiedMarksOf(hit: Hit): CopiedMarks {
  const { isMuted, lengthTicks } = hit;
  return {
    ...marksOf(hit),
    ...(isMuted ? { isMuted } : {}),
    ...(lengthTicks === undefined ? {} : { lengthTicks }),
  };
}

/** A hit with other marks instead of its own. */
export function withMarks(hit: Hit, marks: HitMarks): Hit {
  const bare: { -readonly [Field in keyof Hit]: Hit[Field] } = { ...hit };
  for (const mark of HIT_MARKS) delete bare[mark];
  return { ...bare, ...marks };
}

/** A message as a hand changed it; null for one that was taken out. */
export type ChangedMessage = {
  /** In ticks of the pattern. */
  readonly tick: number;
  /** Of a channel message its status and data bytes, of others their data. */
  readonly bytes: readonly number[];
} | null;

/** The row of one voice. */
export interface Lane {
  readonly voiceId: string;
  readonly treatment: Treatment;
}

export interface Pattern {
  /** Left out unless the take is on a time that was found for it. */
  readonly timeline?: Timeline;
  /** 480 at the least: coarser files are scaled up when they come in. */
  readonly ppq: number;
  /** A bar line: where the pattern ends. */
  readonly lengthTicks: number;
  readonly meters: readonly MeterChange[];
  readonly tempos: readonly TempoChange[];
  readonly streams: readonly NoteStream[];
  /** What each incoming note plays. Every pattern has its own, so that naming a note here changes nothing elsewhere. */
  readonly noteMap: NoteMap;
  /** For the kit that will play it; null: hits go out on the notes they came in on. */
  readonly outgoingMap: NoteMap | null;
  /** What a hand made of messages that are no hits, by their `track:message`. */
  readonly changedMessages: Readonly<Record<string, ChangedMessage>>;
  /** The hits of the streams that are drums, sorted by `compareHits`. */
  readonly hits: readonly Hit[];
  readonly lanes: readonly Lane[];
  /** The patterns that the take was cut into, and the song of them. Left out until it is cut. */
  readonly arrangement?: Arrangement;
  /** How loud drums are in the mix. Left out, all are as the kit has them. */
  readonly levels?: Levels;
  /** Which of the hits that are not played always are played. Left out, as usual. */
  readonly fullness?: Fullness;
  /** Left out until a second set of settings is kept. */
  readonly otherSide?: OtherSide;
}

/** What is known of a hit's note as it came in. */
export function strikeOf({ streams }: Pick<Pattern, "streams">, { note, pedal, streamIndex }: Hit): Strike {
  const stream = streams[streamIndex];
  return { note, pedal, channel: stream?.channel ?? 0, ...(stream ? { track: trackLabel(stream) } : {}) };
}

/** Where a hit is before treatment. */
export function baseTick(hit: Hit): number {
  return hit.pinnedTick ?? hit.recordedTick ?? 0;
}

/** How loud a hit is before treatment, 1 to 127. */
export function baseVelocity(hit: Hit): number {
  return hit.pinnedVelocity ?? hit.recordedVelocity ?? 1;
}

/** By recorded tick (for added hits, by where they were put), then by id: an order that no move changes. */
export function compareHits(a: Hit, b: Hit): number {
  const ticks = (a.recordedTick ?? a.pinnedTick ?? 0) - (b.recordedTick ?? b.pinnedTick ?? 0);
  return ticks || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);
}

/** The hits of each voice, in the order in which they sound before treatment. */
export function hitsByVoice(hits: readonly Hit[]): ReadonlyMap<string, readonly Hit[]> {
  const compare = (a: Hit, b: Hit) => baseTick(a) - baseTick(b) || compareHits(a, b);
  const byVoice = new Map<string, Hit[]>();
  // Where a hand has put nothing elsewhere they are in order, which is seen at once while they are at hand.
  const unsorted = new Set<Hit[]>();
  for (const hit of hits) {
    const hitsOfVoice = byVoice.get(hit.voiceId);
    if (!hitsOfVoice) byVoice.set(hit.voiceId, [hit]);
    else {
      if (compare(hitsOfVoice[hitsOfVoice.length - 1]!, hit) > 0) unsorted.add(hitsOfVoice);
      hitsOfVoice.push(hit);
    }
  }
  for (const hitsOfVoice of unsorted) hitsOfVoice.sort(compare);
  return byVoice;
}

/** One number of each hit as a column. A plain loop: `Float64Array.from` goes through an iterator and is ten times slower. */
export function columnOf(hits: readonly Hit[], read: (hit: Hit) => number): Float64Array<ArrayBuffer> {
  const column = new Float64Array(hits.length);
  for (let row = 0; row < column.length; row++) column[row] = read(hits[row]!);
  return column;
}

/** What a treatment needs of a lane, as columns: reading 20,000 hits several times took longer than the arithmetic. */
export interface LaneColumns {
  /** Where each hit is before treatment, ascending. */
  readonly ticks: Float64Array;
  /** 1 to 127, before treatment. */
  readonly velocities: Float64Array;
  /** As they came in; of hits added by hand as they were put. */
  readonly recordedVelocities: Float64Array;
  /** 1 where a hand has set the time. */
  readonly isPinned: Uint8Array;
  /** 1 where a hand has set the loudness. */
  readonly isVelocityPinned: Uint8Array;
  /** 1 for hits that were played in here. Null if there are none. */
  readonly isPlayedIn: Uint8Array | null;
  /** The roles that a hand has set: 0 for none, otherwise one more than the place in `ROLES`. Null if there are none. */
  readonly roleMarks: Uint8Array | null;
  /** The shares of swing that a hand has set, or -1. Null if there are none. */
  readonly swingShares: Float64Array | null;
  /** How much of the deviation each takes, 1 for all of it. Null if all take all. */
  readonly deviationShares: Float64Array | null;
  /** How far a hand has moved each off its place. Null if none. */
  readonly offsetsMs: Float64Array | null;
}

/** Lanes are treated on every frame of a drag, and their hits never change, so the columns of each are read once. */
const rememberColumns = remembering<readonly Hit[], LaneColumns>();

export const columnsOf = (hits: readonly Hit[]): LaneColumns => rememberColumns(hits, [], () => readColumns(hits));

function readColumns(hits: readonly Hit[]): LaneColumns {
  const ticks = new Float64Array(hits.length);
  const velocities = new Float64Array(hits.length);
  const recordedVelocities = new Float64Array(hits.length);
  const isPinned = new Uint8Array(hits.length);
  const isVelocityPinned = new Uint8Array(hits.length);
  let [hasPasses, hasRoles, hasSwingShares, hasDeviations, hasOffsets] = [false, false, false, false, false];
  // All at one go: to fetch half a million hits from memory takes longer than anything that is done to them.
  for (let row = 0; row < hits.length; row++) {
    const hit = hits[row]!;
    ticks[row] = baseTick(hit);
    velocities[row] = baseVelocity(hit);
    recordedVelocities[row] = hit.recordedVelocity ?? velocities[row]!;
    isPinned[row] = hit.pinnedTick === null ? 0 : 1;
    isVelocityPinned[row] = hit.pinnedVelocity === null ? 0 : 1;
    hasPasses ||= hit.pass !== undefined;
    hasRoles ||= hit.role !== undefined;
    hasSwingShares ||= hit.swingSharePercent !== undefined;
    hasDeviations ||= hit.deviationPercent !== undefined;
    hasOffsets ||= hit.offsetMs !== undefined;
  }
  return {
    ticks,
    velocities,
    recordedVelocities,
    isPinned,
    isVelocityPinned,
    isPlayedIn: hasPasses ? new Uint8Array(columnOf(hits, ({ pass }) => (pass === undefined ? 0 : 1))) : null,
    roleMarks: hasRoles ? new Uint8Array(columnOf(hits, ({ role }) => (role ? ROLES.indexOf(role) + 1 : 0))) : null,
    swingShares: hasSwingShares ? columnOf(hits, ({ swingSharePercent = -1 }) => swingSharePercent) : null,
    deviationShares: hasDeviations ? columnOf(hits, ({ deviationPercent = 100 }) => deviationPercent / 100) : null,
    offsetsMs: hasOffsets ? columnOf(hits, ({ offsetMs = 0 }) => offsetMs) : null,
  };
}
