import type { ProjectCard } from "../api/wire.ts";
import { isUnnamedVoice } from "../core/notemap/index.ts";
import { isTreated, type Lane } from "../core/part/index.ts";
import type { Notice } from "../core/smf/index.ts";
import type { Db } from "./database.ts";

interface CardRow {
  readonly id: string;
  readonly name: string;
  readonly book: string;
  readonly changed_at: string;
  readonly summary: string;
  readonly lanes: string;
  readonly thumbnail: string;
}

/** Projects on the shelf, the last changed first. */
export function listProjects(db: Db): readonly ProjectCard[] {
  const rows = db
    .prepare<[], CardRow>(
      `SELECT projects.id, name, book, changed_at, summary, lanes, thumbnail
         FROM projects JOIN patterns ON patterns.project_id = projects.id
        WHERE removed_at IS NULL
        ORDER BY changed_at DESC, projects.rowid DESC`,
    )
    .all();
  return rows.map((row) => {
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
  });
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
  db.prepare("INSERT INTO takes (project_id, file_name, bytes, notices) VALUES (?, ?, ?, ?)").run(
    project.id,
    project.fileName,
    bytes,
    JSON.stringify(project.notices),
  );
}

/** The file as it was imported. */
export function readTakeBytes(db: Db, projectId: string): Uint8Array | null {
  const row = db.prepare<[string], { bytes: Buffer }>("SELECT bytes FROM takes WHERE project_id = ?").get(projectId);
  return row ? new Uint8Array(row.bytes) : null;
}

export function renameProject(db: Db, id: string, name: string): void {
  db.prepare("UPDATE projects SET name = ? WHERE id = ?").run(name, id);
}

/** Takes a project off the shelf or puts it back. Nothing is deleted. */
export function setProjectRemoved(db: Db, id: string, removedAt: string | null): void {
  db.prepare("UPDATE projects SET removed_at = ? WHERE id = ?").run(removedAt, id);
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
