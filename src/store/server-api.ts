import type { ArchiveWish } from "../api/archive-schemas.ts";
import type {
  Answer,
  BroughtIn,
  ChoreOutcome,
  ChoreRequest,
  GrooveReading,
  ImportedProject,
  KeptChore,
  KeptGroove,
  KeptMap,
  KeptRecipe,
  MapReading,
  NewChore,
  NewGroove,
  NewRecipe,
  NewTakeRequest,
  OpenProject,
  PackedProject,
  PatternFilePage,
  PlannedLanes,
  Problem,
  ProjectCard,
  RemovedProject,
  Saved,
  SaveRequest,
  StaleAnswer,
  StorageState,
  TaskState,
  Version,
  VersionRequest,
} from "../api/wire.ts";
import { BYTES_HEADER, LEFT_OUT_HEADER, projectPath } from "../api/wire.ts";
import type { TickRange } from "../core/commands/index.ts";
import { type Hit, type LogEntry, type NoteMap, unpackPattern } from "../core/document/index.ts";
import type { KitProfile } from "../core/dynamics/index.ts";
import type { Part, TrackLayout } from "../core/file/index.ts";
import type { PatternMark } from "../core/pattern/index.ts";

/** A problem that the server answered with, or that kept us from reaching it. */
export class ServerProblem extends Error {
  override readonly name = "ServerProblem";
  /** @param status of the answer; 0 if there was none */
  constructor(
    readonly problem: Problem,
    readonly status = 0,
    options?: ErrorOptions,
  ) {
    super(problem.message, options);
  }
}

/** Answers that will be the same however often we ask. */
const REFUSALS: readonly number[] = [400, 413, 415, 422];

export const isRefusal = (error: unknown): error is ServerProblem =>
  error instanceof ServerProblem && REFUSALS.includes(error.status);

/** The body of an answer, with its status. */
interface Reading<Body> {
  readonly status: number;
  readonly body: Body;
}

async function ask<Value>(path: string, init?: RequestInit, watching?: Watching): Promise<Value> {
  const { body: answer, status } = await read<Answer<Value>>(path, init, watching);
  if (!answer.ok) throw new ServerProblem(answer.problem, status);
  return answer.value;
}

const UNREACHABLE: Problem = {
  code: "server.unreachable",
  message: "The application does not answer.",
  remedy: "Check that it is still running in its terminal. Your changes are kept here until it answers.",
};

/** A server that takes longer than this hangs: the page must not wait for ever. */
const LONGEST_ANSWER_MS = 120_000;

async function reach(path: string, init?: RequestInit): Promise<Response> {
  try {
    return await fetch(path, { signal: AbortSignal.timeout(LONGEST_ANSWER_MS), ...init });
  } catch (error) {
    // A refused connection is a TypeError, and so is a request that the browser cuts off; one that took too long is no Error of ours.
    if (!(error instanceof TypeError || (error instanceof DOMException && error.name === "TimeoutError"))) throw error;
    throw new ServerProblem(UNREACHABLE, 0, { cause: error });
  }
}

/** Whoever waits for a long answer. */
interface Watching {
  /** Told how much of it has come, 0 to 1. */
  readonly onShare: (share: number) => void;
  /** Given it as it came, while it is read here. */
  readonly onAnswer?: ((answer: Blob) => void) | undefined;
}

async function read<Body>(path: string, init?: RequestInit, watching?: Watching): Promise<Reading<Body>> {
  const response = await reach(path, init);
  try {
    const body: Body = watching ? JSON.parse(await textOf(response, watching)) : await response.json();
    return { status: response.status, body };
  } catch (error) {
    // An answer that is no JSON or breaks off is not our server's.
    if (!(error instanceof SyntaxError || error instanceof TypeError)) throw error;
    throw new ServerProblem(UNREACHABLE, 0, { cause: error });
  }
}

/** The text of an answer; tells how much of it has come where its length is known. */
async function textOf(response: Response, { onShare, onAnswer }: Watching): Promise<string> {
  const answer = await wholeOf(response, onShare);
  if (response.ok) onAnswer?.(answer);
  return answer.text();
}

