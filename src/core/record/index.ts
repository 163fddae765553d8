export { type ClockPair, fitClock, MOST_PAIRS } from "./clock.ts";
export { MEASURED_STROKES, type Measured, measureLatency, type NotMeasured } from "./measure.ts";
export { PULSES_PER_QUARTER, tempoOfPulses } from "./midi-clock.ts";
export {
  hearBar,
  leaveBarOut,
  mergePasses,
  mutePass,
  nextPass,
  type Pass,
  passesOf,
  removePass,
  replaceBy,
} from "./passes.ts";
export {
  CLOCK_SLACK_MS,
  countInMs,
  type PlacedStroke,
  placeStroke,
  type RecordingPlace,
  type TickLoop,
} from "./place-stroke.ts";
export { addPlayed, chokedAfter, type LiveStrike, Recorder, roomFor } from "./recorder.ts";
export {
  type Held,
  REPEAT_LOUDNESSES,
  type Repeat,
  type RepeatLoudness,
  repeatsBetween,
  type Turn,
} from "./repeat.ts";
