import { type Limit, shapeOf } from "../../limit.ts";
import { fromTo, oneOf, type TestKind } from "./test-kind.ts";

// How hits are played: how loud, how early or late, with what, and whether a hand has set them.

const LOUDNESS: Limit = { label: "Velocity from", min: 1, max: 127, step: 1, unit: "", isWhole: true };
const LOUDEST: Limit = { ...LOUDNESS, label: "Velocity to" };
const sayDrift = (ms: number) => (ms === 0 ? "on the slot" : `${Math.abs(ms)} ms ${ms < 0 ? "early" : "late"}`);
const EARLIEST: Limit = { label: "Drift from", min: -1000, max: 1000, step: 1, unit: "ms", say: sayDrift };
const LATEST: Limit = { ...EARLIEST, label: "Drift to" };

/** Both ends are included. */
export interface VelocityTest {
  readonly kind: "velocity";
  readonly from: number;
  readonly to: number;
}

export const velocity: TestKind<VelocityTest> = {
  name: "velocity",
  first: { kind: "velocity", from: 1, to: 60 },
  fields: { from: shapeOf(LOUDNESS), to: shapeOf(LOUDEST) },
  place: "condition",
  phrase: (test) => ["velocity ", ...fromTo(test, LOUDNESS, LOUDEST)],
  holds({ from, to }, { lane, row }) {
    const loudness = lane.cleaned.velocities[row]!;
    return loudness >= from && loudness <= to;
  },
};

/** Late is positive. Both ends are included. */
export interface DriftTest {
  readonly kind: "drift";
  readonly fromMs: number;
  readonly toMs: number;
}

export const drift: TestKind<DriftTest> = {
  name: "how early or late",
  first: { kind: "drift", fromMs: 10, toMs: 100 },
  fields: { fromMs: shapeOf(EARLIEST), toMs: shapeOf(LATEST) },
  place: "condition",
  phrase: (test) => [
    {
      kind: "number",
      limit: EARLIEST,
      value: test.fromMs,
      set: (fromMs) => ({ ...test, fromMs, toMs: Math.max(fromMs, test.toMs) }),
    },
    " to ",
    {
      kind: "number",
      limit: LATEST,
      value: test.toMs,
      set: (toMs) => ({ ...test, toMs, fromMs: Math.min(toMs, test.fromMs) }),
    },
  ],
  holds({ fromMs, toMs }, { lane, row }) {
    const driftMs = lane.cleaned.driftsMs[row]!;
    return driftMs >= fromMs && driftMs <= toMs;
  },
};

export const COMPANIES = ["alone", "together", "flam"] as const;
/** Whether another drum is struck with it, or it is part of a flam or drag. */
export type Company = (typeof COMPANIES)[number];

const COMPANY_WORDS: Readonly<Record<Company, string>> = {
  alone: "struck alone",
  together: "struck with another drum",
  flam: "part of a flam or drag",
};

export interface CompanyTest {
  readonly kind: "company";
  readonly company: Company;
}

export const company: TestKind<CompanyTest> = {
  name: "what is struck with it",
  first: { kind: "company", company: "together" },
  fields: { company: { enum: COMPANIES } },
  place: "condition",
  phrase: (test) => [
    {
      kind: "choice",
      label: "Company",
      chosenIds: [test.company],
      choices: COMPANIES.map((id) => ({ id, name: COMPANY_WORDS[id] })),
      set: (id) => ({ ...test, company: oneOf(COMPANIES, id) }),
    },
  ],
  holds: (test, { hit }, asked) => asked.companyOf(hit.id).has(test.company),
};

const PINS = ["time", "loudness"] as const;

export interface PinnedTest {
  readonly kind: "pinned";
  readonly what: (typeof PINS)[number];
}

export const pinned: TestKind<PinnedTest> = {
  name: "set by hand",
  first: { kind: "pinned", what: "time" },
  fields: { what: { enum: PINS } },
  place: "condition",
  phrase: (test) => [
    {
      kind: "choice",
      label: "Set by hand",
      chosenIds: [test.what],
      choices: [
        { id: "time", name: "pinned" },
        { id: "loudness", name: "with a velocity set by hand" },
      ],
      set: (id) => ({ ...test, what: oneOf(PINS, id) }),
    },
  ],
  holds: ({ what }, { hit }) => (what === "time" ? hit.pinnedTick !== null : hit.pinnedVelocity !== null),
};

export interface ChanceTest {
  readonly kind: "chance";
}

export const chance: TestKind<ChanceTest> = {
  name: "played sometimes",
  first: { kind: "chance" },
  fields: {},
  place: "condition",
  phrase: () => ["played sometimes"],
  holds: (_test, { hit }) => hit.chance !== undefined,
};
