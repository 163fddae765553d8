import { planLanes } from "../commands/plan-lanes.ts";
import type { FileTimes } from "../document/index.ts";
import {
  meaningOf,
  type NoteMap,
  type NoteMeaning,
  type NoteStream,
  sortVoiceIds,
  trackLabel,
} from "../document/index.ts";
import { compareHits, type Hit, type Lane, type Pattern } from "../document/pattern.ts";
import { DEFAULT_TREATMENT } from "../document/treatment.ts";
import { findNoteStreams, mapForNotes, mapForTracks } from "../notemap/index.ts";
import { channelOf, type Division, isNoteOn, META, type MidiFile, type Notice, readMidiFile } from "../smf/index.ts";
import { buildMeterMap, type MeterChange, nextBarLine, type TempoChange } from "../time/index.ts";
import { expectManageable, expectMusic } from "./expect-music.ts";
import { readSurroundings } from "./pedal.ts";

export interface ImportedTake {
  readonly pattern: Pattern;
  readonly notices: readonly Notice[];
}

/** Resolution below which positions are scaled up. */
const SMALLEST_PPQ = 480;

/** How ticks of a file become ticks of a pattern. */
export interface Resolution {
  readonly ppq: number;
  /** Pattern ticks per file tick. */
  readonly factor: number;
}

/**
 * How a file's ticks are counted in a pattern. A PPQ below 480 is scaled up by the smallest whole factor that reaches
 * 480, so that no position is lost. A file that counts film frames is read as 120 bpm: one quarter lasts half a second.
 */
export function resolutionOf(division: Division): Resolution {
  // Two file ticks per pattern quarter would not be whole for an odd number of ticks a second, so those are doubled.
  const ticksPerSecond = division.kind === "smpte" ? nominalFrames(division) * division.ticksPerFrame : 0;
  const doubling = ticksPerSecond % 2 === 1 ? 2 : 1;
  const ppq = division.kind === "ppq" ? division.ppq : (ticksPerSecond * doubling) / 2;
  const scale = Math.max(1, Math.ceil(SMALLEST_PPQ / ppq));
  return { ppq: ppq * scale, factor: doubling * scale };
}

/** "29" means 30 frames in 1.001 seconds, as in colour television. */
function nominalFrames(division: Division & { kind: "smpte" }): number {
  return division.framesPerSecond === 29 ? 30 : division.framesPerSecond;
}

/**
 * Reads a recorded take: the chain from bytes to a pattern with one lane per drum voice, each on the grid found for it.
 * @throws MidiFileError if the bytes are no MIDI file, hold no music, or more than can be shown and exported again
 */
export function importTake(bytes: Uint8Array, noteMap: NoteMap): ImportedTake {
  const { pattern, notices } = importUnplanned(bytes, noteMap);
  return { pattern: { ...pattern, lanes: planLanes(pattern) }, notices };
}

/**
 * The same take before any grid is sought: each lane on the usual settings. To seek them takes longer than all the rest.
 * @throws MidiFileError as `importTake`
 */
export function importUnplanned(bytes: Uint8Array, map: NoteMap): ImportedTake {
  const { file, notices } = readMidiFile(bytes);
  expectMusic(file);
  const { ppq, factor } = resolutionOf(file.division);
  const streams = findNoteStreams(file, map);
  const struck = struckDrums(file, streams);
  // Before anything is made of them: that may take more memory than there is.
  expectManageable(struck.count, 0);
  const noteMap = mapForTracks(mapForNotes(map, struck.notes), file, streams);
  const hits = streams.flatMap((stream, streamIndex) =>
    stream.isDrums ? hitsOfStream(file, streams, streamIndex, noteMap) : [],
  );
  hits.sort(compareHits);
  const { meters, tempos } = readTimes(file);
  const read = { ppq, meters, tempos, streams, noteMap, hits, lengthTicks: 0, lanes: [] };
  const pattern: Pattern = { ...read, outgoingMap: null, changedMessages: {} };
  const lengthTicks = nextBarLine(buildMeterMap(ppq, meters), lastNoteTick(file) * factor + 1);
  expectManageable(hits.length, lengthTicks);
  const voiceIds = sortVoiceIds(noteMap, new Set(hits.map(({ voiceId }) => voiceId)));
  const lanes = voiceIds.map((voiceId): Lane => ({ voiceId, treatment: DEFAULT_TREATMENT }));
  const extra: Notice[] =
    file.format === 2 && file.tracks.length > 1
      ? [
          {
            code: "file.format2",
            message: "The file holds separate sequences; all are shown from bar 1.",
            byteOffset: 8,
          },
        ]
      : [];
  return { pattern: { ...pattern, lengthTicks, lanes }, notices: [...notices, ...extra] };
}

