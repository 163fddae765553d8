import { randomUUID } from "node:crypto";
import type { ProjectChange, SongChoice } from "../api/schemas.ts";
import type {
  ImportedProject,
  NewTakeRequest,
  OpenProject,
  PlannedLanes,
  Saved,
  SaveRequest,
  StaleAnswer,
} from "../api/wire.ts";
import type { TickRange } from "../core/commands/index.ts";
import { applyEdit, findVoice, type Hit, type LogEntry, StaleEditError, strokeName } from "../core/document/index.ts";
import { type ExportChoice, isOfPart, newTake, type Part } from "../core/file/index.ts";
import { toOneLine } from "../core/json-shape.ts";
import { writeMidiFile } from "../core/smf/index.ts";
import { barAt, buildMeterMap } from "../core/time/index.ts";
import { importInProcess, runInProcess } from "./midi-process.ts";
import { type ImportResult, recordOf } from "./midi-task.ts";
import { listMaps, noSuchMap } from "./note-maps.ts";
import {
  insertPattern,
  isPlanned,
  type PatternHead,
  readLanes,
  readLog,
  readPattern,
  readPatternHead,
  readPatternJson,
  readRevision,
  type StoredPattern,
  writeEdit,
  writePlan,
} from "./patterns.ts";
import { noSuchPart, noSuchPattern, noSuchProject } from "./problem-error.ts";
import {
  findProject,
  insertProject,
  type ProjectRecord,
  readTakeBytes,
  renameProject,
  setProjectRemoved,
  touchProject,
} from "./projects.ts";
import type { Db } from "./storage/database.ts";
import type { TaskHandle } from "./task-queue.ts";

/** Reads an uploaded recording and puts it on the shelf. */
export async function importRecording(
  db: Db,
  fileName: string,
  bytes: Uint8Array,
  handle?: TaskHandle,
): Promise<ImportedProject> {
  const seeking = newSeeking();
  const { read, plan } = await importInProcess(bytes, handle, seeking);
  const stored = storeImport(db, { fileName, book: "" }, bytes, read);
  void keepSeeking(db, stored.id, seeking, plan);
  return stored;
}

/**
 * Begins a take on which nobody has played yet.
 * @throws ProblemError if the map of its drums is not on the shelf
 */
export function createTake(db: Db, { name, mapId, ...wish }: NewTakeRequest): ImportedProject {
  const kept = listMaps(db).find(({ map }) => map.id === mapId);
  if (!kept) throw noSuchMap();
  const { file, pattern } = newTake(wish, kept.map);
  const record = recordOf(pattern);
  return storeImport(db, { fileName: `${name}.mid`, book: "" }, writeMidiFile(file), {
    record,
    isPlanned: true,
    notices: [],
  });
}

/** The grids of a take that are being sought. */
interface Seeking {
  readonly signal: AbortSignal;
  readonly giveUp: () => void;
  readonly onShare: (share: number) => void;
  /** How much is done, 0 to 1. */
  share: number;
  /** Never rejects: whoever began it hears of what is wrong, others only wait. */
  isOver: Promise<void>;
}

function newSeeking(): Seeking {
  const leaving = new AbortController();
  const seeking: Seeking = {
    signal: leaving.signal,
    giveUp: () => leaving.abort(),
    onShare: (share) => {
      seeking.share = share;
    },
    share: 0,
    isOver: Promise.resolve(),
  };
  return seeking;
}

/** Takes whose grids are being sought, by project. On the global object, since routes are bundled apart. */
const holder = globalThis as { martenPlans?: Map<string, Seeking> };
holder.martenPlans ??= new Map();
const plans = holder.martenPlans;

/**
 * @param lanes null if no grids were found after all
 * @returns what ends when they are taken, or says why they are not
 */
function keepSeeking(db: Db, projectId: string, seeking: Seeking, lanes: Promise<string | null>): Promise<void> {
  plans.set(projectId, seeking);
  const taken = lanes
    .then((found) => {
      if (found !== null && db.open) takePlan(db, projectId, found);
    })
    .finally(() => plans.delete(projectId));
  // A take without its grids is a take all the same: they are sought again when somebody asks for them, who then hears of it.
  seeking.isOver = taken.catch(() => {});
  return taken;
}

function takePlan(db: Db, projectId: string, lanes: string): void {
  writePlan(db, projectId, lanes);
  // The same revision with other lanes.
  patternsOf.get(db)?.delete(projectId);
}

/** As long as an opening waits for grids, which most takes have by then. */
const GRIDS_PATIENCE_MS = 500;

/**
 * A project as a screen opens it. The grids of a long take that was just imported may still be sought.
 * @returns a `PackedProject`, as pieces of JSON
 */
export async function openAsJson(db: Db, id: string): Promise<readonly Buffer[]> {
  const patience = new Promise((resolve) => setTimeout(resolve, GRIDS_PATIENCE_MS));
  await Promise.race([plans.get(id)?.isOver, patience]);
  const project = findProject(db, id);
  const stored = readPatternJson(db, id);
  if (!project || !stored) throw noSuchProject();
  const about = { ...project, isPlanned: isPlanned(db, id), revision: stored.revision };
  return [Buffer.from(`${JSON.stringify(about).slice(0, -1)},"pattern":`), ...stored.json, Buffer.from("}")];
}