async function wholeOf(response: Response, onShare: Watching["onShare"]): Promise<Blob> {
  const length = Number(response.headers.get(BYTES_HEADER) ?? 0);
  if (!response.body || length === 0) return response.blob();
  const chunks: Uint8Array<ArrayBuffer>[] = [];
  let come = 0;
  const reader = response.body.getReader();
  for (let next = await reader.read(); next.value; next = await reader.read()) {
    chunks.push(next.value);
    come += next.value.length;
    onShare(Math.min(1, come / length));
  }
  return new Blob(chunks);
}

const asJson = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { "content-type": "application/json" },
  body: JSON.stringify(body),
});

export const listProjects = () => ask<readonly ProjectCard[]>("/api/projects");
export const listRemovedProjects = () => ask<readonly RemovedProject[]>("/api/projects?removed");
export async function openProject(id: string, signal?: AbortSignal, watching?: Watching): Promise<OpenProject> {
  const limit = AbortSignal.timeout(LONGEST_ANSWER_MS);
  const init = { signal: signal ? AbortSignal.any([signal, limit]) : limit };
  const { pattern, ...project } = await ask<PackedProject>(projectPath(id), init, watching);
  return { ...project, pattern: unpackPattern(pattern) };
}
/** The answer with a project, as it comes: for a worker, since a large one would hold the page while it is read. */
export const readProjectBytes = async (id: string): Promise<ArrayBuffer> =>
  (await reach(projectPath(id))).arrayBuffer();
/** The lanes on their grids, once these are found. */
export const readPlannedLanes = (id: string) => ask<PlannedLanes>(`${projectPath(id)}/lanes`);
/** How much of them is found, 0 to 1. */
export const readPlannedShare = (id: string) => ask<number>(`${projectPath(id)}/lanes?share`);
/** Has the grids sought no longer. */
export const leavePlan = (id: string) => ask<null>(`${projectPath(id)}/lanes`, { method: "DELETE" });
export const readLog = (id: string, afterRevision = 0) =>
  ask<readonly LogEntry[]>(`/api/projects/${id}/log?after=${afterRevision}`);
export const listVersions = (id: string) => ask<readonly Version[]>(`/api/projects/${id}/versions`);
export const keepVersion = (id: string, request: VersionRequest) =>
  ask<Version>(`/api/projects/${id}/versions`, asJson("POST", request));
export const forgetVersion = (id: string, versionId: string) =>
  ask<null>(`/api/projects/${id}/versions/${versionId}`, { method: "DELETE" });
export const hitsOfStream = (id: string, streamIndex: number) =>
  ask<readonly Hit[]>(`/api/projects/${id}/streams/${streamIndex}/hits`);
export function exportPath(id: string, layout: TrackLayout, range: TickRange | null = null): string {
  const stretch = range ? { from: `${range.startTick}`, to: `${range.endTick}` } : {};
  return `/api/projects/${id}/export?${new URLSearchParams({ layout, ...stretch })}`;
}
/** Where the song, one pattern of it, or all patterns in an archive can be had. */
export function songPath(id: string, what: { readonly patternId?: string; readonly form?: "each" }): string {
  const query = new URLSearchParams({
    ...(what.patternId ? { pattern: what.patternId } : {}),
    ...(what.form ? { form: what.form } : {}),
  });
  return `/api/projects/${id}/song?${query}`;
}
/** The bytes of the take as it was imported. */
export async function readTake(id: string): Promise<Uint8Array> {
  const response = await reach(`/api/projects/${id}/take`);
  if (response.ok) return new Uint8Array(await response.arrayBuffer());
  const answer: Answer<never> = await response.json();
  throw new ServerProblem(answer.ok ? UNREACHABLE : answer.problem, response.status);
}

/** Where one voice, or one stroke of it, can be had as a file. */
export function partPath(id: string, { voiceId, articulationId }: Part): string {
  const query = new URLSearchParams({ voice: voiceId, ...(articulationId === null ? {} : { stroke: articulationId }) });
  return `/api/projects/${id}/export?${query}`;
}

