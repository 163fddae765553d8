import { findVoice, isOfFile } from "../document/index.ts";
import { compareHits, type Hit, type Pattern } from "../document/pattern.ts";
import {
  type ChannelMessage,
  channelOf,
  isNoteOff,
  isNoteOn,
  META,
  type MidiFile,
  type MidiMessage,
  NO_END,
  pairNotes,
} from "../smf/index.ts";
import { ADDED_NOTE_QUARTERS, isReset, lastingTicks } from "./note-lengths.ts";
import { isPedalMove, PEDAL_CONTROLLER } from "./pedal.ts";
import type { Placement } from "./place-hits.ts";

/** A message on its way out. Of several at one tick, ends of moved notes go first, so that they cannot cut a new one. */
export interface Outgoing {
  readonly message: MidiMessage;
  /** Its place in the track of the file; `ADDED` for one that is not in the file. */
  readonly sourceIndex: number;
  readonly isMovedEnd: boolean;
  /** The voice of a drum note's messages; null for everything else. */
  readonly voiceId: string | null;
  /** The hit of a drum note's messages. */
  readonly hit: Hit | null;
}

/** How hard a hand presses that stops a cymbal. */
const HAND_PRESSURE = 127;

/** The place in the file of what is not in it. */
export const ADDED = -1;

/** A kept drum note of a track. */
interface KeptNote {
  readonly onIndex: number;
  /** `NO_END` for a note that hangs. */
  readonly endIndex: number;
  /** Where its two messages are in the pattern before it is moved. */
  readonly onTick: number;
  readonly endTick: number;
  readonly placement: Placement;
}

/** The placed hits of one track. */
export interface PlacedTrack {
  /** Those that came in on it, by the places of their messages in it. */
  readonly cameIn: readonly (Placement | undefined)[];
  /** Those that go out on it and did not come in there, in the order of the pattern. */
  readonly added: readonly Placement[];
}

/** Looks through all placed hits once, for all tracks of a file. */
export function placedTracks(
  { tracks }: MidiFile,
  { streams }: Pattern,
  placements: ReadonlyMap<string, Placement>,
): readonly PlacedTrack[] {
  const placed = tracks.map(({ messages }) => ({
    cameIn: Array<Placement | undefined>(messages.length).fill(undefined),
    added: [] as Placement[],
  }));
  for (const placement of placements.values()) {
    const { hit, trackIndex } = placement;
    const from = isOfFile(hit) ? streams[hit.streamIndex]?.trackIndex : undefined;
    if (from !== undefined && placed[from]) placed[from].cameIn[messageIndexOf(hit)] = placement;
    if (from !== trackIndex) placed[trackIndex]?.added.push(placement);
  }
  for (const { added } of placed) added.sort((a, b) => compareHits(a.hit, b.hit));
  return placed;
}

/** The place of a hit's note-on in its track. */
const messageIndexOf = ({ id }: Hit) => Number(id.slice(id.indexOf(":") + 1));

/**
 * The messages of one track as they go out, in pattern ticks: drum notes where their hits are placed, pedal moves and
 * choking hands along with the strokes they belong to, messages that a hand changed as it left them, all else as it was.
 * @param placements of all hits, and of them `placed` those of this track
 * @param at where a tick of the file is in the pattern
 * @param isGone whether a tick of the file is in bars that were taken out; null if there are none
 */
