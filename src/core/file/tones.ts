import type { Pattern } from "../document/pattern.ts";
import { isTakenOut, placeInPattern } from "../document/timeline.ts";
import { channelOf, isNoteOn, type MidiFile, NO_END, pairNotes } from "../smf/index.ts";
import { resolutionOf } from "./import-take.ts";

/** A note of a track that is not drums, in ticks of the pattern. */
export interface Tone {
  readonly startTick: number;
  readonly lengthTicks: number;
  /** 0 to 127; 69 is 440 Hz. */
  readonly note: number;
  readonly velocity: number;
}

/** A note that never ends sounds this long. */
const HANGING_QUARTERS = 4;

/** The notes of one stream as they are in the file, to be heard beside the drums. */
export function readTones(file: MidiFile, pattern: Pattern, streamIndex: number): readonly Tone[] {
  const stream = pattern.streams[streamIndex];
  const messages = stream ? (file.tracks[stream.trackIndex]?.messages ?? []) : [];
  const { factor } = resolutionOf(file.division);
  const place = placeInPattern(pattern);
  const isGone = isTakenOut(pattern);
  const ends = pairNotes(messages);
  return messages.flatMap((message, index): Tone[] => {
    if (!isNoteOn(message) || channelOf(message) !== stream?.channel || isGone?.(message.tick * factor)) return [];
    const endIndex = ends[index]!;
    const startTick = place(message.tick * factor);
    const lengthTicks =
      endIndex === NO_END ? HANGING_QUARTERS * pattern.ppq : place(messages[endIndex]!.tick * factor) - startTick;
    return [{ startTick, lengthTicks, note: message.data1, velocity: message.data2 }];
  });
}
