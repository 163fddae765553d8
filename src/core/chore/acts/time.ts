import { noiseOf } from "../../humanize.ts";
import { type Limit, shapeOf } from "../../limit.ts";
import { tickAfterMs } from "../../time/index.ts";
import { type ActKind, moved } from "./act-kind.ts";

const behind = (unit: string) => (value: number) =>
  value === 0 ? `push 0 ${unit}` : value < 0 ? `push ahead ${-value} ${unit}` : `lay back ${value} ${unit}`;

const MS: Limit = { label: "Push", min: -1000, max: 1000, step: 0.5, unit: "ms", usual: 0, say: behind("ms") };
const TICKS: Limit = {
  label: "Push in ticks",
  min: -100_000,
  max: 100_000,
  step: 1,
  unit: "ticks",
  usual: 0,
  isWhole: true,
  say: behind("ticks"),
};
const CHANCE_MS: Limit = {
  label: "Humanize timing",
  min: 0,
  max: 100,
  step: 0.5,
  unit: "ms",
  usual: 0,
  say: (value) => `± ${value} ms`,
};
const CHANCE_VELOCITY: Limit = {
  label: "Humanize velocity",
  min: 0,
  max: 64,
  step: 1,
  unit: "",
  usual: 0,
  say: (value) => `± ${value}`,
};
const MOST_SEED = 1_000_000_000;

/** Behind is positive. */
export interface ShiftMsAct {
  readonly kind: "shiftMs";
  readonly ms: number;
}

export const shiftMs: ActKind<ShiftMsAct> = {
  offers: [{ name: "push or lay back, in ms", act: { kind: "shiftMs", ms: 6 } }],
  fields: { ms: shapeOf(MS) },
  phrase: (act) => [{ kind: "number", limit: MS, value: act.ms, set: (ms) => ({ ...act, ms }) }],
  change: (working, { ms }, { tempoMap }) => moved(working, ({ tick }) => tickAfterMs(tempoMap, tick, ms)),
};

/** Behind is positive. */
export interface ShiftTicksAct {
  readonly kind: "shiftTicks";
  readonly ticks: number;
}

export const shiftTicks: ActKind<ShiftTicksAct> = {
  offers: [{ name: "push or lay back, in ticks", act: { kind: "shiftTicks", ticks: 10 } }],
  fields: { ticks: shapeOf(TICKS) },
  phrase: (act) => [{ kind: "number", limit: TICKS, value: act.ticks, set: (ticks) => ({ ...act, ticks }) }],
  change: (working, { ticks }) => moved(working, ({ tick }) => tick + ticks),
};

/** Repeatable: the same seed is the same deviation of each hit. */
export interface HumanizeAct {
  readonly kind: "humanize";
  readonly ms: number;
  readonly velocity: number;
  readonly seed: number;
}

export const humanize: ActKind<HumanizeAct> = {
  offers: [{ name: "humanize", act: { kind: "humanize", ms: 3, velocity: 3, seed: 1 } }],
  fields: {
    ms: shapeOf(CHANCE_MS),
    velocity: shapeOf(CHANCE_VELOCITY),
    seed: { type: "integer", minimum: 0, maximum: MOST_SEED },
  },
  phrase: (act) => [
    "humanize ",
    { kind: "number", limit: CHANCE_MS, value: act.ms, set: (ms) => ({ ...act, ms }) },
    ", velocity ",
    { kind: "number", limit: CHANCE_VELOCITY, value: act.velocity, set: (velocity) => ({ ...act, velocity }) },
    { kind: "button", name: "Re-roll", set: () => ({ ...act, seed: (act.seed + 1) % MOST_SEED }) },
  ],
  change: (working, { ms, velocity, seed }, { tempoMap }) =>
    working.map((one) => {
      const { id } = one.sifted.hit;
      const tick = ms > 0 ? tickAfterMs(tempoMap, one.tick, noiseOf(id, seed, "bell") * ms) : one.tick;
      return { ...one, tick, velocity: one.velocity + noiseOf(id, seed + 1, "bell") * velocity };
    }),
};

/** 0.5 plays it twice as fast, 2 half as fast, from the first of the hits on. */
export interface StretchTimeAct {
  readonly kind: "stretchTime";
  readonly factor: 0.5 | 2;
}

export const stretchTime: ActKind<StretchTimeAct> = {
  offers: [
    { name: "double time", act: { kind: "stretchTime", factor: 0.5 } },
    { name: "half time", act: { kind: "stretchTime", factor: 2 } },
  ],
  fields: { factor: { enum: [0.5, 2] } },
  phrase: ({ factor }) => [factor === 2 ? "half time" : "double time"],
  change(working, { factor }) {
    const first = working[0]?.tick ?? 0;
    return moved(working, ({ tick }) => first + (tick - first) * factor);
  },
  growsTake: true,
};
