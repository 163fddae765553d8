import { findVoice, meaningOfNote, outgoingNote } from "../notemap/index.ts";
import {
  type ChannelMessage,
  channelOf,
  type Division,
  isNoteOff,
  isNoteOn,
  META,
  type MidiMessage,
  readMidiFile,
  writeMidiFile,
  writeText,
} from "../smf/index.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import { resolutionOf } from "./import-take.ts";
import { hitsByVoice, type Pattern } from "./pattern.ts";

export const TRACK_LAYOUTS = ["asRecorded", "merged", "perVoice"] as const;
/** How drum notes are spread over tracks. Whatever is no drum note stays on its track. */
export type TrackLayout = (typeof TRACK_LAYOUTS)[number];

/** Where a hit ends up, in pattern ticks. */
interface Placement {
  readonly tick: number;
  readonly velocity: number;
  /** The note it goes out on. */
  readonly note: number;
  readonly voiceId: string;
}

/**
 * Writes a take with its cleaned hits. Every message that is no drum hit stays at its tick; a hit that neither a
 * treatment nor a hand has changed stays as it was, byte for byte; a removed hit goes with its note-off.
 * The file keeps its resolution if every position fits it, else it is written finer by a whole factor.
 * @param original the bytes as they were imported
 * @param layout where the drum notes go: their own tracks, one track, or a track for each voice
 * @returns the bytes of a Standard MIDI File
 */
export function exportTake(original: Uint8Array, pattern: Pattern, layout: TrackLayout = "asRecorded"): Uint8Array {
  const { file } = readMidiFile(original);
  const { factor } = resolutionOf(file.division);
  const placements = placeHits(pattern);
  const outgoing = file.tracks.map(({ messages }, trackIndex) =>
    outgoingOfTrack(messages, trackIndex, pattern, placements, factor),
  );
  const tracks = layOut(outgoing, pattern, layout).map(inOrder);
  const format = file.format === 0 && tracks.length > 1 ? 1 : file.format;
  const { division, divisor } = divisionThatHolds(file.division, factor, tracks);
  const divided = tracks.map((messages) => ({
    messages: messages.map((message) => ({ ...message, tick: Math.round(message.tick / divisor) })),
  }));
  return writeMidiFile({ ...file, format, division, tracks: divided });
}

function placeHits(pattern: Pattern): ReadonlyMap<string, Placement> {
  const maps = buildTimeMaps(pattern);
  const byVoice = hitsByVoice(pattern.hits);
  const placements = new Map<string, Placement>();
  for (const { voiceId, treatment } of pattern.lanes) {
    const hits = byVoice.get(voiceId) ?? [];
    const cleaned = treat(hits, treatment, maps, pattern.lengthTicks);
    for (const [row, hit] of hits.entries()) {
      const note = outgoingNote(pattern.noteMap, hit.note, hit);
      placements.set(hit.id, { tick: cleaned.ticks[row]!, velocity: cleaned.velocities[row]!, note, voiceId });
    }
  }
  return placements;
}

/** A message on its way out. Of several at one tick, ends of moved notes go first, so that they cannot cut a new one. */
interface Outgoing {
  readonly message: MidiMessage;
  readonly isMovedEnd: boolean;
  /** The voice of a drum note's two messages; null for everything else. */
  readonly voiceId: string | null;
}

/** A kept drum note of a track: where its two messages are and where they go. */
interface MovedNote {
  readonly onIndex: number;
  /** Undefined for a note that hangs. */
  readonly endIndex: number | undefined;
  readonly onTick: number;
  readonly endTick: number;
  readonly newOnTick: number;
  readonly velocity: number;
  readonly note: number;
}

/** A hit added by hand sounds this long; drums ignore lengths, but a note needs an end. */
const ADDED_NOTE_QUARTERS = 1 / 8;