export const takeOutPart = (id: string, part: Part) =>
  ask<ImportedProject>(`/api/projects/${id}/parts`, asJson("POST", part));

export const renameProject = (id: string, name: string) => ask<unknown>(projectPath(id), asJson("PATCH", { name }));
export const setProjectRemoved = (id: string, isRemoved: boolean) =>
  ask<unknown>(projectPath(id), asJson("PATCH", { isRemoved }));

/** Long work on the server, as the one who waits for it sees it. */
export interface LongTask {
  readonly ticket: string;
  readonly signal: AbortSignal;
}

export const taskState = (ticket: string) => ask<TaskState>(`/api/tasks/${ticket}`);

export const importFile = (file: File, { ticket, signal }: LongTask) =>
  ask<ImportedProject>(`/api/takes?name=${encodeURIComponent(file.name)}&ticket=${ticket}`, {
    method: "POST",
    body: file,
    signal,
  });

/** A file that the server makes, with the name that it gives it. */
export interface MadeFile {
  readonly name: string;
  readonly blob: Blob;
  /** Projects that could not be read and are not in it. */
  readonly leftOutCount: number;
}

/** Has a file made. @throws ServerProblem if it cannot be */
export async function fetchFile(path: string, { ticket, signal }: LongTask, init?: RequestInit): Promise<MadeFile> {
  const response = await reach(`${path}${path.includes("?") ? "&" : "?"}ticket=${ticket}`, { ...init, signal });
  if (response.ok) {
    const [, name = "file"] = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get("content-disposition") ?? "") ?? [];
    const leftOutCount = Number(response.headers.get(LEFT_OUT_HEADER) ?? 0);
    return { name: decodeURIComponent(name), blob: await response.blob(), leftOutCount };
  }
  const answer: Answer<never> = await response.json();
  throw new ServerProblem(answer.ok ? UNREACHABLE : answer.problem, response.status);
}

/** Where the project can be had as one file, with everything that was done to it. */
export const projectArchivePath = (id: string) => `/api/projects/${id}/archive`;
export const fetchArchive = (wish: ArchiveWish, task: LongTask) =>
  fetchFile("/api/archive/export", task, asJson("POST", wish));
export const bringInArchive = (file: File, { ticket, signal }: LongTask) =>
  ask<BroughtIn>(`/api/archive?ticket=${ticket}`, { method: "POST", body: file, signal });

export const storageState = () => ask<StorageState>("/api/storage");
export const makeBackup = () => ask<string>("/api/storage/backups", { method: "POST" });
export const restoreBackup = (name: string) =>
  ask<null>(`/api/storage/backups/${encodeURIComponent(name)}`, { method: "POST" });
/** Where a backup, or a whole copy made now, can be had as a file. */
export const backupPath = (name: string) => `/api/storage/backups/${encodeURIComponent(name)}`;
export const COPY_PATH = "/api/storage/copy";

/** Begins a take from nothing. */
export const createTake = (wish: NewTakeRequest) => ask<ImportedProject>("/api/projects", asJson("POST", wish));

export const listMaps = () => ask<readonly KeptMap[]>("/api/maps");
export const keepMap = (map: NoteMap) => ask<KeptMap>("/api/maps", asJson("POST", map));
export const changeMap = (map: NoteMap) => ask<KeptMap>(`/api/maps/${map.id}`, asJson("PUT", map));
export const removeMap = (id: string) => ask<unknown>(`/api/maps/${id}`, { method: "DELETE" });
export const putMapBack = (id: string) => ask<unknown>(`/api/maps/${id}`, { method: "POST" });
export const readMapFile = (file: File) =>
  ask<MapReading>(`/api/maps/read?name=${encodeURIComponent(file.name)}`, { method: "POST", body: file });

