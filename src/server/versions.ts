import { randomUUID } from "node:crypto";
import type { Version, VersionRequest } from "../api/wire.ts";
import { readRevision } from "./patterns.ts";
import { noSuchProject, ProblemError } from "./problem-error.ts";
import type { Db } from "./storage/database.ts";

/** The versions that were kept of a project, the newest first. */
export function listVersions(db: Db, projectId: string): readonly Version[] {
  if (readRevision(db, projectId) === null) throw noSuchProject();
  return db
    .prepare<[string], Version & { readonly own: string | null }>(
      `SELECT id, name, revision, made_at AS madeAt, entries AS own FROM versions WHERE project_id = ?
        ORDER BY revision DESC, made_at DESC`,
    )
    .all(projectId)
    .map(({ own, ...version }) => (own === null ? version : { ...version, entries: JSON.parse(own) }));
}

/** Gives a revision of a project a name, with what was done on top of it if that did not fit. @throws ProblemError 400 if there is no such revision */
export function keepVersion(db: Db, projectId: string, { name, revision, entries }: VersionRequest): Version {
  const newest = readRevision(db, projectId);
  if (newest === null) throw noSuchProject();
  if (revision > newest) {
    throw new ProblemError(400, {
      code: "version.unsaved",
      message: "What should be kept as a version is not saved yet.",
      remedy: "Wait until the top of the page says that everything is saved, and try again.",
    });
  }
  const version = {
    id: randomUUID(),
    name,
    revision,
    madeAt: new Date().toISOString(),
    ...(entries ? { entries } : {}),
  };
  db.prepare("INSERT INTO versions (id, project_id, name, revision, made_at, entries) VALUES (?, ?, ?, ?, ?, ?)").run(
    version.id,
    projectId,
    name,
    revision,
    version.madeAt,
    entries ? JSON.stringify(entries) : null,
  );
  return version;
}

/** Forgets a version's name; what was done stays in the log. */
export function forgetVersion(db: Db, projectId: string, versionId: string): null {
  const { changes } = db.prepare("DELETE FROM versions WHERE project_id = ? AND id = ?").run(projectId, versionId);
  if (changes === 0) {
    throw new ProblemError(404, {
      code: "version.unknown",
      message: "This version is no longer kept.",
      remedy: "Reload to see those that are.",
    });
  }
  return null;
}
