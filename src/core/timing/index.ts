export type { CloseReading } from "./close-readings.ts";
export { countDrifts, type DriftSummary, summarizeDrifts } from "./drift.ts";
export {
  AS_RECORDED,
  onlyWithin,
  withException,
} from "./exceptions.ts";
export { findGraceNotes } from "./grace-notes.ts";
export { hitFinders } from "./hit-slots.ts";
export { FLAG, type PlacedHits, quantize } from "./quantize.ts";
