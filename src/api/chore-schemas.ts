import type { ErrorObject } from "ajv";
import { FAMILIES, ROLES } from "../core/document/index.ts";
import { grid } from "../core/document/shapes/values.ts";
import { CONTOUR_SPANS, CONTOURS } from "../core/dynamics/index.ts";
import { record, withOptional } from "../core/json-shape.ts";
import { COMPANIES, PLACES } from "../core/sift/index.ts";
import { shapeTest } from "./ajv.ts";
import { CHORE_FORMAT, CHORE_VERSION } from "./chore-file.ts";
import type { ChoreRequest, NewChore, Problem } from "./wire.ts";

// Chores as JSON: rules with what they should do, in a file to be handed on and over the wire.

const id = { type: "string", minLength: 1, maxLength: 200 } as const;
const velocity = { type: "integer", minimum: 1, maximum: 127 } as const;
const percent = { type: "number", minimum: 0, maximum: 300 } as const;
const some = (items: object) => ({ type: "array", minItems: 1, maxItems: 64, items });
const bar = { type: "integer", minimum: 1, maximum: 100_000 } as const;
const driftMs = { type: "number", minimum: -1000, maximum: 1000 } as const;

const oneOfKinds = (kinds: Readonly<Record<string, object>>) => ({
  type: "object",
  discriminator: { propertyName: "kind" },
  required: ["kind"],
  oneOf: Object.entries(kinds).map(([kind, fields]) => record({ kind: { const: kind }, ...fields })),
});

const test = oneOfKinds({
  voices: { voiceIds: some(id) },
  families: { families: some({ enum: FAMILIES }) },
  stroke: { voiceId: id, articulationId: id },
  velocity: { from: velocity, to: velocity },
  roles: { roles: some({ enum: ROLES }) },
  places: { places: some({ enum: PLACES }) },
  steps: { grid, steps: some({ type: "integer", minimum: 1, maximum: 256 }) },
  drift: { fromMs: driftMs, toMs: driftMs },
  bars: { from: bar, to: bar },
  company: { company: { enum: COMPANIES } },
  pinned: { what: { enum: ["time", "loudness"] } },
});

const sift = withOptional(
  record({
    clauses: {
      type: "array",
      maxItems: 32,
      items: withOptional(record({ anyOf: some(test) }), { not: { const: true } }),
    },
  }),
  {
    nth: record({
      every: { type: "integer", minimum: 1, maximum: 256 },
      from: { type: "integer", minimum: 1, maximum: 256 },
      perBar: { type: "boolean" },
    }),
  },
);

const act = oneOfKinds({
  scale: { percent },
  add: { velocity: { type: "integer", minimum: -126, maximum: 126 } },
  set: { velocity },
  evenOut: { percent: { type: "number", minimum: 0, maximum: 100 } },
  range: { percent },
  contour: { contour: { enum: CONTOURS }, from: velocity, to: velocity, span: { enum: CONTOUR_SPANS } },
  fitIn: {},
  shiftMs: { ms: { type: "number", minimum: -1000, maximum: 1000 } },
  shiftTicks: { ticks: { type: "integer", minimum: -100_000, maximum: 100_000 } },
  humanize: {
    ms: { type: "number", minimum: 0, maximum: 100 },
    velocity: { type: "number", minimum: 0, maximum: 64 },
    seed: { type: "integer", minimum: 0, maximum: 1_000_000_000 },
  },
  revoice: { voiceId: id, articulationId: id },
  mute: {},
  remove: {},
  stretchTime: { factor: { enum: [0.5, 2] } },
  takeOut: {},
});

const steps = {
  type: "array",
  minItems: 1,
  maxItems: 32,
  items: record({ sift, acts: { type: "array", maxItems: 32, items: act } }),
};
export const newChore = record({ name: { type: "string", minLength: 1, maxLength: 200 }, steps });
const choreFile = record({
  format: { const: CHORE_FORMAT },
  version: { const: CHORE_VERSION },
  chores: { type: "array", minItems: 1, maxItems: 500, items: newChore },
});
const choreRequest = withOptional(
  record({
    name: { type: "string", minLength: 1, maxLength: 200 },
    steps,
    projectIds: { type: "array", minItems: 1, maxItems: 1000, items: id },
  }),
  { isTrial: { const: true } },
);

interface ChoreFile {
  readonly chores: readonly NewChore[];
}

export const isNewChore = shapeTest<NewChore>(newChore);
export const isChoreRequest = shapeTest<ChoreRequest>(choreRequest);
const isChoreFile = shapeTest<ChoreFile>(choreFile);

/** Reads a file of chores. @returns what is wrong with it, where, if it is none */
export function readChoreFile(text: string): readonly NewChore[] | Problem {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    return {
      code: "chores.noJson",
      message: "This file is no JSON, so it holds no chores.",
      remedy: "Choose a file that was saved with “Save as a file” under Chores.",
    };
  }
  if (isChoreFile(value)) return value.chores;
  const error = isChoreFile.errors?.[0];
  return {
    code: "chores.shape",
    message: `These are no chores as we know them: ${faultWords(error)}.`,
    where: error?.instancePath || "/",
    remedy: "Nothing was taken. Mend the file, or save it anew where it came from.",
  };
}

function faultWords(error: ErrorObject | undefined): string {
  if (!error) return "the form is unknown";
  const where = error.instancePath || "the file";
  if (error.keyword === "additionalProperties") {
    return `${where} has a field “${error.params.additionalProperty}” that means nothing`;
  }
  return `${where} ${error.message ?? "is not as it should be"}`;
}
