export { GENERAL_MIDI } from "./general-midi.ts";
export { type Guess, guessNotes } from "./guess.ts";
export {
  type Articulation,
  type ArticulationMark,
  FAMILIES,
  type Family,
  findVoice,
  isUnnamedVoice,
  meaningOfNote,
  type NoteMap,
  type NoteMapEntry,
  type NoteMeaning,
  outgoingNote,
  sortVoiceIds,
  type Voice,
  withMeaning,
} from "./note-map.ts";
export { findNoteStreams, type NoteStream } from "./note-streams.ts";
