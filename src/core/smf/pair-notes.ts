import { channelOf, isNoteOff, isNoteOn, type MidiMessage } from "./midi-file.ts";

/** What ends a note that hangs. */
export const NO_END = -1;

/**
 * For each message the note-off that ends it, as an index: the first one that no earlier note of the same key takes. `NO_END` for a
 * note that hangs, and for what is no note.
 */
export function pairNotes(messages: readonly MidiMessage[]): Int32Array {
  const ends = new Int32Array(messages.length).fill(NO_END);
  const sounding = new Map<number, number[]>();
  // Hot: a take can have a million messages.
  for (let index = 0; index < messages.length; index++) {
    const message = messages[index]!;
    if (message.kind !== "channel") continue;
    const key = (channelOf(message) << 8) | message.data1;
    if (isNoteOn(message)) {
      const open = sounding.get(key);
      if (open) open.push(index);
      else sounding.set(key, [index]);
    } else if (isNoteOff(message)) {
      const onIndex = sounding.get(key)?.shift();
      if (onIndex !== undefined) ends[onIndex] = index;
    }
  }
  return ends;
}
