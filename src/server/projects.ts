import type { DamagedProject, ProjectCard, RemovedProject } from "../api/wire.ts";
import { isTreated, isUnnamedVoice, type Lane } from "../core/document/index.ts";
import type { Notice } from "../core/smf/index.ts";
import { type Db, sha256 } from "./storage/database.ts";
import { damagedProjectFault, storageFaultOf } from "./storage/storage-fault.ts";

interface CardRow {
  readonly id: string;
  readonly name: string;
  readonly book: string;
  readonly changed_at: string;
  readonly summary: string;
  readonly lanes: string;
  readonly thumbnail: string;
}

/** Projects on the shelf, the last changed first. Those that are damaged are left out: `readShelf` names them. */
export function listProjects(db: Db): readonly ProjectCard[] {
  return readShelf(db).cards;
}

/** Reads each project by itself, so that damage to one does not take the others along. */
export function readShelf(db: Db): {
  readonly cards: readonly ProjectCard[];
  readonly damaged: readonly DamagedProject[];
} {
  const read = db.prepare<[string], CardRow>(
    `SELECT projects.id, name, book, changed_at, summary, lanes, thumbnail
       FROM projects JOIN patterns ON patterns.project_id = projects.id
      WHERE projects.id = ? AND removed_at IS NULL`,
  );
  const cards: ProjectCard[] = [];
  const damaged: DamagedProject[] = [];
  for (const id of projectIds(db)) {
    try {
      const row = read.get(id);
      if (row) cards.push(cardOf(row));
    } catch (error) {
      if (!isDamage(error)) throw error;
      damaged.push({ id, name: nameOf(db, id) });
    }
  }
  return { cards, damaged };
}

/** The last changed first. Where the order cannot be read, in any: it is better than none. */
function projectIds(db: Db): readonly string[] {
  try {
    return db
      .prepare<[], { id: string }>(
        "SELECT id FROM projects WHERE removed_at IS NULL ORDER BY changed_at DESC, rowid DESC",
      )
      .all()
      .map(({ id }) => id);
  } catch (error) {
    if (!isDamage(error)) throw error;
    // The index of the ids lies elsewhere than the table.
    return db
      .prepare<[], { id: string }>("SELECT id FROM projects INDEXED BY sqlite_autoindex_projects_1")
      .all()
      .map(({ id }) => id);
  }
}

function nameOf(db: Db, id: string): string | null {
  try {
    return db.prepare<[string], { name: string }>("SELECT name FROM projects WHERE id = ?").get(id)?.name ?? null;
  } catch (error) {
    if (!isDamage(error)) throw error;
    return null;
  }
}

/** A page of the database that cannot be read, or a text that is none any more. */
function isDamage(error: unknown): boolean {
  return error instanceof SyntaxError || storageFaultOf(error)?.problem.code === "storage.damaged";
}

function cardOf(row: CardRow): ProjectCard {
  const lanes: readonly Lane[] = JSON.parse(row.lanes);
  return {
    id: row.id,
    name: row.name,
    book: row.book,
    changedAt: row.changed_at,
    summary: JSON.parse(row.summary),
    treatedVoiceCount: lanes.filter((lane) => isTreated(lane.treatment)).length,
    unnamedVoiceCount: lanes.filter((lane) => isUnnamedVoice(lane.voiceId)).length,
    thumbnail: JSON.parse(row.thumbnail),
  };
}

export interface ProjectRecord {
  readonly id: string;
  readonly name: string;
  readonly book: string;
  readonly fileName: string;
  readonly notices: readonly Notice[];
}

export function findProject(db: Db, id: string): ProjectRecord | null {
  const row = db
    .prepare<[string], { id: string; name: string; book: string; file_name: string; notices: string }>(
      `SELECT projects.id, name, book, file_name, notices
         FROM projects JOIN takes ON takes.project_id = projects.id
        WHERE projects.id = ?`,
    )
    .get(id);
  if (!row) return null;
  return { id: row.id, name: row.name, book: row.book, fileName: row.file_name, notices: JSON.parse(row.notices) };
}

export function insertProject(db: Db, project: ProjectRecord, bytes: Uint8Array, now: string): void {
  db.prepare("INSERT INTO projects (id, name, book, created_at, changed_at) VALUES (?, ?, ?, ?, ?)").run(
    project.id,
    project.name,
    project.book,
    now,
    now,
  );
  db.prepare("INSERT INTO takes (project_id, file_name, bytes, notices, sha256) VALUES (?, ?, ?, ?, ?)").run(
    project.id,
    project.fileName,
    bytes,
    JSON.stringify(project.notices),
    sha256(bytes),
  );
}

/**
 * The file as it was imported.
 * @throws StorageFault if the disk gives back other bytes than were written: a take that is damaged unseen would go out as one
 */
export function readTakeBytes(db: Db, projectId: string): Uint8Array | null {
  const row = db
    .prepare<[string], { bytes: Buffer; sha256: string }>("SELECT bytes, sha256 FROM takes WHERE project_id = ?")
    .get(projectId);
  if (!row) return null;
  if (sha256(row.bytes) !== row.sha256) throw damagedProjectFault();
  return new Uint8Array(row.bytes);
}

export function renameProject(db: Db, id: string, name: string): void {
  db.prepare("UPDATE projects SET name = ? WHERE id = ?").run(name, id);
}

/** Takes a project off the shelf or puts it back. Nothing is deleted. */
export function setProjectRemoved(db: Db, id: string, removedAt: string | null): void {
  db.prepare("UPDATE projects SET removed_at = ? WHERE id = ?").run(removedAt, id);
}

/** What was taken off the shelf, the last first. */
export function listRemovedProjects(db: Db): readonly RemovedProject[] {
  return db
    .prepare<[], RemovedProject>(
      "SELECT id, name, removed_at AS removedAt FROM projects WHERE removed_at IS NOT NULL ORDER BY removed_at DESC",
    )
    .all();
}

export function touchProject(db: Db, id: string, now: string): void {
  db.prepare("UPDATE projects SET changed_at = ? WHERE id = ?").run(now, id);
}

export function findFact(db: Db, name: string): string | null {
  return db.prepare<[string], { value: string }>("SELECT value FROM facts WHERE name = ?").get(name)?.value ?? null;
}

export function insertFact(db: Db, name: string, value: string): void {
  db.prepare("INSERT INTO facts (name, value) VALUES (?, ?)").run(name, value);
}
