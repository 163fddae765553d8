import { compareEntries, type NoteMap, type NoteMapEntry, type NoteMeaning } from "../document/note-map.ts";
import { type NoteStream, trackLabel } from "../document/note-stream.ts";
import { channelOf, isNoteOn, META, type MidiFile, readText } from "../smf/index.ts";
import { addVoice, isSameName, LONGEST_NAME, renameVoice } from "./change-map.ts";
import { familyOfName, meaningOfName } from "./names.ts";

// A track for each sampler, all played on one note: what a note plays is said by its track.

/** The notes of one channel on one track. */
export interface StreamCounts {
  readonly trackIndex: number;
  /** 0 to 15. */
  readonly channel: number;
  readonly trackName: string;
  /** How often each note is struck. */
  readonly notes: ReadonlyMap<number, number>;
}

export function countStreams(file: MidiFile): readonly StreamCounts[] {
  return file.tracks.flatMap(({ messages }, trackIndex) => {
    let trackName = "";
    const byChannel = new Map<number, Map<number, number>>();
    for (const message of messages) {
      if (isNoteOn(message)) {
        const channel = channelOf(message);
        const notes = byChannel.get(channel) ?? new Map<number, number>();
        byChannel.set(channel, notes.set(message.data1, (notes.get(message.data1) ?? 0) + 1));
      } else if (message.kind === "meta" && message.metaType === META.trackName && trackName === "") {
        trackName = readText(message.data);
      }
    }
    return [...byChannel].map(([channel, notes]) => ({ trackIndex, channel, trackName, notes }));
  });
}

/** So many tracks of one note share it for a reason, whatever they are called. */
const ENOUGH_TRACKS = 3;

/**
 * Tracks that have one note each, and the same one: by that note. Several of one drum, as two microphones of a snare, are no such
 * tracks: their note is enough to know it by.
 */
export function sharedNotes(streams: readonly StreamCounts[]): ReadonlyMap<number, readonly StreamCounts[]> {
  const byNote = new Map<number, StreamCounts[]>();
  for (const stream of streams) {
    const [note, second] = stream.notes.keys();
    if (note === undefined || second !== undefined) continue;
    byNote.set(note, [...(byNote.get(note) ?? []), stream]);
  }
  return new Map(
    [...byNote].filter(([, sharing]) => {
      const drums = sharing.map((stream) => meaningOfName(trackLabel(stream))?.voiceId ?? null);
      const kinds = new Set(sharing.map((stream, index) => drums[index] ?? trackLabel(stream)));
      const named = new Set(drums.filter((drum) => drum !== null));
      return kinds.size > 1 && (named.size > 1 || new Set(sharing.map(trackLabel)).size >= ENOUGH_TRACKS);
    }),
  );
}

/**
 * The map by which each track that shares its note with others plays a drum of its own, called as the track is.
 * @param streams of the file, as they were found
 */
export function mapForTracks(map: NoteMap, file: MidiFile, streams: readonly NoteStream[]): NoteMap {
  const drums = new Set(
    streams.flatMap(({ isDrums, trackIndex, channel }) => (isDrums ? [16 * trackIndex + channel] : [])),
  );
  const counts = countStreams(file).filter(({ trackIndex, channel }) => drums.has(16 * trackIndex + channel));
  let next = map;
  for (const [note, sharing] of sharedNotes(counts)) {
    for (const track of new Set(sharing.map(trackLabel))) {
      // A map from the shelf can know them already.
      if (next.entries.some((entry) => entry.note === note && entry.track === track)) continue;
      const taken = new Set(next.entries.flatMap((entry) => (entry.track === undefined ? [] : [entry.voiceId])));
      const { map: named, meaning } = drumCalled(next, track, taken);
      const entry: NoteMapEntry = { note, channel: null, pedal: null, track, ...meaning };
      next = { ...named, entries: [...named.entries, entry].sort(compareEntries) };
    }
  }
  return next;
}

/** The drum that a track is, called as the track is: one that the map has and no other track is, else a new one. */
function drumCalled(map: NoteMap, track: string, taken: ReadonlySet<string>): { map: NoteMap; meaning: NoteMeaning } {
  const name = track.slice(0, LONGEST_NAME);
  const known = meaningOfName(track);
  const voice = map.voices.find(({ id }) => id === known?.voiceId);
  const isNameFree = map.voices.every((other) => other === voice || !isSameName(other.name, name));
  if (known && voice && !taken.has(voice.id) && isNameFree) {
    const stroke = voice.articulations.find(({ id }) => id === known.articulationId) ?? voice.articulations[0]!;
    const meaning = { voiceId: voice.id, articulationId: stroke.id };
    return { map: isSameName(voice.name, name) ? map : renameVoice(map, voice.id, name), meaning };
  }
  let free = name;
  for (let turn = 2; map.voices.some((other) => isSameName(other.name, free)); turn++) {
    free = `${name.slice(0, LONGEST_NAME - 4)} ${turn}`;
  }
  return addVoice(map, free, familyOfName(track));
}
