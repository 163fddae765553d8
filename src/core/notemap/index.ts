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
  type NoteSource,
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
export { findDoubts, type Guess, guessNotes, otherGuess } from "./guess.ts";
export { guessedName, withGuesses, withStroke } from "./named-guesses.ts";
export {
  type NamesReading,
  readNamesDocument,
  writeNamesDocument,
  writeXml,
  type XmlElement,
} from "./names-document.ts";
export { findNoteStreams } from "./note-streams.ts";
export { type OutgoingStroke, outgoingStroke } from "./outgoing.ts";
export { mapForNotes } from "./played-notes.ts";
export { mapForTracks } from "./shared-notes.ts";