/** The notes that are struck in the streams that are drums, and how often any is. */
function struckDrums(
  file: MidiFile,
  streams: readonly NoteStream[],
): { readonly notes: ReadonlySet<number>; readonly count: number } {
  const notes = new Set<number>();
  let count = 0;
  for (const { trackIndex, channel, isDrums } of streams) {
    if (!isDrums) continue;
    for (const message of file.tracks[trackIndex]!.messages) {
      if (!isNoteOn(message) || channelOf(message) !== channel) continue;
      notes.add(message.data1);
      count++;
    }
  }
  return { notes, count };
}

/** The hits of one stream of a file, as they were recorded. */
export function hitsOfStream(
  file: MidiFile,
  streams: readonly NoteStream[],
  streamIndex: number,
  noteMap: NoteMap,
): Hit[] {
  const { factor } = resolutionOf(file.division);
  const stream = streams[streamIndex]!;
  const { trackIndex, channel } = stream;
  const track = trackLabel(stream);
  const surroundings = readSurroundings(file, trackIndex, channel);
  const scaled = (ticks: number | null) => (ticks === null ? null : ticks * factor);
  const hits: Hit[] = [];
  const { messages } = file.tracks[trackIndex]!;
  // Of hundreds of thousands of strikes there are a few sorts.
  const meanings = new Map<number, NoteMeaning>();
  const meaning = (note: number, pedal: number | null): NoteMeaning => {
    const sort = note * 256 + (pedal ?? 255);
    let known = meanings.get(sort);
    if (!known) {
      known = meaningOf(noteMap, { note, channel, pedal, track });
      meanings.set(sort, known);
    }
    return known;
  };
  for (let messageIndex = 0; messageIndex < messages.length; messageIndex++) {
    const message = messages[messageIndex]!;
    if (!isNoteOn(message) || channelOf(message) !== channel) continue;
    const note = message.data1;
    const { pedal, shutTicks, chokedTicks } = surroundings.get(messageIndex)!;
    const { voiceId, articulationId } = meaning(note, pedal);
    hits.push({
      id: `${trackIndex}:${messageIndex}`,
      streamIndex,
      note,
      voiceId,
      articulationId,
      pedal,
      shutTicks: scaled(shutTicks),
      chokedTicks: scaled(chokedTicks),
      recordedTick: message.tick * factor,
      recordedVelocity: message.data2,
      pinnedTick: null,
      pinnedVelocity: null,
    });
  }
  return hits;
}

function lastNoteTick(file: MidiFile): number {
  let last = 0;
  for (const track of file.tracks) {
    const tick = track.messages.findLast(isNoteOn)?.tick ?? 0;
    if (tick > last) last = tick;
  }
  return last;
}

/** Meter and tempo of a file, in ticks of the pattern. */
export function readTimes(file: MidiFile): FileTimes {
  const { factor } = resolutionOf(file.division);
  return { meters: readMeters(file, factor), tempos: readTempos(file, factor) };
}

function readMeters(file: MidiFile, factor: number): readonly MeterChange[] {
  const meters: MeterChange[] = [];
  for (const track of timeTracks(file)) {
    for (const message of track.messages) {
      if (message.kind !== "meta" || message.metaType !== META.meter || message.data.length < 2) continue;
      const [numerator, power] = message.data as unknown as [number, number];
      if (numerator > 0 && power <= 7) meters.push({ tick: message.tick * factor, numerator, denominator: 2 ** power });
    }
  }
  return meters.sort((a, b) => a.tick - b.tick);
}

function readTempos(file: MidiFile, factor: number): readonly TempoChange[] {
  // Film frames last as long as they last; tempo messages do not change them.
  if (file.division.kind === "smpte") {
    return [{ tick: 0, usPerQuarter: file.division.framesPerSecond === 29 ? 500_500 : 500_000 }];
  }
  const tempos: TempoChange[] = [];
  for (const track of timeTracks(file)) {
    for (const message of track.messages) {
      if (message.kind !== "meta" || message.metaType !== META.tempo || message.data.length < 3) continue;
      const [high, middle, low] = message.data as unknown as [number, number, number];
      const usPerQuarter = (high << 16) | (middle << 8) | low;
      if (usPerQuarter > 0) tempos.push({ tick: message.tick * factor, usPerQuarter });
    }
  }
  return tempos.sort((a, b) => a.tick - b.tick);
}

/** Tempo and meter hold for all tracks, but in format 2 each track keeps its own; the first one's are used. */
function timeTracks(file: MidiFile) {
  return file.format === 2 ? file.tracks.slice(0, 1) : file.tracks;
}
