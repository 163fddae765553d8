import { meaningOf, type NoteMap } from "../document/note-map.ts";
import type { NoteStream } from "../document/note-stream.ts";
import type { MidiFile } from "../smf/index.ts";
import { countStreams, type StreamCounts, sharedNotes } from "./shared-notes.ts";

const DRUM_CHANNEL = 9;
const DRUM_WORDS = /drum|kit|perc|snare|kick|hi-?hat|hats?\b|toms?\b|cymbal/i;
/** Kits are called so, and synthesizers and whole songs as well. */
const VAGUE_WORDS = /beat|pad/i;
/** What a track of something else is called. */
const OTHER_WORDS =
  /bass\b(?! ?drum)|piano|keys|organ|guitar|gtr|synth|lead|string|brass|sax|horn|vox|vocal|choir|melody|chord/i;
/** A kit strikes this many of its core notes at the least; a bass can keep to one or two of the same numbers. */
const FEWEST_CORE_NOTES = 3;
const CORE_NOTES = new Set([35, 36, 37, 38, 40, 42, 44, 46, 49, 51]);
/** Beside the drum channel of its own track a stream is drums only if it keeps time like a kit: with so many strokes on hats and cymbals. */
const TIME_NOTES = new Set([42, 44, 46, 49, 51, 57, 59]);
const LEAST_TIME_SHARE = 0.2;
/** A kit has so many notes at the most, … */
const MOST_KIT_NOTES = 24;
/** … or this share of its strokes at the least is on the core of a kit. */
const LEAST_CORE_SHARE = 0.3;

/**
 * Finds the streams of notes in a file and which of them are drums: those on channel 10, and on other channels those that look like
 * drums by their name, or by the notes they keep to, or that share one note with other tracks, a drum a track. A track that has a
 * channel 10 is named for that: what else is in it needs a better reason than its name. If none looks like drums, it is looked less
 * strictly: each drum may have a track of its own. If nothing looks like drums and only one stream has notes, that one is taken, for
 * somebody recorded it on purpose; unless it is named like another instrument, or wanders as a piano does.
 */
export function findNoteStreams(file: MidiFile, map: NoteMap): readonly NoteStream[] {
  const found = countStreams(file);
  const besides = new Set(found.flatMap(({ trackIndex, channel }) => (channel === DRUM_CHANNEL ? [trackIndex] : [])));
  const sharing = new Map(
    [...sharedNotes(found)].flatMap(([note, streams]) => streams.map((one) => [one, note] as const)),
  );
  const judged = (isStrict: boolean) =>
    found.map((stream) => {
      const stands = judgeStream(stream, map, isStrict, besides.has(stream.trackIndex));
      const note = sharing.get(stream);
      const isOther = OTHER_WORDS.test(stream.trackName);
      if (stands.isDrums || note === undefined || isOther) return stands;
      return { ...stands, isDrums: true, reason: `it shares note ${note} with other tracks, a drum a track` };
    });
  const kits = judged(true);
  const streams = kits.some(({ isDrums }) => isDrums) ? kits : judged(false);
  const [only] = streams;
  if (!only || streams.length > 1 || only.isDrums || OTHER_WORDS.test(only.trackName)) return streams;
  if (isWandering(found[0]!)) return [{ ...only, reason: "it plays more different notes than a kit has" }];
  return [{ ...only, isDrums: true, reason: "the only notes in the file" }];
}

function isWandering({ notes }: StreamCounts): boolean {
  const counts = [...notes];
  const strokes = sum(counts);
  const onCore = sum(counts.filter(([note]) => CORE_NOTES.has(note)));
  return notes.size > MOST_KIT_NOTES && onCore < LEAST_CORE_SHARE * strokes;
}

const sum = (counts: readonly (readonly [note: number, count: number])[]) =>
  counts.reduce((total, [, count]) => total + count, 0);

function judgeStream(
  { trackIndex, channel, notes, trackName }: StreamCounts,
  map: NoteMap,
  isStrict: boolean,
  isBesideDrums: boolean,
): NoteStream {
  let noteCount = 0;
  let coreCount = 0;
  let timeCount = 0;
  let namedCount = 0;
  for (const [note, count] of notes) {
    noteCount += count;
    if (CORE_NOTES.has(note)) coreCount += count;
    if (TIME_NOTES.has(note)) timeCount += count;
    if (map.voices.some((voice) => voice.id === meaningOf(map, { note, channel, pedal: null }).voiceId))
      namedCount += count;
  }
  const about = { trackIndex, channel, trackName, noteCount };
  if (channel === DRUM_CHANNEL) return { ...about, isDrums: true, reason: "channel 10 is the drum channel" };
  const isOther = OTHER_WORDS.test(trackName);
  const isNamedLikeDrums = DRUM_WORDS.test(trackName) || (!isStrict && !isOther && VAGUE_WORDS.test(trackName));
  if (isNamedLikeDrums && namedCount > 0 && !isBesideDrums) {
    return { ...about, isDrums: true, reason: "the track is named like drums" };
  }
  if (isOther) return { ...about, isDrums: false, reason: "the track is named like something else" };
  const hasVariety = !isStrict || [...notes.keys()].filter((note) => CORE_NOTES.has(note)).length >= FEWEST_CORE_NOTES;
  if (isBesideDrums && timeCount < LEAST_TIME_SHARE * noteCount) {
    return { ...about, isDrums: false, reason: "channel 10 of its track is the drums" };
  }
  // A melody wanders over many notes; a kit strikes a few, and most of them are kick, snare, hats, ride or crash.
  if (
    hasVariety &&
    noteCount >= 8 &&
    notes.size <= MOST_KIT_NOTES &&
    coreCount / noteCount >= 0.7 &&
    noteCount / notes.size >= 3
  ) {
    return { ...about, isDrums: true, reason: "it keeps to the notes of kick, snare, hats and cymbals" };
  }
  return { ...about, isDrums: false, reason: "it does not look like drums" };
}
