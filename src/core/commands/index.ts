export { parseTimeChange, parseVelocityChange, parseVelocityRamp, type TimeChange } from "./amount.ts";
export { bakeIn, type TickRange } from "./bake-in.ts";
export { barsIn, canChangeBars, insertBars, removeBarsOf, wholeBars } from "./change-bars.ts";
export { changePartBy, PART_FIELDS, PART_LIMITS, type PartField } from "./change-part.ts";
export { type Clip, clipOf, type PastePlan, type PasteWish, planPaste, withoutTaken } from "./clip.ts";
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
export { type LengthFault, type LengthFaultKind, mendLengths, unmendLengths } from "./mend-lengths.ts";
export { distanceOfCopies, likeLoudness, likePlaces, likeStrokes, others, pulseAfter, pulseAt } from "./pick-hits.ts";
export { lanesFor, onFoundGrid, planLanes } from "./plan-lanes.ts";
export { type QuantizeWish, quantizeHits } from "./quantize-hits.ts";
export { addLane, nameNote, revoiceHits, setNoteMap } from "./reassign.ts";
export { backToFileTime, type FoundTime, retime } from "./retime.ts";
export { type TimingChange, takeOffLatency, withLatency, withQuantize, withTiming } from "./timing-setting.ts";
export {
  burstBetween,
  burstTicks,
  CURVES,
  type Curve,
  canWrite,
  copiesOf,
  emptySlots,
  glue,
  growTo,
  type NewId,
  ramp,
  type Stroke,
  splitStrokes,
  stretchHits,
  writeStrokes,
} from "./write-hits.ts";
