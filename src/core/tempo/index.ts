export type { BeatUnit, FoundBars } from "./find-bars.ts";
export { findBars } from "./find-bars.ts";
export { findBeats } from "./find-beats.ts";
export { smoothBeats } from "./smooth-beats.ts";
export { type Strokes, strokesOf } from "./strokes.ts";
export {
  type BarWishes,
  type BeatWishes,
  barLengths,
  countedAs,
  fileBpm,
  periodOfTaps,
  studyTempo,
  type TempoStudy,
  type TempoVerdict,
  takeTempo,
  timeOfBeats,
  USUAL_STIFFNESS,
} from "./study-tempo.ts";
