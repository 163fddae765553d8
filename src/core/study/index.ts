export { type Fault, faultSentence } from "./faults/fault.ts";
export { type FoundGrid, findGrid } from "./find-grid.ts";
export { type FoundLatency, findLatency } from "./find-latency.ts";
export { type Lateness, type LateReading, lateOf } from "./find-lateness.ts";
export type { FreeOpening } from "./find-opening.ts";
export { foundGridName, foundGridSentence, habitWords } from "./found-grid-words.ts";
export { closeCall, type GridFit, gridFits } from "./grid-fits.ts";
export { studyVoices, type VoiceStudy } from "./study-voices.ts";
