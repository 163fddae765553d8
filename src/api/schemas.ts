import type { JSONSchemaType } from "ajv";
import type { LogEntry, NoteMap } from "../core/document/index.ts";
import { noteMap } from "../core/document/shapes/note-map-shape.ts";
import { newGroove, recipeTiming } from "../core/document/shapes/treatment-shape.ts";
import { shared } from "../core/document/shapes/values.ts";
import type { KitProfile } from "../core/dynamics/index.ts";
import {
  type ExportChoice,
  NEW_TAKE_DENOMINATORS,
  NEW_TAKE_LIMITS,
  type Part,
  TRACK_LAYOUTS,
} from "../core/file/index.ts";
import { id, oneLine, orNull, record, withOptional } from "../core/json-shape.ts";
import { shapeOf } from "../core/limit.ts";
import type { PatternMark } from "../core/pattern/index.ts";
import { MOST_SWING_PERCENT, STRAIGHT_PERCENT } from "../core/time/index.ts";
import { type ShapeTest, shapeTest } from "./ajv.ts";
import { logDefs, logEntry } from "./edit-schemas.ts";
import { grooveFile } from "./groove-file.ts";
import { kit } from "./kit-schema.ts";
import { MOST_ENTRIES } from "./limits.ts";
import { patternMark } from "./mark-schema.ts";
import { type NoteMapFile, noteMapFile } from "./note-map-file.ts";
import type { NewGroove, NewRecipe, NewTakeRequest, Problem, SaveRequest, VersionRequest } from "./wire.ts";

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

const newTakeRequest = record({
  name: oneLine,
  mapId: id,
  tempoBpm: shapeOf(NEW_TAKE_LIMITS.tempoBpm),
  numerator: shapeOf({ ...NEW_TAKE_LIMITS.numerator, isWhole: true }),
  denominator: { enum: NEW_TAKE_DENOMINATORS },
  bars: shapeOf({ ...NEW_TAKE_LIMITS.bars, isWhole: true }),
});

const versionRequest = {
  ...logDefs,
  ...withOptional(record({ name: oneLine, revision: { type: "integer", minimum: 0 } }), {
    entries: { type: "array", minItems: 1, maxItems: 100_000, items: shared("logEntry") },
  }),
};

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
  const [startTick, endTick] = [query.get("from"), query.get("to")].map((text) => Number(text ?? Number.NaN));
  const isRange =
    Number.isSafeInteger(startTick) && Number.isSafeInteger(endTick) && startTick! >= 0 && endTick! > startTick!;
  return {
    layout,
    only: voiceId ? { voiceId, articulationId: query.get("stroke") } : null,
    range: isRange ? { startTick: startTick!, endTick: endTick! } : null,
  };
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

const kitFile = record({
  format: { const: "idle-marten-kit" },
  version: { const: 1 },
  kit,
});

export const isSaveRequest = shapeTest<SaveRequest>(saveRequest);
/** One entry of the log, as a client checks it before it is done. */
export const isLogEntry = shapeTest<LogEntry>({ ...logDefs, ...logEntry });
export const isNewTakeRequest = shapeTest<NewTakeRequest>(newTakeRequest);
export const isProjectChange = shapeTest<ProjectChange>(projectChange);
export const isVersionRequest = shapeTest<VersionRequest>(versionRequest);
/** A recipe without its id, as it is kept, and as it is read from a file. */
export const isRecipe = shapeTest<NewRecipe>(record({ name: oneLine, timing: recipeTiming }));
/** The grid plans of a take, as a report of the command line has them. */
export const isGridPlans = shapeTest<{ readonly lanes: readonly PlannedVoice[] }>(gridPlans);
export const isPart = shapeTest<Part>(partSchema);
export const isPatternMark = shapeTest<PatternMark>(patternMark);
export const isNoteMap = shapeTest<NoteMap>(noteMap);
export const isGrooveFile: ShapeTest<{ readonly groove: NewGroove }> = shapeTest<{
  readonly groove: NewGroove;
}>(grooveFile);
export const isNewGroove = shapeTest<NewGroove>(newGroove);
/** At which velocities a kit changes its sounds, as a file has it. */
export const isKitFile: ShapeTest<{ readonly kit: KitProfile }> = shapeTest<{
  readonly kit: KitProfile;
}>(kitFile);
/** A file in our own form, as it is read from a disk. */
export const isNoteMapFile = shapeTest<NoteMapFile>(noteMapFile);

/** Says what a validator found wrong, and where. */
export function problemOf(validate: ShapeTest<unknown>): Problem {
  const error = validate.errors?.[0];
  return {
    code: "request.shape",
    message: `The request is not in the form we expect: ${error?.message ?? "unknown"}.`,
    where: error?.instancePath || "/",
    remedy: "Reload the page and try again.",
  };
}
