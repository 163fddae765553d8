import type { PlannedLanes } from "../api/wire.ts";
import {
  compareHits,
  type Hit,
  type LogEntry,
  type Pattern,
  packPattern,
  type Touched,
  touchedBy,
  unpackHits,
} from "../core/document/index.ts";
import { summarizePattern, thumbnailOf } from "../core/overview/index.ts";
import type { Db } from "./storage/database.ts";
import { damagedProjectFault } from "./storage/storage-fault.ts";

/** A new pattern as the import worker hands it over: its large parts are text already. */
export interface PatternRecord {
  readonly head: string;
  readonly recordedHits: string;
  readonly streams: string;
  readonly lanes: string;
  readonly noteMap: string;
  readonly outgoingMap: string;
  readonly changedMessages: string;
  readonly summary: string;
  readonly thumbnail: string;
}

export interface StoredPattern {
  readonly revision: number;
  readonly pattern: Pattern;
}

export function insertPattern(db: Db, projectId: string, record: PatternRecord, isPlanned = true): void {
  db.prepare(
    `INSERT INTO patterns
       (project_id, head, recorded_hits, streams, lanes, note_map, outgoing_map, changed_messages, summary, thumbnail, is_planned)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
  ).run(
    projectId,
    record.head,
    record.recordedHits,
    record.streams,
    record.lanes,
    record.noteMap,
    record.outgoingMap,
    record.changedMessages,
    record.summary,
    record.thumbnail,
    isPlanned ? 1 : 0,
  );
}

/** Whether the grids of a take were sought. */
export function isPlanned(db: Db, projectId: string): boolean {
  const row = db
    .prepare<[string], { is_planned: number }>("SELECT is_planned FROM patterns WHERE project_id = ?")
    .get(projectId);
  return row?.is_planned !== 0;
}

/** Puts the lanes of a new take on the grids that were found. What somebody has done to it meanwhile goes first: then they stay. */
export function writePlan(db: Db, projectId: string, lanes: string): void {
  db.prepare("UPDATE patterns SET lanes = ?, is_planned = 1 WHERE project_id = ? AND revision = 0").run(
    lanes,
    projectId,
  );
  db.prepare("UPDATE patterns SET is_planned = 1 WHERE project_id = ?").run(projectId);
}

/** The lanes alone, and not the hits with them. */
export function readLanes(db: Db, projectId: string): PlannedLanes | null {
  const row = db
    .prepare<[string], { revision: number; lanes: string }>("SELECT revision, lanes FROM patterns WHERE project_id = ?")
    .get(projectId);
  return row ? { revision: row.revision, lanes: JSON.parse(row.lanes) } : null;
}

export function readRevision(db: Db, projectId: string): number | null {
  const row = db
    .prepare<[string], { revision: number }>("SELECT revision FROM patterns WHERE project_id = ?")
    .get(projectId);
  return row?.revision ?? null;
}

/** A pattern as it is stored: its parts are JSON. */
export interface PatternRow extends HeadRow {
  readonly revision: number;
  /** `PackedHits`. */
  readonly recorded_hits: string;
}

/** All of it but its hits. */
interface HeadRow {
  readonly head: string;
  readonly streams: string;
  readonly lanes: string;
  readonly note_map: string;
  readonly outgoing_map: string;
  readonly changed_messages: string;
}

/** The pattern as it is now: what was recorded, with every saved change. */
export function readPattern(db: Db, projectId: string): StoredPattern | null {
  const row = db
    .prepare<[string], PatternRow>(
      `SELECT revision, head, recorded_hits, streams, lanes, note_map, outgoing_map, changed_messages
         FROM patterns WHERE project_id = ?`,
    )
    .get(projectId);
  if (!row) return null;
  const changed = db
    .prepare<[string], { hit_id: string; hit: string | null }>(
      "SELECT hit_id, hit FROM changed_hits WHERE project_id = ?",
    )
    .all(projectId);
  return whole(() => {
    const recorded = recordedHitsOf(row);
    const hits = changed.length === 0 ? recorded : withChanges(recorded, changed);
    return { revision: row.revision, pattern: { ...patternHeadOf(row), hits } };
  });
}

/**
 * The hits of a pattern as they were recorded.
 * @throws StorageFault if they are damaged
 */
export function recordedHitsOf(row: Pick<PatternRow, "recorded_hits">): readonly Hit[] {
  return whole(() => unpackHits(JSON.parse(row.recorded_hits)));
}

export type PatternHead = Omit<Pattern, "hits">;

/** The same without its hits, which nearly all of the reading goes into. */
export function readPatternHead(db: Db, projectId: string): PatternHead | null {
  const row = db
    .prepare<[string], HeadRow>(
      "SELECT head, streams, lanes, note_map, outgoing_map, changed_messages FROM patterns WHERE project_id = ?",
    )
    .get(projectId);
  return row ? whole(() => patternHeadOf(row)) : null;
}

/** What we wrote is JSON: where it is none any more, a page of the disk is damaged. */
function whole<Value>(read: () => Value): Value {
  try {
    return read();
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    throw damagedProjectFault(error);
  }
}

/**
 * The same with its hits packed and as JSON, in pieces, for a page that opens it. What nobody has touched is passed on as it is
 * stored, byte for byte: to read and write half a million hits would keep everybody else waiting for seconds.
 * @returns a `PackedPattern` once its pieces are put together
 */
export function readPatternJson(
  db: Db,
  projectId: string,
): { readonly revision: number; readonly json: readonly Buffer[] } | null {
  const isTouched = db.prepare("SELECT 1 FROM changed_hits WHERE project_id = ? LIMIT 1").get(projectId) !== undefined;
  if (isTouched) {
    const stored = readPattern(db, projectId);
    return stored && { revision: stored.revision, json: [Buffer.from(JSON.stringify(packPattern(stored.pattern)))] };
  }
  const row = db
    .prepare<
      [string],
      HeadRow & { readonly revision: number; readonly recorded_hits: Buffer; readonly is_whole: number }
    >(
      `SELECT revision, head, CAST(recorded_hits AS BLOB) AS recorded_hits, streams, lanes, note_map, outgoing_map,
              changed_messages,
              json_valid(head) AND json_valid(recorded_hits) AND json_valid(streams) AND json_valid(lanes)
                AND json_valid(note_map) AND json_valid(outgoing_map) AND json_valid(changed_messages) AS is_whole
         FROM patterns WHERE project_id = ?`,
    )
    .get(projectId);
  if (!row) return null;
  if (row.is_whole !== 1) throw damagedProjectFault();
  const rest = Buffer.from(`${jsonOfRow(row).slice(0, -1)},"hits":`);
  return { revision: row.revision, json: [rest, row.recorded_hits, Buffer.from("}")] };
}

/** All of a stored pattern but its hits, as JSON. Its parts are put together as they are. */
export function jsonOfRow(row: HeadRow): string {
  const parts = [
    row.head.slice(0, -1),
    `"streams":${row.streams}`,
    `"lanes":${row.lanes}`,
    `"noteMap":${row.note_map}`,
    `"outgoingMap":${row.outgoing_map}`,
    `"changedMessages":${row.changed_messages}`,
  ];
  return `${parts.join(",")}}`;
}

function patternHeadOf(row: HeadRow): PatternHead {
  return {
    ...JSON.parse(row.head),
    streams: JSON.parse(row.streams),
    lanes: JSON.parse(row.lanes),
    noteMap: JSON.parse(row.note_map),
    outgoingMap: JSON.parse(row.outgoing_map),
    changedMessages: JSON.parse(row.changed_messages),
  };
}

function withChanges(
  recorded: readonly Hit[],
  changed: readonly { hit_id: string; hit: string | null }[],
): readonly Hit[] {
  const hitsById = new Map(recorded.map((hit) => [hit.id, hit]));
  for (const { hit_id, hit } of changed) {
    if (hit === null) hitsById.delete(hit_id);
    else hitsById.set(hit_id, JSON.parse(hit));
  }
  return [...hitsById.values()].sort(compareHits);
}

/** Writes one edit and the pattern that it made. Call it inside a transaction. */
export function writeEdit(
  db: Db,
  projectId: string,
  revision: number,
  entry: LogEntry,
  pattern: Pattern,
  now: string,
): void {
  db.prepare(
    "INSERT INTO edits (project_id, revision, entry_id, kind, label, edit, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
  ).run(projectId, revision, entry.id, entry.kind, entry.label, JSON.stringify(entry.edit), now);
  db.prepare("UPDATE patterns SET revision = ? WHERE project_id = ?").run(revision, projectId);
  const touched = touchedBy(entry.edit);
  const { parts } = touched;
  const areHitsTouched = writeTouchedHits(db, projectId, touched, pattern);
  if (areHitsTouched || parts.some((part) => IS_SEEN_ON_THE_SHELF[part])) {
    db.prepare("UPDATE patterns SET summary = ?, thumbnail = ? WHERE project_id = ?").run(
      JSON.stringify(summarizePattern(pattern)),
      JSON.stringify(thumbnailOf(pattern)),
      projectId,
    );
  }
  if (parts.length === 0) return;
  const { hits: _, lanes, streams, noteMap, outgoingMap, changedMessages, ...head } = pattern;
  db.prepare(
    `UPDATE patterns SET head = ?, lanes = ?, streams = ?, note_map = ?, outgoing_map = ?, changed_messages = ?
      WHERE project_id = ?`,
  ).run(
    ...[head, lanes, streams, noteMap, outgoingMap, changedMessages].map((part) => JSON.stringify(part)),
    projectId,
  );
}

/** Which parts of a pattern the card of its project says something of. */
const IS_SEEN_ON_THE_SHELF: Readonly<Record<Touched["parts"][number], boolean>> = {
  ppq: true,
  lengthTicks: true,
  meters: true,
  tempos: true,
  timeline: true,
  streams: true,
  noteMap: true,
  changedMessages: true,
  lanes: false,
  arrangement: false,
  otherSide: false,
  outgoingMap: false,
  levels: false,
  fullness: false,
};

/** @returns whether there were any */
function writeTouchedHits(
  db: Db,
  projectId: string,
  { hitIds: named, areAllMoved }: Touched,
  pattern: Pattern,
): boolean {
  // Those that are gone are named, and are not among the pattern's.
  const hitIds = areAllMoved ? new Set([...named, ...pattern.hits.map(({ id }) => id)]) : named;
  const hitsById = new Map(pattern.hits.map((hit) => [hit.id, hit]));
  const write = db.prepare(
    `INSERT INTO changed_hits (project_id, hit_id, hit) VALUES (?, ?, ?)
     ON CONFLICT (project_id, hit_id) DO UPDATE SET hit = excluded.hit`,
  );
  for (const hitId of hitIds) {
    const hit = hitsById.get(hitId);
    write.run(projectId, hitId, hit ? JSON.stringify(hit) : null);
  }
  return areAllMoved === true || named.length > 0;
}

interface EditRow {
  readonly entry_id: string;
  readonly kind: LogEntry["kind"];
  readonly label: string;
  readonly edit: string;
}

/**
 * Saved edits after a revision, oldest first, as JSON: what is stored is JSON already, and a hundred thousand edits would take seconds to
 * be read and written again.
 */
export function readLogText(db: Db, projectId: string, afterRevision: number): string {
  const rows = db
    .prepare<[string, number], { json: string }>(
      `SELECT json_object('id', entry_id, 'kind', kind, 'label', label, 'edit', json(edit)) AS json
         FROM edits WHERE project_id = ? AND revision > ? ORDER BY revision`,
    )
    .all(projectId, afterRevision);
  return `[${rows.map(({ json }) => json).join(",")}]`;
}

/** Saved edits after a revision, oldest first. */
export function readLog(db: Db, projectId: string, afterRevision: number): readonly LogEntry[] {
  return db
    .prepare<[string, number], EditRow>(
      "SELECT entry_id, kind, label, edit FROM edits WHERE project_id = ? AND revision > ? ORDER BY revision",
    )
    .all(projectId, afterRevision)
    .map(({ entry_id, kind, label, edit }) => ({ id: entry_id, kind, label, edit: JSON.parse(edit) }));
}
