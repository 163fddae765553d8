import type { JSONSchemaType, ValidateFunction } from "ajv";
import { type KitProfile, ROLES } from "../core/dynamics/index.ts";
import type { NoteMap } from "../core/notemap/index.ts";
import { type ExportChoice, type LogEntry, type Part, SIDE_LETTERS, TRACK_LAYOUTS } from "../core/part/index.ts";
import { MOST_PATTERN_BARS, MOST_REPEATS, PATTERN_COLOURS } from "../core/song/index.ts";
import { MOST_SWING_PERCENT, STRAIGHT_PERCENT } from "../core/time/index.ts";
import { ajv } from "./ajv.ts";
import { LONGEST_LABEL, MOST_ENTRIES } from "./limits.ts";
import { type NoteMapFile, noteMap, noteMapFile } from "./note-map-file.ts";
import { id, oneLine, orNull, record, sevenBits, tick, velocity, withOptional } from "./shapes.ts";
import {
  byRole,
  carried,
  dynamics,
  feelPercent,
  grooveFile,
  grooveId,
  laidGroove,
  newGroove,
  pushMs,
  pushTicks,
  sharePercent,
  timing,
  treatment,
} from "./treatment-schemas.ts";
import type { NewGroove, NewRecipe, Problem, SaveRequest, VersionRequest } from "./wire.ts";

/** What occurs often in edits is compiled once, and referred to. */
const shared = (name: string) => ({ $ref: `#/$defs/${name}` });

const marks = { role: { enum: ROLES }, swingSharePercent: { type: "number", minimum: 0, maximum: 100 } };

const hit = withOptional(
  record({
    id,
    streamIndex: { type: "integer", minimum: 0, maximum: 65535 },
    note: sevenBits,
    voiceId: id,
    articulationId: id,
    pedal: orNull(sevenBits),
    shutTicks: orNull(tick),
    chokedTicks: orNull(tick),
    recordedTick: orNull(tick),
    recordedVelocity: orNull(velocity),
    pinnedTick: orNull(tick),
    pinnedVelocity: orNull(velocity),
  }),
  {
    ...marks,
    isMuted: { const: true },
    lengthTicks: { type: "integer", minimum: 1, maximum: 1_000_000_000 },
    inFile: record({ tick, shutTicks: orNull(tick), chokedTicks: orNull(tick) }),
  },
);

const lane = record({ voiceId: id, treatment: shared("treatment") });
const list = (items: object) => ({ type: "array", maxItems: 500_000, items });

const meaning = record({ voiceId: id, articulationId: id });
const pastMessage = orNull(record({ tick, bytes: { type: "array", maxItems: 1_000_000, items: { type: "integer" } } }));
const messageChange = {
  type: "object",
  properties: { messageId: { type: "string", pattern: "^\\d{1,5}:\\d{1,9}$" }, from: pastMessage, to: pastMessage },
  required: ["messageId"],
  additionalProperties: false,
};
const meters = list(record({ tick, numerator: { type: "integer" }, denominator: { type: "integer" } }));
const tempos = list(record({ tick, usPerQuarter: { type: "integer", minimum: 1 } }));
const fileTimes = record({ meters, tempos });

const timeline = record({ fileTempos: tempos, fileMeters: meters, playedTempos: tempos, startMs: { type: "number" } });
const timeFrame = record({ timeline: orNull(timeline), meters, tempos, lengthTicks: tick });

const bar = { type: "integer", minimum: 0, maximum: 1_000_000 };
const cell = withOptional(record({}), {
  timing,
  dynamics,
  feel: orNull(record({ grooveId: grooveId, timingPercent: feelPercent, accentPercent: feelPercent })),
  pushMs,
});
const songPattern = withOptional(
  record({
    id,
    name: { type: "string", minLength: 1, maxLength: 200 },
    colour: { enum: PATTERN_COLOURS },
    bars: { type: "array", minItems: 1, maxItems: MOST_PATTERN_BARS, items: orNull(bar) },
  }),
  {
    turnedTicks: tick,
    followsId: id,
    cells: { type: "object", maxProperties: 500, additionalProperties: shared("cell") },
  },
);
const songEntries = list(
  withOptional(record({ id, patternId: id, repeats: { type: "integer", minimum: 1, maximum: MOST_REPEATS } }), {
    isMuted: { const: true },
    mutedVoiceIds: { type: "array", maxItems: 500, items: id },
  }),
);
/** Before and after; null is not there. */
const changes = (value: object) => list(record({ id: grooveId, from: orNull(value), to: orNull(value) }));
const fromTo = (value: object) => orNull(record({ from: value, to: value }));
const arranging = {
  patterns: changes(songPattern),
  grooves: changes(shared("groove")),
  order: fromTo(list(id)),
  song: fromTo(songEntries),
};

