export type { BeatUnit, FoundBars } from "./find-bars.ts";
export { findBars } from "./find-bars.ts";
export { findBeats } from "./find-beats.ts";
export { smoothBeats } from "./smooth-beats.ts";
export { type Strokes, strokesOf } from "./strokes.ts";
export {
  barLengths,
  fileBpm,
  periodOfTaps,
  studyTempo,
  type TempoStudy,
  type TempoVerdict,
  type TempoWishes,
  timeOfBeats,
  USUAL_STIFFNESS,
} from "./study-tempo.ts";
