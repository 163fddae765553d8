import { LONGEST_TAKE_TICKS, MOST_HITS } from "../document/index.ts";
import { type MidiFile, MidiFileError } from "../smf/index.ts";

const END_OF_TRACK = 0x2f;

/**
 * Refuses files that can be read and are no music.
 * @throws MidiFileError `file.noTracks`, or `file.noMessages` if all tracks are empty
 */
export function expectMusic({ tracks }: MidiFile): void {
  if (tracks.length === 0) {
    const message = "This MIDI file has a header and no tracks, so there is nothing to read.";
    throw new MidiFileError("file.noTracks", message, 14, "Export it again from where it was recorded.");
  }
  const isEmpty = tracks.every(({ messages }) =>
    messages.every((message) => message.kind === "meta" && message.metaType === END_OF_TRACK),
  );
  if (!isEmpty) return;
  const message = `This MIDI file holds no message: ${tracks.length === 1 ? "its track is" : `its ${tracks.length} tracks are`} empty.`;
  throw new MidiFileError("file.noMessages", message, 14, "Export it again from where it was recorded.");
}

/**
 * Refuses takes that could not be shown, changed and exported again.
 * @throws MidiFileError `file.tooManyHits` or `file.tooLong`
 */
export function expectManageable(hitCount: number, lengthTicks: number): void {
  if (hitCount > MOST_HITS) {
    throw new MidiFileError(
      "file.tooManyHits",
      `This file holds ${hitCount.toLocaleString("en")} hits on drums; a take can have ${MOST_HITS.toLocaleString("en")}.`,
      0,
      "Split the recording into shorter files and import them one by one.",
    );
  }
  if (lengthTicks > LONGEST_TAKE_TICKS) {
    throw new MidiFileError(
      "file.tooLong",
      "The last note of this file lies years after the first, beyond what a take can hold.",
      0,
      "A stray note is the likeliest reason: take it out in the program that recorded it, and import again.",
    );
  }
}
