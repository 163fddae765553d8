// Building blocks of JSON schemas, for whatever is stored or sent.

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

/**
 * A name as a person types it: one line, not blank, without signs that control or turn what stands beside it, or halves of signs. Built
 * from the code points, so that none of them stands here itself.
 */
const unseen = "\\u0000-\\u001f\\u007f-\\u009f\\u200e\\u200f\\u2028-\\u202e\\u2066-\\u2069\\ud800-\\udfff";
export const LONGEST_NAME = 200;
export const oneLine = {
  type: "string",
  minLength: 1,
  maxLength: LONGEST_NAME,
  pattern: `^(?=[^]*\\S)[^${unseen}]+$`,
} as const;
/** Makes one line of a name that comes from a file. */
export function toOneLine(name: string): string {
  const line = name
    .replace(new RegExp(`[${unseen}]+`, "gu"), " ")
    .replace(/\s+/g, " ")
    .trim();
  return [...line].slice(0, LONGEST_NAME).join("");
}

export const id = { type: "string", minLength: 1, maxLength: 200 } as const;