export function outgoingOfTrack(
  messages: readonly MidiMessage[],
  trackIndex: number,
  pattern: Pattern,
  placements: ReadonlyMap<string, Placement>,
  placed: PlacedTrack,
  at: (fileTick: number) => number,
  isGone: ((fileTick: number) => boolean) | null,
): readonly Outgoing[] {
  const drumChannels = new Set(
    pattern.streams.flatMap((stream) => (stream.isDrums && stream.trackIndex === trackIndex ? [stream.channel] : [])),
  );
  const nextOnset = onsetsAfter(trackIndex, placements);
  const { notes, toTicks, removed } = placeNotes(messages, trackIndex, drumChannels, placed.cameIn, at, nextOnset);
  // Made for a channel when its pedal moves: it looks through all hits.
  const followers = new Map<number, (tick: number) => number>();
  const followPedal = (channel: number) => {
    const follow = followers.get(channel) ?? pedalFollower(pattern, channel, placements);
    followers.set(channel, follow);
    return follow;
  };
  /** The last stroke on each note. */
  const struck = new Map<number, KeptNote>();
  const usualTicks = Math.round(pattern.ppq * ADDED_NOTE_QUARTERS);
  const hasChanges = Object.keys(pattern.changedMessages).length > 0;
  if (isGone) for (const index of notesTakenOut(messages, drumChannels, isGone)) removed[index] = 1;
  const outgoing: Outgoing[] = [];
  // Hot: a take can have a million messages. No pairs of index and message, and a name is made only where one is looked for.
  for (let index = 0; index < messages.length; index++) {
    if (removed[index] === 1) continue;
    const message = messages[index]!;
    const note = notes[index];
    const changed = hasChanges ? pattern.changedMessages[`${trackIndex}:${index}`] : undefined;
    if (changed === null) continue;
    const tick = at(message.tick);
    if (note && message.kind === "channel") {
      const { placement } = note;
      const { hit, voiceId } = placement;
      const isEnd: boolean = isNoteOff(message);
      if (!isEnd) struck.set(message.data1, note);
      const moved = noteMessage(message, changed ? changed.tick : toTicks[index]!, placement);
      outgoing.push({ message: moved, sourceIndex: index, isMovedEnd: isEnd && moved.tick !== tick, voiceId, hit });
      // A note that never ended has no note-off that could be moved.
      if (!isEnd && note.endIndex === NO_END && isReset(placement.length)) {
        const end = { kind: "channel", status: 0x80 | placement.channel, data1: placement.note, data2: 64 } as const;
        const ending = { ...end, tick: endOf(placement, usualTicks, nextOnset) };
        outgoing.push({ message: ending, sourceIndex: ADDED, isMovedEnd: true, voiceId, hit });
      }
      continue;
    }
    let next: MidiMessage = { ...message, tick };
    let hit: Hit | null = null;
    if (message.kind === "channel" && drumChannels.has(channelOf(message))) {
      const pressed = message.status >> 4 === 0xa ? struck.get(message.data1) : undefined;
      if (pressed) {
        const toTick = tick + pressed.placement.tick - pressed.onTick;
        next = noteMessage(message, toTick, pressed.placement, message.data2);
        hit = pressed.placement.hit;
      } else if (isPedalMove(message)) {
        next = { ...message, tick: followPedal(channelOf(message))(tick) };
      }
    }
    const written = changed ? withChange(next, changed) : next;
    outgoing.push({ message: written, sourceIndex: index, isMovedEnd: false, voiceId: null, hit });
  }
  for (const added of addedNotes(placed.added, pattern, nextOnset)) outgoing.push(added);
  return outgoing;
}

/** Notes of other instruments that begin in bars that were taken out, with their ends, and what is written there. */
function notesTakenOut(
  messages: readonly MidiMessage[],
  drumChannels: ReadonlySet<number>,
  isGone: (fileTick: number) => boolean,
): readonly number[] {
  const ends = pairNotes(messages);
  const gone: number[] = [];
  for (const [index, message] of messages.entries()) {
    if (!isGone(message.tick)) continue;
    if (message.kind === "meta" && WRITTEN_METAS.has(message.metaType)) gone.push(index);
    if (!isNoteOn(message) || drumChannels.has(channelOf(message))) continue;
    const end = ends[index]!;
    gone.push(index, ...(end === NO_END ? [] : [end]));
  }
  return gone;
}

/** What is written at a place, and nowhere else. */
const WRITTEN_METAS: ReadonlySet<number> = new Set([META.lyric, META.marker, META.cuePoint]);

/** A message as a hand changed it. */
export function withChange(
  message: MidiMessage,
  { tick, bytes }: NonNullable<Pattern["changedMessages"][string]>,
): MidiMessage {
  if (message.kind !== "channel") return { ...message, tick, data: Uint8Array.from(bytes) };
  const [status = message.status, data1 = 0, data2 = 0] = bytes;
  return { kind: "channel", tick, status, data1, data2 };
}