/** The lanes of a take once they are on their grids. Where the server was stopped while it sought them, they are sought now. */
export async function plannedLanes(db: Db, id: string): Promise<PlannedLanes> {
  await plans.get(id)?.isOver;
  if (!isPlanned(db, id)) {
    const seeking = newSeeking();
    const { signal, onShare } = seeking;
    const patternJson = patternText(db, id);
    const found = runInProcess({ kind: "plan", patternJson }, { ticket: null, signal, onShare });
    await keepSeeking(db, id, seeking, found).catch((error: unknown) => {
      // Given up, the lanes are as somebody wanted them.
      if (!isPlanned(db, id)) throw error;
    });
  }
  const lanes = readLanes(db, id);
  if (!lanes) throw noSuchProject();
  return lanes;
}

/** How much of the grids of a take is found, 0 to 1. */
export function plannedShare(db: Db, id: string): number {
  return plans.get(id)?.share ?? (isPlanned(db, id) ? 1 : 0);
}

/** Gives up seeking the grids of a take: its lanes stay on the usual one. */
export function leavePlan(db: Db, id: string): void {
  const lanes = readLanes(db, id);
  if (!lanes) throw noSuchProject();
  if (!isPlanned(db, id)) takePlan(db, id, JSON.stringify(lanes.lanes));
  plans.get(id)?.giveUp();
}

/** Puts an import on the shelf, in one transaction. */
export function storeImport(
  db: Db,
  { fileName, book }: { fileName: string; book: string },
  bytes: Uint8Array,
  { record, isPlanned, notices }: ImportResult,
): ImportedProject {
  const id = randomUUID();
  const name = toOneLine(fileName.replace(/\.(mid|midi|smf|kar|rmi)$/i, "")) || "Untitled take";
  db.transaction(() => {
    insertProject(db, { id, name, book, fileName, notices }, bytes, new Date().toISOString());
    insertPattern(db, id, record, isPlanned);
  })();
  return { id, name };
}

export function openProject(db: Db, id: string): OpenProject {
  const project = findProject(db, id);
  if (!project) throw noSuchProject();
  const stored = currentPattern(db, id);
  return { ...project, isPlanned: isPlanned(db, id), ...stored };
}

/**
 * Patterns as they are on disk, so that an edit need not read 50,000 hits first. The last few only, and of one connection: after a
 * backup was restored the same revision may be another.
 */
const patternsOf = new WeakMap<Db, Map<string, StoredPattern>>();
const MOST_PATTERNS = 4;

function currentPattern(db: Db, projectId: string): StoredPattern {
  const known = patternsOf.get(db)?.get(projectId);
  // Another process may have written; its revision tells.
  if (known && known.revision === readRevision(db, projectId)) return known;
  const stored = readPattern(db, projectId);
  if (!stored) throw noSuchProject();
  remember(db, projectId, stored);
  return stored;
}

function patternHead(db: Db, projectId: string): PatternHead {
  const head = readPatternHead(db, projectId);
  if (!head) throw noSuchProject();
  return head;
}

/** The pattern as it is on the disk, packed, as JSON. */
function patternText(db: Db, projectId: string): string {
  const stored = readPatternJson(db, projectId);
  if (!stored) throw noSuchProject();
  return Buffer.concat(stored.json).toString();
}

function remember(db: Db, projectId: string, stored: StoredPattern): void {
  const patterns = patternsOf.get(db) ?? new Map<string, StoredPattern>();
  patternsOf.set(db, patterns);
  patterns.delete(projectId);
  patterns.set(projectId, stored);
  const [oldest] = patterns.keys();
  if (patterns.size > MOST_PATTERNS && oldest !== undefined) patterns.delete(oldest);
}

/**
 * Saves edits in one transaction. What was saved before (an answer may have been lost on the way) is not saved twice.
 * @returns the new revision, or what is newer if the edits were made on an older pattern
 */
export function saveEdits(db: Db, projectId: string, { baseRevision, entries }: SaveRequest): Saved | StaleAnswer {
  const save = db.transaction((): Saved | StaleAnswer => {
    const current = currentPattern(db, projectId);
    // What the edits were made on is not here: an older state, such as a backup, was put in its place.
    if (baseRevision > current.revision) return stale(current.revision, []);
    const newer = readLog(db, projectId, baseRevision);
    const known = newer.filter((entry, index) => entry.id === entries[index]?.id).length;
    if (known !== newer.length) return stale(current.revision, newer);
    let { revision, pattern } = current;
    const now = new Date().toISOString();
    try {
      for (const entry of entries.slice(known)) {
        pattern = applyEdit(pattern, entry.edit);
        revision++;
        writeEdit(db, projectId, revision, entry, pattern, now);
      }
    } catch (error) {
      if (!(error instanceof StaleEditError)) throw error;
      throw new StaleRollback(error);
    }
    touchProject(db, projectId, now);
    next = { revision, pattern };
    return { revision };
  });
  let next: StoredPattern | null = null;
  try {
    const answer = save.immediate();
    if (next) remember(db, projectId, next);
    return answer;
  } catch (error) {
    if (!(error instanceof StaleRollback)) throw error;
    return stale(currentPattern(db, projectId).revision, []);
  }
}

