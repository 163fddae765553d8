import type { Hit, LogEntry, NoteMap, Pattern } from "../core/document/index.ts";
import { noteMap } from "../core/document/shapes/note-map-shape.ts";
import {
  changedMessage,
  fullness,
  levels,
  meters,
  songEntries,
  songPattern,
  tempos,
  timeline,
} from "../core/document/shapes/pattern-shape.ts";
import { newGroove, recipeTiming } from "../core/document/shapes/treatment-shape.ts";
import { byId, list, shared, tick } from "../core/document/shapes/values.ts";
import type { KitProfile } from "../core/dynamics/index.ts";
import { id, oneLine, orNull, record, withOptional } from "../core/json-shape.ts";
import type { PatternMark } from "../core/pattern/index.ts";
import type { Notice } from "../core/smf/index.ts";
import { type ShapeTest, shapeTest } from "./ajv.ts";
import { newChore } from "./chore-schemas.ts";
import { logDefs, logEntry } from "./edit-schemas.ts";
import { kit } from "./kit-schema.ts";
import { BODY_LIMITS } from "./limits.ts";
import { patternMark } from "./mark-schema.ts";
import type { NewChore, NewGroove, NewRecipe, Version } from "./wire.ts";

// What goes out as a file and comes in on another machine: whole projects, and what is on the shelf. docs/storage.md tells the form.

export const ARCHIVE_FORMAT = "idle-marten-archive";
export const ARCHIVE_VERSION = 1;

/** The first file of an archive: what it is and what is in it. */
export interface ArchiveHead {
  readonly format: typeof ARCHIVE_FORMAT;
  readonly version: number;
  readonly madeBy: string;
  readonly madeAt: string;
  /** A folder for each, with `project.json` and `take.mid`. */
  readonly projects: readonly { readonly folder: string; readonly name: string }[];
  /** Projects that could not be read, by id. */
  readonly leftOut: readonly string[];
  /** The SHA-256 of every other file, in hex, by its name: what was harmed on its way is not taken for what was sent. */
  readonly sha256: Readonly<Record<string, string>>;
}

/** One project, but for the bytes of its take. */
export interface PortableProject {
  readonly version: 1;
  readonly id: string;
  readonly name: string;
  readonly book: string;
  readonly fileName: string;
  readonly createdAt: string;
  readonly changedAt: string;
  readonly notices: readonly Notice[];
  readonly revision: number;
  /** As it is now, without its hits. */
  readonly pattern: Omit<Pattern, "hits">;
  readonly recordedHits: readonly Hit[];
  /** What edits made of hits: as they are now, or null for one that was removed. */
  readonly changedHits: readonly { readonly hitId: string; readonly hit: Hit | null }[];
  readonly edits: readonly (LogEntry & { readonly madeAt: string })[];
  readonly versions: readonly Version[];
}

/** What else is on the shelf, by the names of the files that hold it. */
export interface PortableShelf {
  readonly recipes: readonly NewRecipe[];
  readonly chores: readonly NewChore[];
  readonly grooves: readonly NewGroove[];
  readonly maps: readonly NoteMap[];
  readonly kits: readonly KitProfile[];
  /** What was said of patterns. */
  readonly marks: readonly PatternMark[];
  /** Files whose patterns are on the shelf of patterns. */
  readonly patternFiles: readonly { readonly path: string; readonly base64: string }[];
}

export const SHELF_SORTS = [
  "recipes",
  "chores",
  "grooves",
  "maps",
  "kits",
  "marks",
  "patternFiles",
] as const satisfies readonly (keyof PortableShelf)[];

const text = { type: "string", maxLength: 10_000 };
const when = { type: "string", maxLength: 40, pattern: "^\\d{4}-\\d\\d-\\d\\dT[\\d:.]+Z$" };
const whole = { type: "integer", minimum: 0, maximum: Number.MAX_SAFE_INTEGER };
const some = (items: object) => ({ type: "array", maxItems: 10_000, items });

const stream = record({
  trackIndex: { type: "integer", minimum: 0, maximum: 65_535 },
  channel: { type: "integer", minimum: 0, maximum: 15 },
  trackName: text,
  noteCount: whole,
  isDrums: { type: "boolean" },
  reason: text,
});