function noteMessage(
  message: ChannelMessage,
  tick: number,
  { note, channel, velocity }: Placement,
  pressure?: number,
): ChannelMessage {
  const isOnset: boolean = isNoteOn(message);
  const data2 = pressure ?? (isOnset ? velocity : message.data2);
  const status = (message.status & 0xf0) | channel;
  return { kind: "channel", tick: Math.max(0, tick), status, data1: note, data2 };
}

/** Where the two messages of each drum note go. Notes whose hit was removed go with it. */
function placeNotes(
  messages: readonly MidiMessage[],
  trackIndex: number,
  drumChannels: ReadonlySet<number>,
  cameIn: PlacedTrack["cameIn"],
  at: (fileTick: number) => number,
  nextOnset: NextOnset,
) {
  const ends = pairNotes(messages);
  /** By the places of their messages in the track. */
  const notes: (KeptNote | undefined)[] = Array(messages.length).fill(undefined);
  /** Where those messages go. */
  const toTicks = new Float64Array(messages.length);
  const removed = new Uint8Array(messages.length);
  const notesOfKey = new Map<number, KeptNote[]>();
  for (let onIndex = 0; onIndex < messages.length; onIndex++) {
    const message = messages[onIndex]!;
    if (!isNoteOn(message) || !drumChannels.has(channelOf(message))) continue;
    const endIndex = ends[onIndex]!;
    const placement = cameIn[onIndex];
    // What goes out on another track is added there.
    if (placement?.trackIndex !== trackIndex) {
      removed[onIndex] = 1;
      if (endIndex !== NO_END) removed[endIndex] = 1;
      continue;
    }
    const onTick = at(message.tick);
    const endTick = endIndex === NO_END ? onTick : at(messages[endIndex]!.tick);
    const note = { onIndex, endIndex, onTick, endTick, placement };
    const ofKey = notesOfKey.get(keyOf(placement));
    if (ofKey) ofKey.push(note);
    else notesOfKey.set(keyOf(placement), [note]);
  }
  for (const ofKey of notesOfKey.values()) {
    ofKey.sort((a, b) => a.placement.tick - b.placement.tick);
    for (let index = 0; index < ofKey.length; index++) {
      const note = ofKey[index]!;
      const { onIndex, endIndex, onTick, endTick, placement } = note;
      notes[onIndex] = note;
      toTicks[onIndex] = placement.tick;
      if (endIndex === NO_END) continue;
      const next = ofKey[index + 1];
      const shiftedEnd = endOf(placement, endTick - onTick, nextOnset);
      // A note that ended before the next one still does.
      const mayCut = next !== undefined && endTick <= next.onTick;
      const isCut = mayCut && shiftedEnd > next.placement.tick;
      notes[endIndex] = note;
      toTicks[endIndex] = isCut ? next.placement.tick : shiftedEnd;
    }
  }
  return { notes, toTicks, removed };
}

/** Where the next note of the same key begins after a placement; infinite after the last. */
type NextOnset = (placement: Placement) => number;

const keyOf = ({ channel, note }: Placement) => (channel << 7) | note;

/** Looks through the onsets of a track, those of its file and those that are added, once somebody asks. */
function onsetsAfter(trackIndex: number, placements: ReadonlyMap<string, Placement>): NextOnset {
  let found: ReadonlyMap<number, readonly number[]> | null = null;
  return (placement) => {
    found ??= onsetTicks(trackIndex, placements);
    const ticks = found.get(keyOf(placement)) ?? [];
    let [low, high] = [0, ticks.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (ticks[middle]! <= placement.tick) low = middle + 1;
      else high = middle;
    }
    return ticks[low] ?? Number.POSITIVE_INFINITY;
  };
}

/** Where notes begin on a track, ascending, for each key. */
function onsetTicks(trackIndex: number, placements: ReadonlyMap<string, Placement>) {
  const ticksOfKey = new Map<number, number[]>();
  for (const placement of placements.values()) {
    if (placement.trackIndex !== trackIndex) continue;
    const ticks = ticksOfKey.get(keyOf(placement));
    if (ticks) ticks.push(placement.tick);
    else ticksOfKey.set(keyOf(placement), [placement.tick]);
  }
  for (const ticks of ticksOfKey.values()) ticks.sort((a, b) => a - b);
  return ticksOfKey;
}