/** Leaves the transaction, so that the entries before the stale one are not kept either. */
class StaleRollback extends Error {
  constructor(cause: StaleEditError) {
    super(cause.message, { cause });
  }
}

function stale(revision: number, newer: readonly LogEntry[]): StaleAnswer {
  const problem = {
    code: "edits.stale",
    message: "This take was changed in another window.",
    remedy: "Reload to see the other changes.",
  };
  return { ok: false, problem, revision, newer };
}

/** The take with its cleaned hits, as a file. */
export async function exportProject(
  db: Db,
  id: string,
  choice: ExportChoice,
  handle?: TaskHandle,
): Promise<{ fileName: string; bytes: Uint8Array }> {
  const project = findProject(db, id);
  const bytes = readTakeBytes(db, id);
  if (!project || !bytes) throw noSuchProject();
  const pattern = patternHead(db, id);
  const what = choice.only
    ? partName(pattern, choice.only)
    : choice.range
      ? barsName(pattern, choice.range)
      : "cleaned";
  return {
    fileName: `${project.name} ${what}.mid`,
    bytes: await runInProcess({ kind: "export", bytes, patternJson: patternText(db, id), choice }, handle),
  };
}

/** `bars 3-4`, by where a stretch begins and ends. */
function barsName({ ppq, meters }: PatternHead, { startTick, endTick }: TickRange): string {
  const meterMap = buildMeterMap(ppq, meters);
  const [first, last] = [barAt(meterMap, startTick).barIndex + 1, barAt(meterMap, endTick - 1).barIndex + 1];
  return first === last ? `bar ${first}` : `bars ${first}-${last}`;
}

/** The song that was made of a take, as a file, or as an archive of its patterns. */
export async function exportSongOf(
  db: Db,
  id: string,
  choice: SongChoice,
  handle?: TaskHandle,
): Promise<{ fileName: string; type: string; bytes: Uint8Array }> {
  const project = findProject(db, id);
  const take = readTakeBytes(db, id);
  if (!project || !take) throw noSuchProject();
  const patterns = patternHead(db, id).arrangement?.patterns ?? [];
  const one = choice.kind === "pattern" ? patterns.find((candidate) => candidate.id === choice.patternId) : null;
  if (patterns.length === 0 || one === undefined) throw noSuchPattern();
  const what = one?.name ?? (choice.kind === "each" ? "patterns" : "song");
  const [ending, type] = choice.kind === "each" ? ["zip", "application/zip"] : ["mid", "audio/midi"];
  return {
    fileName: `${project.name} ${what}.${ending}`,
    type,
    bytes: await runInProcess({ kind: "song", bytes: take, patternJson: patternText(db, id), choice }, handle),
  };
}

function partName({ noteMap }: PatternHead, { voiceId, articulationId }: Part): string {
  return articulationId === null ? findVoice(noteMap, voiceId).name : strokeName(noteMap, { voiceId, articulationId });
}

/**
 * Puts one voice of a take on the shelf as a project of its own. The project that it comes from stays as it is.
 * @throws ProblemError 404 if the take has no such voice
 */
export async function takeOutPart(db: Db, id: string, part: Part, handle?: TaskHandle): Promise<ImportedProject> {
  const project = findProject(db, id);
  const bytes = readTakeBytes(db, id);
  if (!project || !bytes) throw noSuchProject();
  const { pattern } = currentPattern(db, id);
  if (!pattern.hits.some((hit) => isOfPart(hit, part))) throw noSuchPart();
  const own = await runInProcess({ kind: "takeOut", bytes, patternJson: patternText(db, id), part }, handle);
  const fileName = `${project.name}, ${partName(pattern, part)}.mid`;
  return storeImport(db, { fileName, book: project.book }, own.bytes, own.result);
}

/** The file as it was imported. */
export function readTake(db: Db, id: string): Uint8Array {
  const bytes = readTakeBytes(db, id);
  if (!bytes) throw noSuchProject();
  return bytes;
}

/** The hits that a stream would bring if it were taken for drums. */
export async function hitsOfTakeStream(db: Db, id: string, streamIndex: number): Promise<readonly Hit[]> {
  const bytes = readTakeBytes(db, id);
  if (!bytes) throw noSuchProject();
  if (!patternHead(db, id).streams[streamIndex]) throw noSuchProject();
  return runInProcess({ kind: "hitsOfStream", bytes, patternJson: patternText(db, id), streamIndex });
}

/** Renames a project, takes it off the shelf or puts it back. */
export function changeProject(db: Db, id: string, change: ProjectChange): ProjectRecord {
  const project = findProject(db, id);
  if (!project) throw noSuchProject();
  if (change.name !== undefined) renameProject(db, id, change.name);
  if (change.isRemoved !== undefined) setProjectRemoved(db, id, change.isRemoved ? new Date().toISOString() : null);
  return { ...project, name: change.name ?? project.name };
}
