import { Ajv, type JSONSchemaType, type ValidateFunction } from "ajv";
import { FAMILIES } from "../core/notemap/index.ts";
import { TRACK_LAYOUTS, type TrackLayout } from "../core/part/index.ts";
import { GRID_DENOMINATORS, GRID_FAMILIES } from "../core/time/index.ts";
import type { Problem, SaveRequest } from "./wire.ts";

const id = { type: "string", minLength: 1, maxLength: 200 } as const;
const tick = { type: "integer", minimum: 0, maximum: Number.MAX_SAFE_INTEGER } as const;
const velocity = { type: "integer", minimum: 1, maximum: 127 } as const;
const orNull = (schema: object) => ({ anyOf: [schema, { type: "null" }] });

/** An object with exactly these fields, all of them required. */
function record(properties: Record<string, object>) {
  return { type: "object", properties, required: Object.keys(properties), additionalProperties: false };
}

const hit = record({
  id,
  streamIndex: { type: "integer", minimum: 0, maximum: 65535 },
  note: { type: "integer", minimum: 0, maximum: 127 },
  voiceId: id,
  articulationId: id,
  recordedTick: orNull(tick),
  recordedVelocity: orNull(velocity),
  pinnedTick: orNull(tick),
  pinnedVelocity: orNull(velocity),
});

const timing = record({
  isOn: { type: "boolean" },
  grid: record({ family: { enum: GRID_FAMILIES }, denominator: { enum: GRID_DENOMINATORS } }),
  strengthPercent: { type: "number", minimum: 0, maximum: 100 },
  leaveWithinMs: { type: "number", minimum: 0, maximum: 500 },
  reachPercent: { type: "number", minimum: 0, maximum: 50 },
  pocketMs: { type: "number", minimum: -500, maximum: 500 },
  keepsGraceNotes: { type: "boolean" },
});

const treatment = record({ timing });
const lane = record({ voiceId: id, treatment });
const list = (items: object) => ({ type: "array", maxItems: 500_000, items });

const meaning = record({ voiceId: id, articulationId: id });
const articulation = record({
  id,
  name: id,
  mark: { enum: ["none", "open", "half-open", "foot", "rim", "cross", "bell", "edge"] },
});
const voice = record({ id, name: id, family: { enum: FAMILIES }, articulations: list(articulation) });
const noteMap = record({
  id,
  name: id,
  voices: list(voice),
  entries: list(record({ note: { type: "integer", minimum: 0, maximum: 127 }, voiceId: id, articulationId: id })),
});

const editKinds: Record<string, object> = {
  moveHits: { moves: list(record({ hitId: id, fromTick: orNull(tick), toTick: orNull(tick) })) },
  setVelocity: { changes: list(record({ hitId: id, fromVelocity: orNull(velocity), toVelocity: orNull(velocity) })) },
  addHits: { hits: list(hit) },
  removeHits: { hits: list(hit) },
  setTreatments: { changes: list(record({ voiceId: id, from: treatment, to: treatment })) },
  reassignHits: {
    changes: list(record({ hitId: id, from: meaning, to: meaning })),
    noteMaps: orNull(record({ from: noteMap, to: noteMap })),
    fromLanes: list(lane),
    toLanes: list(lane),
  },
  setDrumStream: {
    change: record({
      streamIndex: { type: "integer", minimum: 0 },
      toIsDrums: { type: "boolean" },
      hits: list(hit),
      fromLanes: list(lane),
      toLanes: list(lane),
    }),
  },
};

const edit = {
  type: "object",
  discriminator: { propertyName: "kind" },
  required: ["kind"],
  oneOf: Object.entries(editKinds).map(([kind, fields]) => record({ kind: { const: kind }, ...fields })),
};

const saveRequest = record({
  baseRevision: { type: "integer", minimum: 0 },
  entries: {
    type: "array",
    minItems: 1,
    maxItems: 1000,
    items: record({ id, kind: { enum: ["do", "undo", "redo"] }, label: { type: "string", maxLength: 200 }, edit }),
  },
});

const projectChange: JSONSchemaType<ProjectChange> = {
  type: "object",
  properties: {
    name: { type: "string", minLength: 1, maxLength: 200, nullable: true },
    isRemoved: { type: "boolean", nullable: true },
  },
  additionalProperties: false,
  minProperties: 1,
};

/** What can be changed of a project as a whole. A removed project can be put back. */
export interface ProjectChange {
  readonly name?: string;
  readonly isRemoved?: boolean;
}

/** The layout that an address asks for; anything unknown is the layout of the recording. */
export function readLayout(text: string | null): TrackLayout {
  return TRACK_LAYOUTS.find((layout) => layout === text) ?? "asRecorded";
}

const ajv = new Ajv({ discriminator: true, allErrors: false });
export const isSaveRequest: ValidateFunction<SaveRequest> = ajv.compile<SaveRequest>(saveRequest);
export const isProjectChange: ValidateFunction<ProjectChange> = ajv.compile(projectChange);

/** Says what a validator found wrong, and where. */
export function problemOf(validate: ValidateFunction): Problem {
  const error = validate.errors?.[0];
  return {
    code: "request.shape",
    message: `The request is not in the form we expect: ${error?.message ?? "unknown"}.`,
    where: error?.instancePath || "/",
    remedy: "Reload the page and try again.",
  };
}
