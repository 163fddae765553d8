import { tags } from "../core/document/shapes/treatment-shape.ts";
import { oneLine, record } from "../core/json-shape.ts";
import { LONGEST_PLAYED } from "../core/pattern/index.ts";

/** What is said of a pattern. */
export const patternMark = record({
  played: { type: "string", minLength: 1, maxLength: LONGEST_PLAYED },
  name: { anyOf: [oneLine, { const: "" }] },
  tags,
  isFavourite: { type: "boolean" },
});
