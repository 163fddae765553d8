export { parseTimeChange, parseVelocityChange, parseVelocityRamp, type TimeChange } from "./amount.ts";
export { bakeIn, isTreated, type TickRange } from "./bake-in.ts";
export {
  changeTiming,
  changeTreatments,
  changeVelocityBy,
  farthestMove,
  keepHits,
  leaveOut,
  loudnessOf,
  markHits,
  moveHitsBy,
  type PlacedHit,
  pinHits,
  toggleMuted,
  unpinHits,
} from "./commands.ts";
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
export { LONGEST_TAKE_TICKS, MOST_HITS } from "./expect-music.ts";
export { type ExportChoice, exportTake, isOfPart, type Part, TRACK_LAYOUTS, type TrackLayout } from "./export-take.ts";
export { advanceHistory, EMPTY_HISTORY, type History, historyOfLog, type LogEntry, type Step } from "./history.ts";
export {
  hitsOfStream,
  type ImportedTake,
  importTake,
  importUnplanned,
  lanesFor,
  planLanes,
  readTimes,
  resolutionOf,
  treatmentOnGrid,
} from "./import-take.ts";
export { type KitMoves, NO_MOVES, readKitMoves } from "./kit-moves.ts";
export {
  findLengthFaults,
  type LengthFault,
  type LengthFaultKind,
  lengthFaultOf,
  mendLengths,
  unmendLengths,
} from "./lengths.ts";
export { type Marker, readMarkers } from "./markers.ts";
export { mergeEdits } from "./merge-edits.ts";
export { type NoteUsage, PLACES, type TakeUsage, usageOf } from "./note-usage.ts";
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
export {
  distanceOfCopies,
  likeLoudness,
  likePlaces,
  likeStrokes,
  others,
  pulseAfter,
  pulseAt,
} from "./pick-hits.ts";
export { describeExport, type OutgoingVoice } from "./place-hits.ts";
export { addLane, nameNote, revoiceHits, useNoteMap } from "./reassign.ts";
export { type Rebased, rebase, tryEdit } from "./rebase.ts";
export { backToFileTime, type FoundTime, retime } from "./retime.ts";
export { isSameValue, StaleEditError } from "./stale.ts";
export { barCountOf, type LaneSummary, type PatternSummary, summarizeLanes, summarizePattern } from "./summary.ts";
export { removePart, type TakenOut, takeOut } from "./take-out.ts";
export { type Thumbnail, thumbnailOf } from "./thumbnail.ts";
export { hitsOnTimeline, placeInPattern, type Timeline, whenPlayed } from "./timeline.ts";
export { readTones, type Tone } from "./tones.ts";
export { touchedHitIds } from "./touched-hits.ts";
export {
  burstBetween,
  burstTicks,
  CURVES,
  type Curve,
  canWrite,
  copiesOf,
  emptySlots,
  glue,
  type NewId,
  ramp,
  type Stroke,
  splitStrokes,
  stretchHits,
  writeStrokes,
} from "./write-hits.ts";
