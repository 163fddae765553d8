import { record } from "../core/json-shape.ts";

const borders = { type: "array", maxItems: 16, items: { type: "integer", minimum: 1, maximum: 126 } };

/** At which velocities a kit changes its sounds. */
export const kit = record({
  name: { type: "string", minLength: 1, maxLength: 100 },
  borders,
  ofVoices: { type: "object", maxProperties: 500, additionalProperties: borders },
});
