import type { Chore } from "../core/chore/index.ts";
import type { Groove, LogEntry, NoteMap, PackedPattern, Pattern } from "../core/document/index.ts";
import type { KitProfile } from "../core/dynamics/index.ts";
import type { NewTake } from "../core/file/index.ts";
import type { PatternSummary, Thumbnail } from "../core/overview/index.ts";
import type { Recipe } from "../core/recipe.ts";
import type { Notice } from "../core/smf/index.ts";

/** What went wrong, in a form that survives a worker and a wire. */
export interface Problem {
  readonly code: string;
  /** One sentence for a person. */
  readonly message: string;
  /** A byte offset in a file, bar:beat in music, a field path in a request. */
  readonly where?: string;
  /** What to do about it. */
  readonly remedy: string;
}

/** Where a project is read and changed. */
/** A take that is begun from nothing. */
export interface NewTakeRequest extends NewTake {
  readonly name: string;
  /** Which map of the shelf its drums are from. */
  readonly mapId: string;
}

export const projectPath = (id: string) => `/api/projects/${id}`;

export type Answer<Value> =
  | { readonly ok: true; readonly value: Value }
  | { readonly ok: false; readonly problem: Problem };

/** A project as it lies on the shelf. */
export interface ProjectCard {
  readonly id: string;
  readonly name: string;
  /** The book or folder it belongs to; empty for none. */
  readonly book: string;
  readonly changedAt: string;
  readonly summary: PatternSummary;
  /** Lanes whose timing is on. */
  readonly treatedVoiceCount: number;
  /** Lanes that the note map has no name for. */
  readonly unnamedVoiceCount: number;
  readonly thumbnail: Thumbnail;
}

/** A project that was taken off the shelf, and can be put back. */
export interface RemovedProject {
  readonly id: string;
  readonly name: string;
  readonly removedAt: string;
}

/** A project that cannot be read as a whole. */
export interface DamagedProject {
  readonly id: string;
  /** Null if not even that can be read. */
  readonly name: string | null;
}

/** One copy of the whole database, beside it. */
export interface Backup {
  readonly name: string;
  /** Why it was made; its name begins with it. */
  readonly reason: BackupReason;
  readonly madeAt: string;
  readonly bytes: number;
}

export const BACKUP_REASONS = ["day", "before-migration", "before-restore", "by-hand"] as const;
export type BackupReason = (typeof BACKUP_REASONS)[number];

/** How the data on the disk is. */
export interface StorageState {
  readonly folder: string;
  readonly backups: readonly Backup[];
  readonly damaged: readonly DamagedProject[];
  /** Why nothing can be opened or written; null if all is well. */
  readonly problem: Problem | null;
}

/** A project as the Bench opens it. */
export interface OpenProject {
  readonly id: string;
  readonly name: string;
  readonly book: string;
  readonly fileName: string;
  readonly notices: readonly Notice[];
  readonly revision: number;
  /** Whether the grids of its lanes were sought; until then each is on the usual settings. */
  readonly isPlanned: boolean;
  readonly pattern: Pattern;
}

/** The same on its way. */
export type PackedProject = Omit<OpenProject, "pattern"> & { readonly pattern: PackedPattern };

/** The lanes of a take on the grids that were found for them. */
export interface PlannedLanes {
  readonly revision: number;
  readonly lanes: Pattern["lanes"];
}

/** A recipe that is to be kept on the shelf. */
export type NewRecipe = Omit<Recipe, "id">;

/** A recipe on the shelf. Those that come with the application cannot be taken off. */
export interface KeptRecipe extends Recipe {
  readonly isBuiltIn: boolean;
}

/** A chore that is to be kept on the shelf. */
export type NewChore = Omit<Chore, "id">;

/** A chore on the shelf. Those that come with the application cannot be taken off. */
export interface KeptChore extends Chore {
  readonly isBuiltIn: boolean;
}

/** A chore that is to be run on whole projects. */
export interface ChoreRequest {
  readonly name: string;
  readonly steps: Chore["steps"];
  readonly projectIds: readonly string[];
  /** Only says what would be changed. */
  readonly isTrial?: true;
}

/** What a chore has done to a project, or would do. */
export interface ChoreOutcome {
  readonly projectId: string;
  readonly projectName: string;
  readonly pickedCount: number;
  readonly changedCount: number;
  /** What could not be done, in words. */
  readonly refusals: readonly string[];
  readonly isDone: boolean;
}

/** A groove that is to be kept on the shelf. */
export type NewGroove = Omit<Groove, "id">;

/** A groove on the shelf. Those that come with the application cannot be taken off. */
export interface KeptGroove extends Groove {
  readonly isBuiltIn: boolean;
}

/** A groove that was read from a file, with what a person should know of it. */
export interface GrooveReading {
  readonly groove: KeptGroove;
  readonly notices: readonly string[];
}

/** A note map on the shelf. */
export interface KeptMap {
  readonly map: NoteMap;
  /** General MIDI comes with the application: it can be copied, but not changed. */
  readonly isBuiltIn: boolean;
  readonly changedAt: string;
}

/** A map that was read from a file. It is kept only when a person says so. */
export interface MapReading {
  readonly map: NoteMap;
  readonly notices: readonly string[];
}

/** How many projects an archive lacks, since they could not be read. */
export const LEFT_OUT_HEADER = "x-marten-left-out";
/** How many bytes an answer has once it is unpacked: for whoever shows how far it has come. */
export const BYTES_HEADER = "x-marten-bytes";

/** Some of the files whose patterns are on the shelf. */
export interface PatternFilePage {
  readonly files: readonly {
    /** By what its bytes are: the hash of them. */
    readonly id: string;
    /** Where it lay, as far as that is known: `Loops/verse.mid`. */
    readonly path: string;
    readonly base64: string;
  }[];
  readonly isLast: boolean;
}

/** What came of an archive. */
export interface BroughtIn {
  readonly projects: readonly ImportedProject[];
  /** Projects that were there already. */
  readonly twins: number;
  /** Recipes, chores, grooves and maps that were new here. */
  readonly kept: number;
  /** For the browser, which keeps them. */
  readonly kits: readonly KitProfile[];
}

/** How far some long work is. */
export type TaskState =
  | { readonly kind: "unknown" }
  /** So many are before it. */
  | { readonly kind: "waiting"; readonly ahead: number }
  | { readonly kind: "running"; readonly done?: number; readonly of?: number };

export interface ImportedProject {
  readonly id: string;
  readonly name: string;
}

/** Edits on their way to disk. `baseRevision` is the revision that the first of them was made on. */
export interface SaveRequest {
  readonly baseRevision: number;
  readonly entries: readonly LogEntry[];
}

export interface Saved {
  readonly revision: number;
}

/** A revision of a take that was given a name. */
export interface Version {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly madeAt: string;
  /** What was done on top of the revision and did not fit what others did since: a conflicted version. Left out, nothing. */
  readonly entries?: readonly LogEntry[];
}

export type VersionRequest = Pick<Version, "name" | "revision" | "entries">;

/** The answer to edits made on an older revision: what came in between, for the client to build on. */
export interface StaleAnswer {
  readonly ok: false;
  readonly problem: Problem;
  readonly revision: number;
  readonly newer: readonly LogEntry[];
}
