import { GRID_DENOMINATORS, GRID_FAMILIES, MOST_SWING_PERCENT, STRAIGHT_PERCENT } from "../core/time/index.ts";

// Building blocks of the schemas.

export const sevenBits = { type: "integer", minimum: 0, maximum: 127 } as const;

export const orNull = (schema: object) => ({ anyOf: [schema, { type: "null" }] });

/** An object with exactly these fields, all of them required. */
export function record(properties: Record<string, object>) {
  return { type: "object", properties, required: Object.keys(properties), additionalProperties: false };
}

/** The same object with fields that may be left out. */
export function withOptional(schema: ReturnType<typeof record>, optional: Record<string, object>) {
  return { ...schema, properties: { ...schema.properties, ...optional } };
}

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

export const id = { type: "string", minLength: 1, maxLength: 200 } as const;
export const tick = { type: "integer", minimum: 0, maximum: Number.MAX_SAFE_INTEGER } as const;
export const velocity = { type: "integer", minimum: 1, maximum: 127 } as const;
