export { type Arranging, arranging } from "./arrange.ts";
export { type Difference, differencesBetween, editBetween, type HitDifference } from "./compare.ts";
export { applyEdit, invertEdit, isEmptyEdit } from "./edit.ts";
export type {
  DrumStreamChange,
  Edit,
  FileTimes,
  HitMove,
  MeaningChange,
  MessageChanges,
  Retiming,
  TimeFrame,
  TreatmentChange,
  VelocityChange,
} from "./edit-kinds.ts";
export {
  type Groove,
  type GrooveLayer,
  type GrooveSlot,
  LONGEST_GROOVE_QUARTERS,
  LONGEST_TAG,
  layerFor,
  MOST_TAGS,
  PLAIN_SLOT,
  slotCountOf,
} from "./groove.ts";
export { advanceHistory, EMPTY_HISTORY, type History, historyOfLog, type LogEntry, type Step } from "./history.ts";
export { mergeEdits } from "./merge-edits.ts";
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
export type { NoteStream } from "./note-stream.ts";
export { type OtherSide, SIDE_LETTERS, type SideLetter, sideOfNow } from "./other-side.ts";
export {
  baseTick,
  baseVelocity,
  type ChangedMessage,
  columnOf,
  columnsOf,
  compareHits,
  type Hit,
  type HitMarks,
  hitsByVoice,
  type Lane,
  type Pattern,
  strikeOf,
} from "./pattern.ts";
export { type Rebased, rebase, tryEdit } from "./rebase.ts";
export { ROLES, type Role, type RoleBorders, roleOf } from "./role.ts";
export { isSameValue, StaleEditError } from "./stale.ts";
export { hitsOnTimeline, placeInPattern, type Timeline, whenPlayed } from "./timeline.ts";
export { touchedHitIds } from "./touched-hits.ts";
export {
  DEFAULT_TREATMENT,
  type DynamicsException,
  type DynamicsTreatment,
  type ExceptionalSettings,
  type FeelTreatment,
  type LoudnessCycle,
  MOST_PUSH_MS,
  NOISE_SHAPES,
  type NoiseShape,
  type RepairTreatment,
  type RoleShape,
  type RoleTiming,
  type TimingException,
  type TimingTreatment,
  type Treatment,
  USUAL_DYNAMICS,
} from "./treatment.ts";