function outgoingOfTrack(
  messages: readonly MidiMessage[],
  trackIndex: number,
  pattern: Pattern,
  placements: ReadonlyMap<string, Placement>,
  factor: number,
): readonly Outgoing[] {
  const channels = new Set(
    pattern.streams
      .filter((stream) => stream.isDrums && stream.trackIndex === trackIndex)
      .map(({ channel }) => channel),
  );
  const isDrumOnset = (message: MidiMessage) => isNoteOn(message) && channels.has(channelOf(message));
  const ends = pairNotes(messages);
  const newTicks = new Map<number, number>();
  const newVelocities = new Map<number, number>();
  const newNotes = new Map<number, number>();
  const voiceIds = new Map<number, string>();
  const removed = new Set<number>();
  const notesOfKey = new Map<number, MovedNote[]>();
  for (const [onIndex, message] of messages.entries()) {
    if (!isDrumOnset(message)) continue;
    const { status } = message as ChannelMessage;
    const endIndex = ends.get(onIndex);
    const placement = placements.get(`${trackIndex}:${onIndex}`);
    if (!placement) {
      removed.add(onIndex);
      if (endIndex !== undefined) removed.add(endIndex);
      continue;
    }
    voiceIds.set(onIndex, placement.voiceId);
    if (endIndex !== undefined) voiceIds.set(endIndex, placement.voiceId);
    const onTick = message.tick * factor;
    const endTick = endIndex === undefined ? onTick : messages[endIndex]!.tick * factor;
    const key = (status << 8) | placement.note;
    const notes = notesOfKey.get(key) ?? [];
    notesOfKey.set(key, notes);
    notes.push({
      onIndex,
      endIndex,
      onTick,
      endTick,
      newOnTick: placement.tick,
      velocity: placement.velocity,
      note: placement.note,
    });
  }
  for (const notes of notesOfKey.values()) {
    notes.sort((a, b) => a.newOnTick - b.newOnTick);
    for (const [index, note] of notes.entries()) {
      newTicks.set(note.onIndex, note.newOnTick);
      newVelocities.set(note.onIndex, note.velocity);
      newNotes.set(note.onIndex, note.note);
      if (note.endIndex === undefined) continue;
      newNotes.set(note.endIndex, note.note);
      const next = notes[index + 1];
      const shiftedEnd = note.endTick + note.newOnTick - note.onTick;
      // A note that ended before the next one still does.
      const isCut = next !== undefined && note.endTick <= next.onTick && shiftedEnd > next.newOnTick;
      newTicks.set(note.endIndex, isCut ? next.newOnTick : shiftedEnd);
    }
  }
  const outgoing: Outgoing[] = [];
  for (const [index, message] of messages.entries()) {
    if (removed.has(index)) continue;
    const tick = newTicks.get(index) ?? message.tick * factor;
    const velocity = newVelocities.get(index);
    const note = newNotes.get(index);
    outgoing.push({
      message: {
        ...message,
        tick,
        ...(note === undefined ? {} : { data1: note }),
        ...(velocity === undefined ? {} : { data2: velocity }),
      } as MidiMessage,
      isMovedEnd: isNoteOff(message) && tick !== message.tick * factor,
      voiceId: voiceIds.get(index) ?? null,
    });
  }
  return [...outgoing, ...addedNotes(trackIndex, pattern, placements)];
}

/** The notes of hits that were added by hand, on the track and channel of their stream. */
function addedNotes(trackIndex: number, pattern: Pattern, placements: ReadonlyMap<string, Placement>): Outgoing[] {
  const lengthTicks = Math.round(pattern.ppq * ADDED_NOTE_QUARTERS);
  return pattern.hits.flatMap((hit): Outgoing[] => {
    const stream = pattern.streams[hit.streamIndex];
    const placement = placements.get(hit.id);
    if (hit.recordedTick !== null || stream?.trackIndex !== trackIndex || !placement) return [];
    const { tick, velocity, note, voiceId } = placement;
    const { channel } = stream;
    return [
      {
        message: { kind: "channel", tick, status: 0x90 | channel, data1: note, data2: velocity },
        isMovedEnd: false,
        voiceId,
      },
      {
        message: { kind: "channel", tick: tick + lengthTicks, status: 0x80 | channel, data1: note, data2: 64 },
        isMovedEnd: true,
        voiceId,
      },
    ];
  });
}

/** Spreads drum notes over tracks. New tracks come last, so that the others keep their numbers. */
function layOut(
  tracks: readonly (readonly Outgoing[])[],
  pattern: Pattern,
  layout: TrackLayout,
): readonly (readonly Outgoing[])[] {
  if (layout === "asRecorded") return tracks;
  const others = tracks.map((track) => track.filter(({ voiceId }) => voiceId === null));
  const notes = tracks.flatMap((track) => track.filter(({ voiceId }) => voiceId !== null));
  if (layout === "merged") return [...others, [trackName("Drums"), ...notes]];
  const perVoice = pattern.lanes.map(({ voiceId }) => [
    trackName(findVoice(pattern.noteMap, voiceId).name),
    ...notes.filter((note) => note.voiceId === voiceId),
  ]);
  return [...others, ...perVoice];
}

