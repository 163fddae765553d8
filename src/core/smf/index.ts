export {
  type ChannelMessage,
  channelOf,
  type Division,
  isNoteOff,
  isNoteOn,
  MAX_DELTA_TICKS,
  META,
  type MetaMessage,
  type MidiFile,
  type MidiMessage,
  type Notice,
  type SysexMessage,
  type Track,
  type UnknownChunk,
} from "./midi-file.ts";
export { MidiFileError } from "./midi-file-error.ts";
export { NO_END, pairNotes } from "./pair-notes.ts";
export { type MidiFileReading, readMidiFile } from "./read-midi-file.ts";
export { readText, writeText } from "./text.ts";
export { writeMidiFile } from "./write-midi-file.ts";