const byId = (value: object) => ({ type: "object", maxProperties: 10_000, additionalProperties: value });
const otherSide = record({
  letter: { enum: SIDE_LETTERS },
  treatments: byId(shared("treatment")),
  cells: byId(byId(shared("cell"))),
  grooves: byId(shared("groove")),
});

const editKinds: Record<string, object> = {
  moveHits: { moves: list(record({ hitId: id, fromTick: orNull(tick), toTick: orNull(tick) })) },
  setVelocity: { changes: list(record({ hitId: id, fromVelocity: orNull(velocity), toVelocity: orNull(velocity) })) },
  muteHits: { hitIds: list(id), toIsMuted: { type: "boolean" } },
  retime: {
    from: timeFrame,
    to: timeFrame,
    moves: list(record({ hitId: id, fromTick: orNull(tick), toTick: orNull(tick) })),
  },
  setLengths: { changes: list(record({ hitId: id, from: orNull(tick), to: orNull(tick) })) },
  markHits: {
    changes: list(record({ hitId: id, from: withOptional(record({}), marks), to: withOptional(record({}), marks) })),
  },
  addHits: { hits: list(shared("hit")) },
  removeHits: { hits: list(shared("hit")) },
  setTreatments: {
    changes: list(record({ voiceId: id, from: shared("treatment"), to: shared("treatment") })),
  },
  reassignHits: {
    changes: list(record({ hitId: id, from: meaning, to: meaning })),
    noteMaps: orNull(record({ from: shared("noteMap"), to: shared("noteMap") })),
    fromLanes: list(shared("lane")),
    toLanes: list(shared("lane")),
  },
  arrange: arranging,
  keepSide: { from: orNull(shared("otherSide")), to: orNull(shared("otherSide")) },
  turnSide: {},
  setOutgoingMap: { from: orNull(shared("noteMap")), to: orNull(shared("noteMap")) },
  changeMessages: { changes: list(messageChange), times: orNull(record({ from: fileTimes, to: fileTimes })) },
  setDrumStream: {
    change: record({
      streamIndex: { type: "integer", minimum: 0 },
      toIsDrums: { type: "boolean" },
      hits: list(shared("hit")),
      fromLanes: list(shared("lane")),
      toLanes: list(shared("lane")),
    }),
  },
};

const oneOfKinds = (kinds: readonly string[]) => ({
  type: "object",
  discriminator: { propertyName: "kind" },
  required: ["kind"],
  oneOf: kinds.map(shared),
});

/** Edits that are one step together hold simple ones only, so that a request cannot nest without end. */
const together = { edits: { type: "array", maxItems: 100, items: oneOfKinds(Object.keys(editKinds)) } };
const allKinds = { ...editKinds, together };
const edit = oneOfKinds(Object.keys(allKinds));

const logEntry = record({
  id,
  kind: { enum: ["do", "undo", "redo"] },
  label: { type: "string", maxLength: LONGEST_LABEL },
  edit: shared("edit"),
});

/** What requests and files with log entries refer to. */
const logDefs = {
  $defs: {
    ...Object.fromEntries(
      Object.entries(allKinds).map(([kind, fields]) => [kind, record({ kind: { const: kind }, ...fields })]),
    ),
    hit,
    treatment,
    lane,
    noteMap,
    groove: laidGroove,
    cell,
    otherSide,
    edit,
    logEntry,
  },
};

const saveRequest = {
  ...logDefs,
  ...record({
    baseRevision: { type: "integer", minimum: 0 },
    entries: { type: "array", minItems: 1, maxItems: MOST_ENTRIES, items: shared("logEntry") },
  }),
};

const projectChange: JSONSchemaType<ProjectChange> = {
  type: "object",
  properties: {
    name: { ...oneLine, nullable: true },
    isRemoved: { type: "boolean", nullable: true },
  },
  additionalProperties: false,
  minProperties: 1,
};

const versionRequest = {
  ...logDefs,
  ...withOptional(record({ name: oneLine, revision: { type: "integer", minimum: 0 } }), {
    entries: { type: "array", minItems: 1, maxItems: 100_000, items: shared("logEntry") },
  }),
};

const recipeShape = record({
  name: oneLine,
  timing: withOptional(record(carried), { pushTicks, byRole, humanizeWanderPercent: sharePercent }),
});

