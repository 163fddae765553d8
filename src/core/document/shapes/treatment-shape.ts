import { id, orNull, record, withOptional } from "../../json-shape.ts";
import { LONGEST_GROOVE_QUARTERS, LONGEST_TAG, MOST_TAGS } from "../groove.ts";
import { FAMILIES } from "../note-map.ts";
import { MOST_PUSH_MS, NOISE_SHAPES } from "../treatment.ts";
import { grid, tick, velocity } from "./values.ts";

// The settings of a lane, and grooves, as they are stored and sent.

/** What of a timing can be carried to another voice. */
export const carried = {
  strengthPercent: { type: "number", minimum: 0, maximum: 100 },
  leaveWithinMs: { type: "number", minimum: 0, maximum: 500 },
  reachPercent: { type: "number", minimum: 0, maximum: 50 },
  keepsGraceNotes: { type: "boolean" },
  pushMs: { type: "number", minimum: -MOST_PUSH_MS, maximum: MOST_PUSH_MS },
  pushEvery: { type: "integer", minimum: 1, maximum: 64 },
  pushFrom: { type: "integer", minimum: 1, maximum: 64 },
  humanizeMs: { type: "number", minimum: 0, maximum: 100 },
  humanizeShape: { enum: NOISE_SHAPES },
  humanizeSeed: { type: "integer", minimum: 0, maximum: 1_000_000_000 },
};
export const pushTicks = { type: "integer", minimum: -1000, maximum: 1000 };

export const sharePercent = { type: "number", minimum: 0, maximum: 100 };
export const chancePercent = { type: "number", minimum: 0, maximum: 200 };
export const roleTiming = withOptional(record({}), {
  strengthPercent: sharePercent,
  swingSharePercent: sharePercent,
  humanizePercent: chancePercent,
});
export const byRole = withOptional(record({}), { ghost: roleTiming, accent: roleTiming });

/** The timing of a recipe, and settings that are copied. */
export const recipeTiming = withOptional(record(carried), { pushTicks, byRole, humanizeWanderPercent: sharePercent });

/** What can be set otherwise in a stretch. */
export const { strengthPercent, leaveWithinMs, reachPercent, pushMs, humanizeMs } = carried;
export const otherwise = { strengthPercent, leaveWithinMs, reachPercent, pushMs, humanizeMs };

export const timing = withOptional(
  record({
    ...carried,
    isOn: { type: "boolean" },
    grid,
    pocketMs: { type: "number", minimum: -500, maximum: 500 },
    latencyMs: { type: "number", minimum: -200, maximum: 200 },
  }),
  {
    pushTicks,
    humanizeWanderPercent: sharePercent,
    ghostGrid: grid,
    byRole,
    exceptions: {
      type: "array",
      maxItems: 10_000,
      items: withOptional(record({ startTick: tick, endTick: tick }), otherwise),
    },
    stretches: { type: "array", maxItems: 10_000, items: record({ startTick: tick, endTick: tick, grid }) },
  },
);

export const roleBorders = record({
  ghostTop: { type: "integer", minimum: 0, maximum: 127 },
  accentBottom: { type: "integer", minimum: 1, maximum: 128 },
});
export const grooveFields = {
  lengthQuarters: { type: "number", minimum: 0.25, maximum: LONGEST_GROOVE_QUARTERS },
  grid,
  layers: {
    type: "array",
    minItems: 1,
    maxItems: FAMILIES.length + 1,
    items: record({
      family: orNull({ enum: FAMILIES }),
      slots: {
        type: "array",
        minItems: 1,
        maxItems: 2048,
        items: record({
          offset: { type: "number", minimum: -1, maximum: 1 },
          accent: { type: "number", minimum: 0, maximum: 20 },
          hitCount: { type: "integer", minimum: 0, maximum: 1_000_000 },
          spread: { type: "number", minimum: 0, maximum: 1 },
        }),
      },
    }),
  },
};
export const feelPercent = { type: "number", minimum: -200, maximum: 200 };
export const grooveName = { type: "string", minLength: 1, maxLength: 200 };
export const grooveId = { type: "string", minLength: 1, maxLength: 300 };
export const laidGroove = record({ id: grooveId, name: grooveName, ...grooveFields });
export const feel = record({
  isOn: { type: "boolean" },
  groove: laidGroove,
  timingPercent: feelPercent,
  accentPercent: feelPercent,
});
export const newGroove = withOptional(record({ name: grooveName, ...grooveFields }), {
  tags: { type: "array", maxItems: MOST_TAGS, items: { type: "string", minLength: 1, maxLength: LONGEST_TAG } },
});
export const percent = { type: "number", minimum: 0, maximum: 400 };
export const roleShape = withOptional(record({}), {
  setVelocity: velocity,
  evenOutPercent: sharePercent,
  scalePercent: percent,
  addVelocity: { type: "integer", minimum: -126, maximum: 126 },
  lowestVelocity: velocity,
  highestVelocity: velocity,
  chancePercent,
});
export const dynamics = withOptional(
  record({
    isOn: { type: "boolean" },
    loudnessPercent: percent,
    rangePercent: percent,
    deviation: { type: "number", minimum: 0, maximum: 64 },
    deviationShape: { enum: NOISE_SHAPES },
    deviationSeed: { type: "integer", minimum: 0, maximum: 1_000_000_000 },
    lowestVelocity: velocity,
    highestVelocity: velocity,
  }),
  {
    byRole: withOptional(record({}), { ghost: roleShape, stroke: roleShape, accent: roleShape }),
    middleVelocity: velocity,
    cycle: record({ grid, percents: { type: "array", minItems: 1, maxItems: 64, items: percent } }),
    fitsIn: { const: true },
    sparedArticulationIds: { type: "array", maxItems: 200, items: id },
    exceptions: {
      type: "array",
      maxItems: 10_000,
      items: withOptional(record({ startTick: tick, endTick: tick }), {
        isOn: { type: "boolean" },
        loudnessPercent: percent,
        rangePercent: percent,
      }),
    },
  },
);
export const treatment = withOptional(record({ timing }), {
  dynamics,
  feel,
  repair: record({ leftOut: { type: "array", maxItems: 500_000, items: id } }),
  roles: roleBorders,
});
