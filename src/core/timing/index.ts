export { type DriftSummary, summarizeDrifts } from "./drift.ts";
export { type FoundGrid, findGrid, foundGridSentence } from "./find-grid.ts";
export { findGraceNotes } from "./grace-notes.ts";
export { NOISE_SHAPES, type NoiseShape, noiseOf } from "./humanize.ts";
export { FLAG, type PlacedHits, quantize } from "./quantize.ts";
