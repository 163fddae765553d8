import type { ErrorObject } from "ajv";
import { ACT_KINDS } from "../core/chore/index.ts";
import { id, record, withOptional } from "../core/json-shape.ts";
import { TEST_KINDS } from "../core/sift/index.ts";
import { shapeTest } from "./ajv.ts";
import { CHORE_FORMAT, CHORE_VERSION } from "./chore-file.ts";
import type { ChoreRequest, NewChore, Problem } from "./wire.ts";

// Chores as JSON: rules with what they should do, in a file to be handed on and over the wire.

/** Kinds of one record, each with its own fields. */
const oneOfKinds = (kinds: Readonly<Record<string, { readonly fields: Readonly<Record<string, object>> }>>) => ({
  type: "object",
  discriminator: { propertyName: "kind" },
  required: ["kind"],
  oneOf: Object.entries(kinds).map(([kind, { fields }]) => record({ kind: { const: kind }, ...fields })),
});

const test = oneOfKinds(TEST_KINDS);
const act = oneOfKinds(ACT_KINDS);

const sift = withOptional(
  record({
    clauses: {
      type: "array",
      maxItems: 32,
      items: withOptional(record({ anyOf: { type: "array", minItems: 1, maxItems: 64, items: test } }), {
        not: { const: true },
      }),
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