export const listMarks = () => ask<readonly PatternMark[]>("/api/patterns");
/** It arrives also where the page is left meanwhile. */
export const setMark = (mark: PatternMark) =>
  ask<PatternMark>("/api/patterns", { ...asJson("PUT", mark), keepalive: true });

export const listPatternFiles = (after: string) =>
  ask<PatternFilePage>(`/api/patterns/files?after=${encodeURIComponent(after)}`);
export const addPatternFile = (path: string, bytes: Uint8Array<ArrayBuffer>) =>
  ask<{ readonly isNew: boolean }>(`/api/patterns/files?path=${encodeURIComponent(path)}`, {
    method: "POST",
    body: new Blob([bytes]),
  });
export const removePatternFile = (id: string) => ask<null>(`/api/patterns/files/${id}`, { method: "DELETE" });
export const putPatternFileBack = (id: string) => ask<null>(`/api/patterns/files/${id}`, { method: "POST" });

export const listRecipes = () => ask<readonly KeptRecipe[]>("/api/recipes");
export const keepRecipe = (recipe: NewRecipe) => ask<KeptRecipe>("/api/recipes", asJson("POST", recipe));
export const removeRecipe = (id: string) => ask<null>(`/api/recipes/${id}`, { method: "DELETE" });
export const putRecipeBack = (id: string) => ask<null>(`/api/recipes/${id}`, { method: "POST" });

export const listChores = () => ask<readonly KeptChore[]>("/api/chores");
export const keepChore = (chore: NewChore) => ask<KeptChore>("/api/chores", asJson("POST", chore));
export const removeChore = (id: string) => ask<null>(`/api/chores/${id}`, { method: "DELETE" });
export const putChoreBack = (id: string) => ask<null>(`/api/chores/${id}`, { method: "POST" });
/** Keeps all the chores of a file. */
export const readChoreFile = (file: File) =>
  ask<readonly KeptChore[]>("/api/chores/file", { method: "POST", body: file });
export const runChoreOn = (request: ChoreRequest) =>
  ask<readonly ChoreOutcome[]>("/api/chores/run", asJson("POST", request));

export const readKitFile = (file: File) => ask<KitProfile>("/api/kits/read", { method: "POST", body: file });

export const listGrooves = () => ask<readonly KeptGroove[]>("/api/grooves");
export const keepGroove = (groove: NewGroove) => ask<KeptGroove>("/api/grooves", asJson("POST", groove));
export const changeGroove = (id: string, groove: NewGroove) =>
  ask<KeptGroove>(`/api/grooves/${id}`, asJson("PUT", groove));
export const removeGroove = (id: string) => ask<null>(`/api/grooves/${id}`, { method: "DELETE" });
/** Keeps the groove of a file: one that was saved here, or a recording. */
export const readGrooveFile = (file: File) =>
  ask<GrooveReading>(`/api/grooves/file?name=${encodeURIComponent(file.name)}`, { method: "POST", body: file });
export const putGrooveBack = (id: string) => ask<null>(`/api/grooves/${id}`, { method: "POST" });

/** A stale answer is no failure: it brings what is newer. */
export async function saveEdits(id: string, request: SaveRequest): Promise<Saved | StaleAnswer> {
  const path = `/api/projects/${id}/edits`;
  const { body: answer, status } = await read<Answer<Saved> | StaleAnswer>(path, asJson("POST", request));
  if (answer.ok) return answer.value;
  if ("newer" in answer) return answer;
  throw new ServerProblem(answer.problem, status);
}

export { writeChoreFile } from "../api/chore-file.ts";
export { writeGrooveFile } from "../api/groove-file.ts";
export { BODY_LIMITS } from "../api/limits.ts";
export { writeNoteMapFile } from "../api/note-map-file.ts";
export type {
  BroughtIn,
  ChoreOutcome,
  GrooveReading,
  KeptChore,
  KeptGroove,
  KeptMap,
  KeptRecipe,
  MapReading,
  NewChore,
  OpenProject,
  Problem,
  ProjectCard,
  RemovedProject,
  StorageState,
  TaskState,
  Version,
} from "../api/wire.ts";
