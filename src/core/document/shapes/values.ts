import { orNull, record } from "../../json-shape.ts";
import { GRID_DENOMINATORS, GRID_FAMILIES, MOST_SWING_PERCENT, STRAIGHT_PERCENT } from "../../time/index.ts";
import { LONGEST_TAKE_TICKS, MOST_HITS } from "../limits.ts";

// What the shapes of documents are made of.

export const tick = { type: "integer", minimum: 0, maximum: LONGEST_TAKE_TICKS } as const;
export const velocity = { type: "integer", minimum: 1, maximum: 127 } as const;

export const grid = {
  type: "object",
  properties: {
    family: { enum: GRID_FAMILIES },
    denominator: { enum: GRID_DENOMINATORS },
    swingPercent: { type: "number", minimum: STRAIGHT_PERCENT, maximum: MOST_SWING_PERCENT },
  },
  required: ["family", "denominator"],
  additionalProperties: false,
};

export const list = (items: object) => ({ type: "array", maxItems: MOST_HITS, items });
export const byId = (value: object) => ({ type: "object", maxProperties: 10_000, additionalProperties: value });
/** A value before and after. */
export const fromTo = (value: object) => record({ from: value, to: value });
export const fromToOrNull = (value: object) => fromTo(orNull(value));

/** Refers to a shape that many edits have in them: it is checked by the same code everywhere. */
export const shared = (name: string) => ({ $ref: `#/$defs/${name}` });
