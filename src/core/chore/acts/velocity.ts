import { USUAL_DYNAMICS } from "../../document/treatment.ts";
import { fitIn as fitVelocities } from "../../dynamics/index.ts";
import { type Limit, shapeOf } from "../../limit.ts";
import { type ActKind, louder, type Working } from "./act-kind.ts";

const BY: Limit = {
  label: "Velocity by",
  min: -126,
  max: 126,
  step: 1,
  unit: "",
  isWhole: true,
  say: (value) => (value < 0 ? `−${-value}` : `+${value}`),
};
const PERCENT: Limit = { label: "Velocity times", min: 0, max: 300, step: 1, unit: "%" };
const VELOCITY: Limit = { label: "Velocity", min: 1, max: 127, step: 1, unit: "", isWhole: true };
const EVENED: Limit = { label: "Evened by", min: 0, max: 100, step: 1, unit: "%" };
const RANGE: Limit = { ...PERCENT, label: "Range", usual: 100 };

/** So much louder or softer. */
export interface AddAct {
  readonly kind: "add";
  readonly velocity: number;
}

export const add: ActKind<AddAct> = {
  offers: [{ name: "change velocity by", act: { kind: "add", velocity: -10 } }],
  fields: { velocity: shapeOf(BY) },
  phrase: (act) => [
    "velocity ",
    { kind: "number", limit: BY, value: act.velocity, set: (velocity) => ({ ...act, velocity }) },
  ],
  change: (working, act) => louder(working, ({ velocity }) => velocity + act.velocity),
};

/** In proportion; the shape stays. */
export interface ScaleAct {
  readonly kind: "scale";
  readonly percent: number;
}

export const scale: ActKind<ScaleAct> = {
  offers: [{ name: "scale velocity", act: { kind: "scale", percent: 80 } }],
  fields: { percent: shapeOf(PERCENT) },
  phrase: (act) => [
    "velocity × ",
    { kind: "number", limit: PERCENT, value: act.percent, set: (percent) => ({ ...act, percent }) },
  ],
  change: (working, { percent }) => louder(working, ({ velocity }) => (velocity * Math.max(0, percent)) / 100),
};

/** All the same. */
export interface SetAct {
  readonly kind: "set";
  readonly velocity: number;
}

export const set: ActKind<SetAct> = {
  offers: [{ name: "set velocity to", act: { kind: "set", velocity: 80 } }],
  fields: { velocity: shapeOf(VELOCITY) },
  phrase: (act) => [
    "set velocity to ",
    { kind: "number", limit: VELOCITY, value: act.velocity, set: (velocity) => ({ ...act, velocity }) },
  ],
  change: (working, { velocity }) => louder(working, () => velocity),
};

/** Towards the average of what was selected of the same voice and role. */
export interface EvenOutAct {
  readonly kind: "evenOut";
  readonly percent: number;
}

export const evenOut: ActKind<EvenOutAct> = {
  offers: [{ name: "even out velocity", act: { kind: "evenOut", percent: 50 } }],
  fields: { percent: shapeOf(EVENED) },
  phrase: (act) => [
    "velocity evened by ",
    { kind: "number", limit: EVENED, value: act.percent, set: (percent) => ({ ...act, percent }) },
  ],
  change(working, { percent }) {
    const average = averagesBy(working, ({ sifted: { hit, lane, row } }) => `${hit.voiceId} ${lane.roles[row]}`);
    return louder(working, (one) => one.velocity + (percent / 100) * (average(one) - one.velocity));
  },
};

/** More or less dynamic around the average of what was selected of the same voice. */
export interface RangeAct {
  readonly kind: "range";
  readonly percent: number;
}

export const range: ActKind<RangeAct> = {
  offers: [{ name: "change the range", act: { kind: "range", percent: 130 } }],
  fields: { percent: shapeOf(RANGE) },
  phrase: (act) => [
    "range ",
    { kind: "number", limit: RANGE, value: act.percent, set: (percent) => ({ ...act, percent }) },
  ],
  change(working, { percent }) {
    const average = averagesBy(working, ({ sifted: { hit } }) => hit.voiceId);
    return louder(working, (one) => average(one) + (one.velocity - average(one)) * (Math.max(0, percent) / 100));
  },
};

/** What is beyond 1 to 127 by now is scaled, role by role of each voice, until it is not; the shape stays. */
export interface FitInAct {
  readonly kind: "fitIn";
}

export const fitIn: ActKind<FitInAct> = {
  offers: [{ name: "scale to fit", act: { kind: "fitIn" } }],
  fields: {},
  phrase: () => ["scale to fit 1–127"],
  change(working) {
    const velocities = new Map<Working, number>();
    for (const voiceId of new Set(working.map(({ sifted }) => sifted.hit.voiceId))) {
      const own = working.filter(({ sifted }) => sifted.hit.voiceId === voiceId);
      const wanted = Float64Array.from(own, ({ velocity }) => velocity);
      const roles = Uint8Array.from(own, ({ sifted: { lane, row } }) => lane.roles[row]!);
      fitVelocities(wanted, roles, new Uint8Array(own.length), USUAL_DYNAMICS);
      for (const [index, one] of own.entries()) velocities.set(one, wanted[index]!);
    }
    return louder(working, (one) => velocities.get(one)!);
  },
};

function averagesBy(working: readonly Working[], keyOf: (one: Working) => string): (one: Working) => number {
  const sums = new Map<string, { sum: number; count: number }>();
  for (const one of working) {
    const entry = sums.get(keyOf(one)) ?? { sum: 0, count: 0 };
    sums.set(keyOf(one), { sum: entry.sum + one.velocity, count: entry.count + 1 });
  }
  return (one) => {
    const { sum, count } = sums.get(keyOf(one))!;
    return sum / count;
  };
}
