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
export { studyVoices, type VoiceStudy } from "./study-voices.ts";