/** Where a note ends. One whose length was set ends before the next of its key, which its end would cut. */
function endOf(placement: Placement, recordedTicks: number, nextOnset: NextOnset): number {
  const end = placement.tick + lastingTicks(placement.length, recordedTicks);
  return isReset(placement.length) ? Math.min(end, nextOnset(placement)) : end;
}

/**
 * Moves of the hat pedal keep their place among the strokes of the hats: between two strokes they move as those do. A
 * stroke that is pulled ahead of the pedal move that opened it would sound shut.
 */
function pedalFollower(
  pattern: Pattern,
  channel: number,
  placements: ReadonlyMap<string, Placement>,
): (tick: number) => number {
  const hats = new Set(
    pattern.lanes.flatMap(({ voiceId }) => (findVoice(pattern.noteMap, voiceId).family === "hats" ? [voiceId] : [])),
  );
  const isHat = (hit: Hit) =>
    hit.pedal !== null &&
    hats.has(hit.voiceId) &&
    isOfFile(hit) &&
    pattern.streams[hit.streamIndex]?.channel === channel;
  const from: number[] = [];
  const to: number[] = [];
  for (const hit of pattern.hits) {
    const placement = isHat(hit) && placements.get(hit.id);
    if (!placement) continue;
    from.push(hit.recordedTick!);
    // Hits that a hand has put in another order cannot be followed further than to the last of them.
    to.push(Math.max(to.at(-1) ?? 0, placement.tick));
  }
  if (from.every((tick, index) => tick === to[index])) return (tick) => tick;
  return (tick) => {
    let low = 0;
    let high = from.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (from[middle]! < tick) low = middle + 1;
      else high = middle;
    }
    const [startFrom, startTo] = low === 0 ? [0, 0] : [from[low - 1]!, to[low - 1]!];
    if (low === from.length) return tick + startTo - startFrom;
    const span = from[low]! - startFrom;
    return span === 0 ? to[low]! : Math.round(startTo + ((tick - startFrom) / span) * (to[low]! - startTo));
  };
}

/** The notes of hits that are not in the track of the file: written by hand, played in, or of a drum that has its notes on another one. */
function addedNotes(added: PlacedTrack["added"], { ppq }: Pattern, nextOnset: NextOnset): Outgoing[] {
  const usualTicks = Math.round(ppq * ADDED_NOTE_QUARTERS);
  return added.flatMap((placement): Outgoing[] => {
    const { hit, tick, velocity, note, channel, voiceId } = placement;
    const on: MidiMessage = { kind: "channel", tick, status: 0x90 | channel, data1: note, data2: velocity };
    const end: MidiMessage = {
      kind: "channel",
      tick: endOf(placement, usualTicks, nextOnset),
      status: 0x80 | channel,
      data1: note,
      data2: 64,
    };
    // A hand that stopped it goes out as it would have come in.
    const pressure = (value: number, after: number): Outgoing => ({
      message: { kind: "channel", tick: tick + after, status: 0xa0 | channel, data1: note, data2: value },
      sourceIndex: ADDED,
      isMovedEnd: false,
      voiceId: null,
      hit,
    });
    const hand =
      hit.pass === undefined || hit.chokedTicks === null
        ? []
        : [pressure(HAND_PRESSURE, hit.chokedTicks), pressure(0, hit.chokedTicks + 1)];
    // A kit that tells open from shut hats by the pedal has to know where the foot was.
    const tread: Outgoing[] =
      hit.pass === undefined || hit.pedal === null
        ? []
        : [
            {
              message: { kind: "channel", tick, status: 0xb0 | channel, data1: PEDAL_CONTROLLER, data2: hit.pedal },
              sourceIndex: ADDED,
              isMovedEnd: false,
              voiceId,
              hit,
            },
          ];
    return [
      ...tread,
      { message: on, sourceIndex: ADDED, isMovedEnd: false, voiceId, hit },
      { message: end, sourceIndex: ADDED, isMovedEnd: true, voiceId, hit },
      ...hand,
    ];
  });
}
