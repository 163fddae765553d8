import { id, orNull, record, withOptional } from "../../json-shape.ts";
import { type Limit, shapeOf } from "../../limit.ts";
import { LONGEST_GROOVE_QUARTERS, LONGEST_TAG, MOST_TAGS } from "../groove.ts";
import { FAMILIES } from "../note-map.ts";
import {
  DYNAMICS_LIMITS,
  GROOVE_LIMITS,
  LENGTH_LIMITS,
  ROLE_SHAPE_LIMITS,
  ROLE_TIMING_LIMITS,
  TIMING_LIMITS,
} from "../setting-limits.ts";
import { LENGTH_MODES, NOISE_SHAPES } from "../treatment.ts";
import { grid, tick } from "./values.ts";

// The settings of a lane, and grooves, as they are stored and sent.

const limited = <Name extends string>(limits: Readonly<Record<Name, Limit>>) =>
  Object.fromEntries(Object.entries<Limit>(limits).map(([name, limit]) => [name, shapeOf(limit)])) as Readonly<
    Record<Name, object>
  >;
const inTiming = limited(TIMING_LIMITS);
const inDynamics = limited(DYNAMICS_LIMITS);
const seed = { type: "integer", minimum: 0, maximum: 1_000_000_000 };

/** What of a timing can be carried to another voice. */
export const carried = {
  strengthPercent: inTiming.strengthPercent,
  leaveWithinMs: inTiming.leaveWithinMs,
  reachPercent: inTiming.reachPercent,
  keepsGraceNotes: { type: "boolean" },
  pushMs: inTiming.pushMs,
  pushEvery: inTiming.pushEvery,
  pushFrom: inTiming.pushFrom,
  humanizeMs: inTiming.humanizeMs,
  humanizeShape: { enum: NOISE_SHAPES },
  humanizeSeed: seed,
};
const { pushTicks, humanizeWanderPercent } = inTiming;

export const roleTiming = withOptional(record({}), limited(ROLE_TIMING_LIMITS));
export const byRole = withOptional(record({}), { ghost: roleTiming, accent: roleTiming });

/** The timing of a recipe, and settings that are copied. */
export const recipeTiming = withOptional(record(carried), { pushTicks, byRole, humanizeWanderPercent });

/** What can be set otherwise in a stretch. */
export const { strengthPercent, leaveWithinMs, reachPercent, pushMs, humanizeMs } = carried;
export const otherwise = { strengthPercent, leaveWithinMs, reachPercent, pushMs, humanizeMs };

export const timing = withOptional(
  record({
    ...carried,
    isOn: { type: "boolean" },
    grid,
    pocketMs: inTiming.pocketMs,
    latencyMs: inTiming.latencyMs,
  }),
  {
    latencyStays: { const: true },
    pushTicks,
    humanizeWanderPercent,
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
export const feelPercent = shapeOf(GROOVE_LIMITS.timingPercent);
export const grooveName = { type: "string", minLength: 1, maxLength: 200 };
export const grooveId = { type: "string", minLength: 1, maxLength: 300 };
export const laidGroove = record({ id: grooveId, name: grooveName, ...grooveFields });
export const feel = record({
  isOn: { type: "boolean" },
  groove: laidGroove,
  timingPercent: feelPercent,
  accentPercent: feelPercent,
});
export const tags = {
  type: "array",
  maxItems: MOST_TAGS,
  items: { type: "string", minLength: 1, maxLength: LONGEST_TAG },
};
export const newGroove = withOptional(record({ name: grooveName, ...grooveFields }), { tags });
export const roleShape = withOptional(record({}), limited(ROLE_SHAPE_LIMITS));
export const dynamics = withOptional(
  record({
    isOn: { type: "boolean" },
    loudnessPercent: inDynamics.loudnessPercent,
    rangePercent: inDynamics.rangePercent,
    deviation: inDynamics.deviation,
    deviationShape: { enum: NOISE_SHAPES },
    deviationSeed: seed,
    lowestVelocity: inDynamics.lowestVelocity,
    highestVelocity: inDynamics.highestVelocity,
  }),
  {
    byRole: withOptional(record({}), { ghost: roleShape, stroke: roleShape, accent: roleShape }),
    middleVelocity: inDynamics.middleVelocity,
    cycle: record({
      grid,
      percents: { type: "array", minItems: 1, maxItems: 64, items: { type: "number", minimum: 0, maximum: 400 } },
    }),
    fitsIn: { const: true },
    sparedArticulationIds: { type: "array", maxItems: 200, items: id },
    exceptions: {
      type: "array",
      maxItems: 10_000,
      items: withOptional(record({ startTick: tick, endTick: tick }), {
        isOn: { type: "boolean" },
        loudnessPercent: inDynamics.loudnessPercent,
        rangePercent: inDynamics.rangePercent,
      }),
    },
  },
);
const lengths = record({ mode: { enum: LENGTH_MODES }, ...limited(LENGTH_LIMITS), seed });
export const treatment = withOptional(record({ timing }), {
  dynamics,
  feel,
  lengths,
  repair: record({ leftOut: { type: "array", maxItems: 500_000, items: id } }),
  roles: roleBorders,
});
