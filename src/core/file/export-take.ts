import type { TickRange } from "../commands/bake-in.ts";
import { findVoice } from "../document/index.ts";
import type { Pattern } from "../document/pattern.ts";
import { isTakenOut, placeInPattern } from "../document/timeline.ts";
import {
  type ChannelMessage,
  channelOf,
  type Division,
  META,
  type MidiFile,
  type MidiMessage,
  readMidiFile,
  writeMidiFile,
  writeText,
} from "../smf/index.ts";
import { cutRange } from "./cut-range.ts";
import { resolutionOf } from "./import-take.ts";
import { ADDED, type Outgoing, outgoingOfTrack, placedTracks } from "./outgoing-track.ts";
import { isOfPart, type Part } from "./part.ts";
import { isPedalMove } from "./pedal.ts";
import { placeHits } from "./place-hits.ts";

/** What says where in the music something is. */
const MUSICAL_METAS: ReadonlySet<number> = new Set([
  META.marker,
  META.cuePoint,
  META.tempo,
  META.meter,
  META.key,
  META.smpteOffset,
]);

export const TRACK_LAYOUTS = ["asRecorded", "merged", "perVoice"] as const;
/** How drum notes are spread over tracks. Whatever is no drum note stays on its track. */
export type TrackLayout = (typeof TRACK_LAYOUTS)[number];

export interface ExportChoice {
  /** Where the drum notes go: their own tracks, one track, or a track for each voice. */
  readonly layout?: TrackLayout;
  /** Only the hits of this voice, with tempo, meter and markers; null for the whole take. */
  readonly only?: Part | null;
  /** Only what is in this stretch, counted from its start; null for all of it. */
  readonly range?: TickRange | null;
}

/**
 * Writes a take with its cleaned hits. Every message that is no drum hit stays at its tick, except that the hat pedal and
 * hands that choke cymbals go with the strokes they belong to; a hit that neither a treatment nor a hand has changed stays
 * as it was, byte for byte; a removed hit goes with its note-off.
 * The file keeps its resolution if every position fits it, else it is written finer by a whole factor.
 * @param original the bytes as they were imported
 * @param onProgress told after each stage about how much is done, 0 to 1
 * @returns the bytes of a Standard MIDI File
 */
export function exportTake(
  original: Uint8Array,
  pattern: Pattern,
  { layout = "asRecorded", only = null, range = null }: ExportChoice = {},
  onProgress: (share: number) => void = () => {},
): Uint8Array {
  const { file } = readMidiFile(original);
  const { factor } = resolutionOf(file.division);
  onProgress(0.1);
  const whole = outgoingTracks(file, pattern);
  onProgress(0.6);
  const outgoing = only ? [onlyPart(whole, pattern, only)] : whole;
  const tracks = (only ? outgoing : layOut(outgoing, pattern, layout)).map((track) => {
    const sorted = inOrder(track);
    return (range ? inOrder(cutRange(sorted, range, pattern.ppq)) : sorted).map(({ message }) => message);
  });
  const format = only ? 0 : file.format === 0 && tracks.length > 1 ? 1 : file.format;
  onProgress(0.85);
  const { division, divisor } = divisionThatHolds(file.division, factor, tracks);
  const divided = tracks.map((messages) => ({
    messages: messages.map((message) => {
      const tick = Math.round(message.tick / divisor);
      return tick === message.tick ? message : { ...message, tick };
    }),
  }));
  const unknownChunks = only || range ? [] : file.unknownChunks;
  return writeMidiFile({ ...file, format, division, unknownChunks, tracks: divided });
}

/** All that an export writes, track by track as the file has them, in pattern ticks. */
export function outgoingTracks(file: MidiFile, pattern: Pattern): readonly (readonly Outgoing[])[] {
  const { factor } = resolutionOf(file.division);
  const placements = placeHits(pattern);
  const placed = placedTracks(file, pattern, placements);
  const place = placeInPattern(pattern);
  const isGone = isTakenOut(pattern);
  const tracks = file.tracks.map(({ messages }, trackIndex) =>
    outgoingOfTrack(
      messages,
      trackIndex,
      pattern,
      placements,
      placed[trackIndex]!,
      (fileTick) => place(fileTick * factor),
      isGone && ((fileTick) => isGone(fileTick * factor)),
    ),
  );
  return withOwnTime(tracks, pattern);
}

/** A take on a time of its own carries that time, on its first track, in place of what the file said. */
function withOwnTime(
  tracks: readonly (readonly Outgoing[])[],
  { timeline, tempos, meters }: Pattern,
): readonly (readonly Outgoing[])[] {
  if (!timeline) return tracks;
  const isTime = ({ message }: Outgoing) =>
    message.kind === "meta" && (message.metaType === META.tempo || message.metaType === META.meter);
  const told = (tick: number, metaType: number, data: readonly number[]): Outgoing => ({
    message: { kind: "meta", tick, metaType, data: Uint8Array.from(data) },
    sourceIndex: ADDED,
    isMovedEnd: false,
    voiceId: null,
    hit: null,
  });
  const own = [
    ...meters.map(({ tick, numerator, denominator }) =>
      told(tick, META.meter, [numerator, Math.log2(denominator), 24, 8]),
    ),
    ...tempos.map(({ tick, usPerQuarter: us }) => told(tick, META.tempo, [us >> 16, (us >> 8) & 0xff, us & 0xff])),
  ];
  return tracks.map((track, index) => {
    const rest = track.filter((item) => !isTime(item));
    return index === 0 ? [...own, ...rest] : rest;
  });
}

/** The hits of one voice on one track, with what says where in the music they are, and its pedal if it has one. */
function onlyPart(tracks: readonly (readonly Outgoing[])[], pattern: Pattern, only: Part): readonly Outgoing[] {
  const voice = findVoice(pattern.noteMap, only.voiceId);
  const drumChannels = new Set(pattern.streams.flatMap(({ isDrums, channel }) => (isDrums ? [channel] : [])));
  const kept = tracks.flat().filter(({ message, hit }) => {
    if (hit) return isOfPart(hit, only);
    if (message.kind === "meta") return MUSICAL_METAS.has(message.metaType);
    return voice.family === "hats" && isPedalMove(message) && drumChannels.has(channelOf(message as ChannelMessage));
  });
  return [trackName(voice.name), ...kept];
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
  return { message, sourceIndex: ADDED, isMovedEnd: false, voiceId: null, hit: null };
}

/** Sorts by tick and otherwise keeps the order of the file; the end mark stays last. */
export function inOrder(outgoing: readonly Outgoing[]): readonly Outgoing[] {
  const isEndMark = ({ message }: Outgoing) => message.kind === "meta" && message.metaType === META.endOfTrack;
  const endMark = outgoing.find(isEndMark);
  const sorted = outgoing
    .filter((item) => !isEndMark(item))
    .sort((a, b) => a.message.tick - b.message.tick || Number(b.isMovedEnd) - Number(a.isMovedEnd));
  if (!endMark) return sorted;
  const tick = Math.max(endMark.message.tick, sorted.at(-1)?.message.tick ?? 0);
  sorted.push({ ...endMark, message: { ...endMark.message, tick } });
  return sorted;
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