/** The parts of a pattern that it may lack: a new one is asked for below. */
type OptionalParts = { [Part in keyof Pattern]-?: object extends Pick<Pattern, Part> ? Part : never }[keyof Pattern];

const pattern = withOptional(
  record({
    ppq: { type: "integer", minimum: 1, maximum: 65_535 },
    lengthTicks: tick,
    meters,
    tempos,
    streams: list(stream),
    noteMap: shared("noteMap"),
    outgoingMap: orNull(shared("noteMap")),
    changedMessages: { type: "object", maxProperties: 500_000, additionalProperties: changedMessage },
    lanes: list(shared("lane")),
  }),
  {
    timeline,
    arrangement: record({ patterns: list(songPattern), song: songEntries, grooves: byId(shared("groove")) }),
    otherSide: shared("otherSide"),
    levels,
    fullness,
  } satisfies Readonly<Record<OptionalParts, object>>,
);

const portableProject = {
  ...logDefs,
  ...record({
    version: { const: 1 },
    id,
    name: oneLine,
    book: { type: "string", maxLength: 200 },
    fileName: { type: "string", maxLength: 400 },
    createdAt: when,
    changedAt: when,
    notices: list(record({ code: text, message: text, byteOffset: whole })),
    revision: whole,
    pattern,
    recordedHits: list(shared("hit")),
    changedHits: list(record({ hitId: id, hit: orNull(shared("hit")) })),
    edits: {
      type: "array",
      maxItems: 1_000_000,
      items: {
        ...logEntry,
        properties: { ...logEntry.properties, madeAt: when },
        required: [...logEntry.required, "madeAt"],
      },
    },
    versions: some(
      withOptional(
        record({ id, name: { type: "string", minLength: 1, maxLength: 200 }, revision: whole, madeAt: when }),
        {
          entries: list(shared("logEntry")),
        },
      ),
    ),
  }),
};

const archiveHead = record({
  format: { const: ARCHIVE_FORMAT },
  version: { type: "integer", minimum: 1 },
  madeBy: text,
  madeAt: when,
  projects: some(record({ folder: text, name: text })),
  leftOut: some(text),
  sha256: {
    type: "object",
    maxProperties: 25_000,
    additionalProperties: { type: "string", pattern: "^[0-9a-f]{64}$" },
  },
});

/** What is to go into an archive. */
export interface ArchiveWish {
  /** Those of these ids; null for all. */
  readonly projectIds: readonly string[] | null;
  /** Sorts of things of the shelf. */
  readonly sorts: readonly (keyof PortableShelf)[];
  /** The layers of kits, which the browser keeps. */
  readonly kits: readonly KitProfile[];
}

const archiveWish = record({
  projectIds: orNull(some(id)),
  sorts: { type: "array", maxItems: SHELF_SORTS.length, items: { enum: SHELF_SORTS } },
  kits: some(kit),
});

/** A file on the shelf of patterns, as text. */
const base64OfFile = {
  type: "string",
  minLength: 4,
  maxLength: Math.ceil(BODY_LIMITS.patternFile / 3) * 4,
  pattern: "^[A-Za-z0-9+/]+={0,2}$",
};

export const isArchiveWish = shapeTest<ArchiveWish>(archiveWish);
export const isArchiveHead = shapeTest<ArchiveHead>(archiveHead);
export const isPortableProject = shapeTest<PortableProject>(portableProject);
/** By the name of the file. */
export const SHELF_CHECKS: { readonly [Sort in keyof PortableShelf]: ShapeTest<PortableShelf[Sort]> } = {
  recipes: shapeTest<PortableShelf["recipes"]>(some(record({ name: oneLine, timing: recipeTiming }))),
  chores: shapeTest<PortableShelf["chores"]>(some(newChore)),
  grooves: shapeTest<PortableShelf["grooves"]>(some(newGroove)),
  maps: shapeTest<PortableShelf["maps"]>(some(noteMap)),
  kits: shapeTest<PortableShelf["kits"]>(some(kit)),
  marks: shapeTest<PortableShelf["marks"]>(some(patternMark)),
  // A shelf may have any number of them: what was written must be read.
  patternFiles: shapeTest<PortableShelf["patternFiles"]>(list(record({ path: oneLine, base64: base64OfFile }))),
};
