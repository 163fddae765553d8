import { id, orNull, record, sevenBits, withOptional } from "../../json-shape.ts";
import { shapeOf } from "../../limit.ts";
import { MOST_PATTERN_BARS, MOST_REPEATS, PATTERN_COLOURS } from "../arrangement.ts";
import { FULLNESS_LIMITS, fullnessShape, hitChanceShape, OWN_LIMITS } from "../chance.ts";
import { LEVEL_LIMITS } from "../levels.ts";
import { LONGEST_TAKE_TICKS, MOST_BAR_CHANGES } from "../limits.ts";
import { SIDE_LETTERS } from "../other-side.ts";
import { ROLES } from "../role.ts";
import { noteMap } from "./note-map-shape.ts";
import { dynamics, feelPercent, grooveId, laidGroove, pushMs, timing, treatment } from "./treatment-shape.ts";
import { byId, list, shared, tick, velocity } from "./values.ts";

// The parts of a pattern as they are stored, and as edits carry them before and after.

const marks = {
  role: { enum: ROLES },
  swingSharePercent: { type: "number", minimum: 0, maximum: 100 },
  chance: record(hitChanceShape),
  deviationPercent: shapeOf(OWN_LIMITS.deviationPercent),
  offsetMs: shapeOf(OWN_LIMITS.offsetMs),
};
export const hitMarks = withOptional(record({}), marks);
/** What a hand makes of one hit and its note, and a copy takes along. */
const handmade = {
  ...marks,
  isMuted: { const: true },
  lengthTicks: { type: "integer", minimum: 1, maximum: 1_000_000_000 },
};
export const copiedMarks = withOptional(record({}), handmade);
const passNumber = { type: "integer", minimum: 1, maximum: 1_000_000 };
const ofPasses = { pass: passNumber, replacedBy: passNumber };
export const passMarks = withOptional(record({}), ofPasses);

const hit = withOptional(
  record({
    id,
    streamIndex: { type: "integer", minimum: 0, maximum: 65535 },
    note: sevenBits,
    voiceId: id,
    articulationId: id,
    pedal: orNull(sevenBits),
    shutTicks: orNull(tick),
    chokedTicks: orNull(tick),
    recordedTick: orNull(tick),
    recordedVelocity: orNull(velocity),
    pinnedTick: orNull(tick),
    pinnedVelocity: orNull(velocity),
  }),
  {
    ...handmade,
    ...ofPasses,
    inFile: withOptional(record({ tick, shutTicks: orNull(tick), chokedTicks: orNull(tick) }), {
      since: { type: "integer", minimum: 1, maximum: MOST_BAR_CHANGES },
    }),
  },
);

const lane = record({ voiceId: id, treatment: shared("treatment") });

export const changedMessage = orNull(
  record({ tick, bytes: { type: "array", maxItems: 1_000_000, items: { type: "integer" } } }),
);

export const meters = list(record({ tick, numerator: { type: "integer" }, denominator: { type: "integer" } }));
export const tempos = list(record({ tick, usPerQuarter: { type: "integer", minimum: 1 } }));
const barChange = record({
  tick,
  ticks: { type: "integer", minimum: -LONGEST_TAKE_TICKS, maximum: LONGEST_TAKE_TICKS },
});
export const timeline = withOptional(
  record({ fileTempos: tempos, fileMeters: meters, playedTempos: tempos, startMs: { type: "number" } }),
  { barChanges: { type: "array", maxItems: MOST_BAR_CHANGES, items: barChange } },
);

const bar = { type: "integer", minimum: 0, maximum: 1_000_000 };
const cell = withOptional(record({}), {
  timing,
  dynamics,
  feel: orNull(record({ grooveId: grooveId, timingPercent: feelPercent, accentPercent: feelPercent })),
  pushMs,
  ownLengthTicks: { type: "integer", minimum: 1, maximum: LONGEST_TAKE_TICKS },
});
export const songPattern = withOptional(
  record({
    id,
    name: { type: "string", minLength: 1, maxLength: 200 },
    colour: { enum: PATTERN_COLOURS },
    bars: { type: "array", minItems: 1, maxItems: MOST_PATTERN_BARS, items: orNull(bar) },
  }),
  {
    turnedTicks: tick,
    fullnessPercent: shapeOf(FULLNESS_LIMITS.percent),
    followsId: id,
    cells: { type: "object", maxProperties: 500, additionalProperties: shared("cell") },
    only: { type: "array", maxItems: 500, items: record({ voiceId: id, articulationId: orNull(id) }) },
  },
);
export const songEntries = list(
  withOptional(record({ id, patternId: id, repeats: { type: "integer", minimum: 1, maximum: MOST_REPEATS } }), {
    isMuted: { const: true },
    mutedVoiceIds: { type: "array", maxItems: 500, items: id },
  }),
);

export const levels = byId(
  record({ gainDb: shapeOf(LEVEL_LIMITS.gainDb), panPercent: shapeOf(LEVEL_LIMITS.panPercent) }),
);

export const fullness = record(fullnessShape);

const otherSide = record({
  letter: { enum: SIDE_LETTERS },
  treatments: byId(shared("treatment")),
  cells: byId(byId(shared("cell"))),
  grooves: byId(shared("groove")),
});

/** What `shared` refers to. */
export const SHARED_SHAPES = { hit, treatment, lane, noteMap, groove: laidGroove, cell, otherSide };
