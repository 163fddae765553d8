export type { CloseReading } from "./close-readings.ts";
export { countDrifts, type DriftSummary, summarizeDrifts } from "./drift.ts";
export {
  AS_RECORDED,
  onlyWithin,
  withException,
} from "./exceptions.ts";
export { type Fault, faultSentence } from "./find-faults.ts";
export {
  closeCall,
  type FoundGrid,
  findGrid,
  type GridFit,
  gridFits,
} from "./find-grid.ts";
export { type FoundLatency, findLatency } from "./find-latency.ts";
export { type Lateness, type LateReading, lateOf } from "./find-lateness.ts";
export type { FreeOpening } from "./find-opening.ts";
export { foundGridName, foundGridSentence } from "./found-grid-words.ts";
export { findGraceNotes } from "./grace-notes.ts";
export { hitFinders } from "./hit-slots.ts";
export { FLAG, type PlacedHits, quantize } from "./quantize.ts";
export { studyVoices, type VoiceStudy } from "./study-voices.ts";
