import type { Limit } from "../limit.ts";
import { MOST_SWING_PERCENT, STRAIGHT_PERCENT } from "../time/index.ts";
import { DEFAULT_TREATMENT, MOST_PUSH_MS, USUAL_DYNAMICS, USUAL_LENGTHS } from "./treatment.ts";

// What each setting of a lane can be, said once: sliders, typed numbers, stored shapes and tests take it from here.

const percent = { min: 0, max: 100, step: 1, unit: "%" } as const;
const velocity = { min: 1, max: 127, step: 1, unit: "", isWhole: true } as const;
const usual = DEFAULT_TREATMENT.timing;

/** `6 ms ahead`, `0 ms`, `6 ms behind`. */
const ahead = (unit: string) => (value: number) =>
  value === 0 ? `0 ${unit}` : `${Math.abs(value)} ${unit} ${value < 0 ? "ahead" : "behind"}`;
const late = (ms: number) => (ms === 0 ? "0 ms" : `${Math.abs(ms)} ms ${ms > 0 ? "late" : "early"}`);

export const TIMING_LIMITS = {
  strengthPercent: { label: "Strength", ...percent, usual: usual.strengthPercent },
  swingPercent: {
    label: "Swing",
    min: STRAIGHT_PERCENT,
    max: MOST_SWING_PERCENT,
    step: 0.5,
    unit: "%",
    usual: STRAIGHT_PERCENT,
    say: (value) => (value === STRAIGHT_PERCENT ? "straight" : `${value} %`),
  },
  leaveWithinMs: {
    label: "Keep within",
    min: 0,
    max: 500,
    handy: [0, 40],
    step: 1,
    unit: "ms",
    usual: usual.leaveWithinMs,
  },
  reachPercent: { label: "Reach", min: 0, max: 50, step: 1, unit: "% of a step", usual: usual.reachPercent },
  pocketMs: { label: "Pocket", min: -500, max: 500, handy: [-60, 60], step: 0.5, unit: "ms", usual: 0, say: late },
  latencyMs: {
    label: "Latency",
    min: -200,
    max: 200,
    handy: [-60, 60],
    step: 0.5,
    unit: "ms",
    usual: usual.latencyMs,
    say: late,
  },
  pushMs: {
    label: "Push",
    min: -MOST_PUSH_MS,
    max: MOST_PUSH_MS,
    handy: [-40, 40],
    step: 0.5,
    unit: "ms",
    usual: usual.pushMs,
    say: ahead("ms"),
  },
  pushTicks: {
    label: "Push",
    min: -1000,
    max: 1000,
    handy: [-120, 120],
    step: 1,
    unit: "ticks",
    usual: 0,
    isWhole: true,
    say: ahead("ticks"),
  },
  pushEvery: { label: "Push every", min: 1, max: 64, handy: [1, 16], step: 1, unit: "", usual: 1, isWhole: true },
  pushFrom: { label: "Push from", min: 1, max: 64, handy: [1, 16], step: 1, unit: "", usual: 1, isWhole: true },
  humanizeMs: {
    label: "Humanize",
    min: 0,
    max: 100,
    handy: [0, 30],
    step: 0.5,
    unit: "ms",
    usual: usual.humanizeMs,
    say: (value) => (value === 0 ? "off" : `± ${value} ms`),
  },
  humanizeWanderPercent: {
    label: "Drift slowly",
    ...percent,
    usual: 0,
    say: (value) => (value === 0 ? "off" : `${value} %`),
  },
} satisfies Readonly<Record<string, Limit>>;

/** Of ghosts and accents, beside the rest of the voice. */
export const ROLE_TIMING_LIMITS = {
  strengthPercent: { label: "Strength", ...percent },
  swingSharePercent: { label: "Share of the swing", ...percent, usual: 100 },
  humanizePercent: { label: "Share of the humanize", min: 0, max: 200, step: 1, unit: "%", usual: 100 },
} satisfies Readonly<Record<string, Limit>>;

export const DYNAMICS_LIMITS = {
  loudnessPercent: {
    label: "Level",
    min: 0,
    max: 400,
    handy: [0, 200],
    step: 1,
    unit: "%",
    usual: USUAL_DYNAMICS.loudnessPercent,
  },
  rangePercent: {
    label: "Range",
    min: 0,
    max: 400,
    handy: [0, 250],
    step: 1,
    unit: "%",
    usual: USUAL_DYNAMICS.rangePercent,
  },
  deviation: {
    label: "Humanize velocity",
    min: 0,
    max: 64,
    handy: [0, 30],
    step: 1,
    unit: "",
    usual: USUAL_DYNAMICS.deviation,
    say: (value) => (value === 0 ? "off" : `± ${value}`),
  },
  lowestVelocity: { label: "Minimum", ...velocity, usual: USUAL_DYNAMICS.lowestVelocity },
  highestVelocity: { label: "Maximum", ...velocity, usual: USUAL_DYNAMICS.highestVelocity },
  middleVelocity: { label: "Middle", ...velocity },
} satisfies Readonly<Record<string, Limit>>;

/** What can be done to a role; at `usual` it changes nothing. */
export const ROLE_SHAPE_LIMITS = {
  scalePercent: {
    label: "Velocity times",
    min: 0,
    max: 400,
    handy: [0, 200],
    step: 1,
    unit: "%",
    usual: 100,
    say: (value) => `× ${value} %`,
  },
  addVelocity: {
    label: "Velocity by",
    min: -126,
    max: 126,
    handy: [-60, 60],
    step: 1,
    unit: "",
    usual: 0,
    isWhole: true,
    say: (value) => (value < 0 ? `−${-value}` : `+${value}`),
  },
  evenOutPercent: { label: "Evened by", ...percent, usual: 0, say: (value) => `evened by ${value} %` },
  setVelocity: { label: "Same velocity", ...velocity, say: (value) => `all at ${value}` },
  lowestVelocity: { label: "Minimum", ...velocity, usual: 1, say: (value) => `minimum ${value}` },
  highestVelocity: { label: "Maximum", ...velocity, usual: 127, say: (value) => `maximum ${value}` },
  chancePercent: {
    label: "Share of the humanize",
    min: 0,
    max: 200,
    step: 1,
    unit: "%",
    usual: 100,
    say: (value) => `humanized ${value} %`,
  },
} satisfies Readonly<Record<string, Limit>>;

/** Of how long notes last when they go out. */
const lengthMs = { min: 1, max: 10_000, handy: [1, 500], step: 1, unit: "ms" } as const;
export const LENGTH_LIMITS = {
  fixedMs: { label: "Length", ...lengthMs, usual: USUAL_LENGTHS.fixedMs },
  scalePercent: {
    label: "Share of the recorded length",
    min: 1,
    max: 1000,
    handy: [1, 200],
    step: 1,
    unit: "%",
    usual: USUAL_LENGTHS.scalePercent,
  },
  fromMs: { label: "Shortest", ...lengthMs, usual: USUAL_LENGTHS.fromMs },
  toMs: { label: "Longest", ...lengthMs, usual: USUAL_LENGTHS.toMs },
} satisfies Readonly<Record<string, Limit>>;

/** Of the groove step: below 0 is away from the groove. */
export const GROOVE_LIMITS = {
  timingPercent: { label: "Timing", min: -200, max: 200, step: 1, unit: "%", usual: 100 },
  accentPercent: { label: "Velocity", min: -200, max: 200, step: 1, unit: "%", usual: 60 },
} satisfies Readonly<Record<string, Limit>>;
