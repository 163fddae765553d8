export {
  addEntry,
  addStroke,
  addVoice,
  checkMap,
  describePedal,
  describeSource,
  LONGEST_NAME,
  moveVoice,
  NoteMapError,
  removeEntry,
  removeVoice,
  renameMap,
  renameStroke,
  renameVoice,
  replaceEntry,
  setFamily,
  setInk,
  setOutgoing,
  splitByPedal,
} from "./change-map.ts";
export { GENERAL_MIDI } from "./general-midi.ts";
export { type Guess, guessNotes } from "./guess.ts";
export { type NamesReading, readNamesDocument, writeNamesDocument, type XmlElement } from "./names-document.ts";
export {
  ARTICULATION_MARKS,
  type Articulation,
  type ArticulationMark,
  entryOf,
  FAMILIES,
  type Family,
  findVoice,
  isSameMeaning,
  isUnnamedVoice,
  meaningOf,
  meaningWithoutName,
  type NoteMap,
  type NoteMapEntry,
  type NoteMeaning,
  type OutgoingNote,
  type PedalRange,
  type Strike,
  sortVoiceIds,
  strokeName,
  type Voice,
  withMeaning,
} from "./note-map.ts";
export { findNoteStreams, type NoteStream } from "./note-streams.ts";
export { type OutgoingStroke, outgoingStroke } from "./outgoing.ts";
