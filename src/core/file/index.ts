export {
  type ExportChoice,
  exportTake,
  inOrder,
  outgoingTracks,
  TRACK_LAYOUTS,
  type TrackLayout,
} from "./export-take.ts";
export {
  hitsOfStream,
  type ImportedTake,
  importTake,
  importUnplanned,
  readTimes,
  resolutionOf,
} from "./import-take.ts";
export { type KitMoves, NO_MOVES, readKitMoves } from "./kit-moves.ts";
export { findLengthFaults, lengthFaultOf } from "./lengths.ts";
export { type Marker, readMarkers } from "./markers.ts";
export { faultOfNewTake, NEW_TAKE_DENOMINATORS, NEW_TAKE_LIMITS, type NewTake, newTake } from "./new-take.ts";
export { ADDED_NOTE_QUARTERS } from "./note-lengths.ts";
export type { Outgoing } from "./outgoing-track.ts";
export { isOfPart, type Part, removePart } from "./part.ts";
export { CHOKE_PRESSURE } from "./pedal.ts";
export { describeExport, notesOut, type OutgoingVoice, placeHits } from "./place-hits.ts";
export { type StrayNote, strayNotes } from "./stray-notes.ts";
export { type TakenOut, takeOut } from "./take-out.ts";
export { readTones, type Tone } from "./tones.ts";