function trackName(name: string): Outgoing {
  const message: MidiMessage = { kind: "meta", tick: 0, metaType: META.trackName, data: writeText(name) };
  return { message, isMovedEnd: false, voiceId: null };
}

/** For each note-on the index of the note-off that ends it: the first one that no earlier note of the same key takes. */
function pairNotes(messages: readonly MidiMessage[]): ReadonlyMap<number, number> {
  const ends = new Map<number, number>();
  const sounding = new Map<number, number[]>();
  for (const [index, message] of messages.entries()) {
    if (message.kind !== "channel") continue;
    const key = (channelOf(message) << 8) | message.data1;
    if (isNoteOn(message)) {
      const open = sounding.get(key);
      if (open) open.push(index);
      else sounding.set(key, [index]);
    } else if (isNoteOff(message)) {
      const onIndex = sounding.get(key)?.shift();
      if (onIndex !== undefined) ends.set(onIndex, index);
    }
  }
  return ends;
}

/** Sorts by tick and otherwise keeps the order of the file; the end mark stays last. */
function inOrder(outgoing: readonly Outgoing[]): readonly MidiMessage[] {
  const isEndMark = ({ message }: Outgoing) => message.kind === "meta" && message.metaType === META.endOfTrack;
  const endMark = outgoing.find(isEndMark)?.message;
  const sorted = outgoing
    .filter((item) => !isEndMark(item))
    .sort((a, b) => a.message.tick - b.message.tick || Number(b.isMovedEnd) - Number(a.isMovedEnd))
    .map(({ message }) => message);
  if (!endMark) return sorted;
  return [...sorted, { ...endMark, tick: Math.max(endMark.tick, sorted.at(-1)?.tick ?? 0) }];
}

/** The coarsest division that holds every tick, and by how much pattern ticks are divided for it. */
function divisionThatHolds(division: Division, factor: number, tracks: readonly (readonly MidiMessage[])[]) {
  let divisor = factor;
  while (divisor > 1 && (factor % divisor !== 0 || !isDivisible(tracks, divisor))) divisor--;
  if (division.kind === "ppq")
    return { division: { kind: division.kind, ppq: division.ppq * (factor / divisor) }, divisor };
  // The byte that holds ticks per frame ends at 255; such a file keeps the finest resolution it can have.
  while (factor % divisor !== 0 || division.ticksPerFrame * (factor / divisor) > 255) divisor++;
  return { division: { ...division, ticksPerFrame: division.ticksPerFrame * (factor / divisor) }, divisor };
}

function isDivisible(tracks: readonly (readonly MidiMessage[])[], divisor: number): boolean {
  return tracks.every((messages) => messages.every((message) => message.tick % divisor === 0));
}

/** What will be written of one voice. */
export interface OutgoingVoice {
  readonly voiceId: string;
  readonly name: string;
  readonly hitCount: number;
  /** Hits whose time or loudness the file will have changed. */
  readonly changedCount: number;
  readonly notes: readonly { readonly note: number; readonly channel: number; readonly hitCount: number }[];
  /** Strokes that have no note of their own and go out on another note of the same drum. */
  readonly fallbacks: readonly string[];
}

/** Says what an export would write, voice by voice. */
export function describeExport(pattern: Pattern): readonly OutgoingVoice[] {
  const placements = placeHits(pattern);
  return pattern.lanes.map(({ voiceId }) => {
    const voice = findVoice(pattern.noteMap, voiceId);
    const hits = pattern.hits.filter((hit) => hit.voiceId === voiceId);
    const notes = new Map<string, { note: number; channel: number; hitCount: number }>();
    const fallbacks = new Set<string>();
    let changedCount = 0;
    for (const hit of hits) {
      const { tick, velocity, note } = placements.get(hit.id)!;
      const channel = pattern.streams[hit.streamIndex]?.channel ?? 0;
      const key = `${note} ${channel}`;
      const entry = notes.get(key) ?? { note, channel, hitCount: 0 };
      notes.set(key, { ...entry, hitCount: entry.hitCount + 1 });
      if (tick !== hit.recordedTick || velocity !== hit.recordedVelocity || note !== hit.note) changedCount++;
      if (meaningOfNote(pattern.noteMap, note).articulationId !== hit.articulationId) {
        fallbacks.add(voice.articulations.find(({ id }) => id === hit.articulationId)?.name ?? hit.articulationId);
      }
    }
    const sorted = [...notes.values()].sort((a, b) => a.note - b.note);
    return { voiceId, name: voice.name, hitCount: hits.length, changedCount, notes: sorted, fallbacks: [...fallbacks] };
  });
}
