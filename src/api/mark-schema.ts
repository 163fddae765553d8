import { FAMILIES } from "../core/document/index.ts";
import { tags } from "../core/document/shapes/treatment-shape.ts";
import { oneLine, record, withOptional } from "../core/json-shape.ts";
import { LONGEST_PLAYED } from "../core/pattern/index.ts";

/** What is said of a pattern. */
/** Strokes more or fewer, or steps of velocity, by family. */
const byFamily = {
  ...record({}),
  properties: Object.fromEntries(
    FAMILIES.map((family) => [family, { type: "integer", minimum: -2000, maximum: 2000 }]),
  ),
};
const place = { type: "string", maxLength: 100 };
const seed = { type: "integer", minimum: 0, maximum: 1_000_000_000 };
const variation = record({
  strokes: byFamily,
  velocity: byFamily,
  seed,
  kept: {
    type: "object",
    maxProperties: 2000,
    propertyNames: { maxLength: place.maxLength },
    additionalProperties: seed,
  },
  thrown: { type: "array", maxItems: 2000, items: place },
});

export const patternMark = withOptional(
  record({
    played: { type: "string", minLength: 1, maxLength: LONGEST_PLAYED },
    name: { anyOf: [oneLine, { const: "" }] },
    tags,
    isFavourite: { type: "boolean" },
  }),
  { variation },
);
