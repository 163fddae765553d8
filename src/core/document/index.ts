export { type Arranging, arranging } from "./arrange.ts";
export {
  ALWAYS,
  CHANCE_LIMITS,
  FULLNESS_LIMITS,
  type Fullness,
  type HitChance,
  OWN_LENGTH_LIMIT,
  OWN_LIMITS,
  ownWords,
  USUAL_FULLNESS,
} from "./chance.ts";
export { type Difference, differencesBetween, type HitDifference } from "./compare.ts";
export type { FileTimes } from "./edits/change-messages.ts";
export type { Touched } from "./edits/edit-kind.ts";
export {
  applyEdit,
  EDIT_KINDS,
  EDIT_SHAPES,
  type Edit,
  editBetween,
  invertEdit,
  isEmptyEdit,
  mergeEdits,
  touchedBy,
} from "./edits/index.ts";
export type { HitMove } from "./edits/move-hits.ts";
export type { MeaningChange } from "./edits/reassign-hits.ts";
export { frameOf, type TimeFrame } from "./edits/retime.ts";
export type { DrumStreamChange } from "./edits/set-drum-stream.ts";
export type { TreatmentChange } from "./edits/set-treatments.ts";
export type { VelocityChange } from "./edits/set-velocity.ts";
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
export {
  advanceHistory,
  EMPTY_HISTORY,
  type History,
  historyOfLog,
  type LogEntry,
  type Run,
  recordLabel,
  runAtEnd,
  runsOf,
  type Step,
} from "./history.ts";
export {
  CLICK_ID,
  type DrumLevel,
  LEVEL_LIMITS,
  type Levels,
  NO_LEVELS,
  PLAIN_LEVEL,
  withLevel,
} from "./levels.ts";
export { LONGEST_TAKE_TICKS, MOST_HITS } from "./limits.ts";
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
  strokeLike,
  strokeName,
  type Voice,
  withMeaning,
} from "./note-map.ts";
export { type NoteStream, trackLabel } from "./note-stream.ts";
export { type OtherSide, SIDE_LETTERS, type SideLetter, sideOfNow } from "./other-side.ts";
export {
  type PackedHits,
  type PackedPattern,
  packHits,
  packPattern,
  unpackHits,
  unpackPattern,
} from "./packed-hits.ts";
export {
  baseTick,
  baseVelocity,
  type ChangedMessage,
  type CopiedMarks,
  columnOf,
  columnsOf,
  compareHits,
  copiedMarksOf,
  type Hit,
  type HitMarks,
  hitsByVoice,
  isOfFile,
  type Lane,
  lateMsOf,
  type PassMarks,
  type Pattern,
  passMarksOf,
  strikeOf,
  voicesOfFile,
} from "./pattern.ts";
export { pinsIn } from "./pins.ts";
export { type Rebased, rebase, tryEdit } from "./rebase.ts";
export { ROLES, type Role, type RoleBorders, roleOf, roleWord } from "./role.ts";
export {
  DYNAMICS_LIMITS,
  GROOVE_LIMITS,
  LENGTH_LIMITS,
  ROLE_SHAPE_LIMITS,
  ROLE_TIMING_LIMITS,
  TIMING_LIMITS,
} from "./setting-limits.ts";
export { isSameValue, StaleEditError } from "./stale.ts";
export { isDecided, isTreated, STEP_IDS, STEPS, type StepId, withoutSteps } from "./steps.ts";
export {
  afterBarChange,
  type BarChange,
  type FilePlace,
  hitsOnTimeline,
  isTakenOut,
  placeInFile,
  placeInPattern,
  type Timeline,
  whenPlayed,
} from "./timeline.ts";
export {
  DEFAULT_TREATMENT,
  type DynamicsException,
  type DynamicsTreatment,
  type ExceptionalSettings,
  type FeelTreatment,
  LENGTH_MODES,
  type LoudnessCycle,
  MOST_PUSH_MS,
  NOISE_SHAPES,
  type NoiseShape,
  type NoteLengths,
  type RepairTreatment,
  type RoleShape,
  type RoleTiming,
  type TimingException,
  type TimingTreatment,
  type Treatment,
  takenLatencyMs,
  USUAL_DYNAMICS,
  USUAL_LENGTHS,
} from "./treatment.ts";
