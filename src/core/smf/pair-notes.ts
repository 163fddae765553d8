import { channelOf, isNoteOff, isNoteOn, type MidiMessage } from "./midi-file.ts";

/** For each note-on the index of the note-off that ends it: the first one that no earlier note of the same key takes. */
export function pairNotes(messages: readonly MidiMessage[]): ReadonlyMap<number, number> {
  const ends = new Map<number, number>();
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
      if (onIndex !== undefined) ends.set(onIndex, index);
    }
  }
  return ends;
}
