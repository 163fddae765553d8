export { changeTiming, changeVelocityBy, moveHitsBy, type PlacedHit, pinHits, unpinHits } from "./commands.ts";
export {
  applyEdit,
  type DrumStreamChange,
  type Edit,
  type HitMove,
  invertEdit,
  isEmptyEdit,
  type MeaningChange,
  mergeEdits,
  StaleEditError,
  type TreatmentChange,
  touchedHitIds,
  type VelocityChange,
} from "./edit.ts";
export { describeExport, exportTake, type OutgoingVoice, TRACK_LAYOUTS, type TrackLayout } from "./export-take.ts";
export { advanceHistory, EMPTY_HISTORY, type History, historyOfLog, type LogEntry, type Step } from "./history.ts";
export { hitsOfStream, type ImportedTake, importTake, lanesFor, resolutionOf, treatmentOnGrid } from "./import-take.ts";
export {
  baseTick,
  baseVelocity,
  columnOf,
  compareHits,
  type Hit,
  hitsByVoice,
  type Lane,
  type Pattern,
} from "./pattern.ts";
export { nameNote, nameNotes, revoiceHits } from "./reassign.ts";
export { barCountOf, type LaneSummary, type PatternSummary, summarizeLanes, summarizePattern } from "./summary.ts";
export { type Thumbnail, thumbnailOf } from "./thumbnail.ts";