/** A voice's grid plan as a file has it: grids and places as they are written. */
export interface PlannedVoice {
  readonly voiceId: string;
  /** Null for a voice that stays as it was recorded. */
  readonly grid: string | null;
  readonly swingPercent?: number;
  readonly ghostGrid?: string;
  readonly ghostSwingPercent?: number;
  readonly stretches: readonly {
    readonly from: string;
    readonly to: string;
    readonly grid: string;
    readonly swingPercent?: number;
  }[];
}

const writtenGrid = { type: "string", maxLength: 40 };
const swingPercent = { type: "number", minimum: STRAIGHT_PERCENT, maximum: MOST_SWING_PERCENT };
/** A report says more of each lane; the rest is not looked at. */
const gridPlans = {
  type: "object",
  required: ["lanes"],
  properties: {
    lanes: {
      type: "array",
      maxItems: 200,
      items: {
        type: "object",
        required: ["voiceId", "grid", "stretches"],
        properties: {
          voiceId: id,
          grid: orNull(writtenGrid),
          swingPercent,
          ghostGrid: writtenGrid,
          ghostSwingPercent: swingPercent,
          stretches: {
            type: "array",
            maxItems: 10_000,
            items: withOptional(record({ from: writtenGrid, to: writtenGrid, grid: writtenGrid }), { swingPercent }),
          },
        },
      },
    },
  },
};

const partSchema = record({ voiceId: id, articulationId: orNull(id) });

/** What can be changed of a project as a whole. A removed project can be put back. */
export interface ProjectChange {
  readonly name?: string;
  readonly isRemoved?: boolean;
}

/** What an address asks to be exported; anything unknown is the whole take in the layout of the recording. */
export function readExportChoice(query: URLSearchParams): ExportChoice {
  const layout = TRACK_LAYOUTS.find((candidate) => candidate === query.get("layout")) ?? "asRecorded";
  const voiceId = query.get("voice");
  return { layout, only: voiceId ? { voiceId, articulationId: query.get("stroke") } : null };
}

/** What of a song is written: all of it, one pattern, or every pattern in a file of its own. */
export type SongChoice =
  | { readonly kind: "song" }
  | { readonly kind: "each" }
  | { readonly kind: "pattern"; readonly patternId: string };

/** What an address asks of a song; anything unknown is all of it. */
export function readSongChoice(query: URLSearchParams): SongChoice {
  const patternId = query.get("pattern");
  if (patternId) return { kind: "pattern", patternId };
  return query.get("form") === "each" ? { kind: "each" } : { kind: "song" };
}

const borders = { type: "array", maxItems: 16, items: { type: "integer", minimum: 1, maximum: 126 } };
const kitFile = record({
  format: { const: "idle-marten-kit" },
  version: { const: 1 },
  kit: record({
    name: { type: "string", minLength: 1, maxLength: 100 },
    borders,
    ofVoices: { type: "object", maxProperties: 500, additionalProperties: borders },
  }),
});

export const isSaveRequest: ValidateFunction<SaveRequest> = ajv.compile<SaveRequest>(saveRequest);
/** One entry of the log, as a client checks it before it is done. */
export const isLogEntry: ValidateFunction<LogEntry> = ajv.compile<LogEntry>({ ...logDefs, ...logEntry });
export const isProjectChange: ValidateFunction<ProjectChange> = ajv.compile(projectChange);
export const isVersionRequest: ValidateFunction<VersionRequest> = ajv.compile<VersionRequest>(versionRequest);
/** A recipe without its id, as it is kept, and as it is read from a file. */
export const isRecipe: ValidateFunction<NewRecipe> = ajv.compile<NewRecipe>(recipeShape);
/** The grid plans of a take, as a report of the command line has them. */
export const isGridPlans: ValidateFunction<{ readonly lanes: readonly PlannedVoice[] }> = ajv.compile(gridPlans);
export const isPart: ValidateFunction<Part> = ajv.compile<Part>(partSchema);
export const isNoteMap: ValidateFunction<NoteMap> = ajv.compile<NoteMap>(noteMap);
export const isGrooveFile: ValidateFunction<{ readonly groove: NewGroove }> = ajv.compile<{
  readonly groove: NewGroove;
}>(grooveFile);
export const isNewGroove: ValidateFunction<NewGroove> = ajv.compile<NewGroove>(newGroove);
/** At which velocities a kit changes its sounds, as a file has it. */
export const isKitFile: ValidateFunction<{ readonly kit: KitProfile }> = ajv.compile<{
  readonly kit: KitProfile;
}>(kitFile);
/** A file in our own form, as it is read from a disk. */
export const isNoteMapFile: ValidateFunction<NoteMapFile> = ajv.compile<NoteMapFile>(noteMapFile);

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
