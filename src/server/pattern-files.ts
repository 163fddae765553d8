import type { PatternFilePage } from "../api/wire.ts";
import { toOneLine } from "../core/json-shape.ts";
import { ProblemError } from "./problem-error.ts";
import { type Db, sha256 } from "./storage/database.ts";

/** What is answered at once, in bytes of the files. */
const PAGE_BYTES = 2 * 1024 * 1024;

/**
 * Keeps a file whose patterns are on the shelf. One that was taken off the shelf is there again.
 * @returns whether it was not there before
 */
export function addPatternFile(db: Db, path: string, bytes: Uint8Array): { readonly isNew: boolean } {
  if (bytes.length === 0) {
    throw new ProblemError(400, {
      code: "patternFile.empty",
      message: "The file is empty.",
      remedy: "Choose another one.",
    });
  }
  const { changes } = db
    .prepare(
      `INSERT INTO pattern_files (sha256, path, bytes, added_at) VALUES (?, ?, ?, ?)
       ON CONFLICT (sha256) DO UPDATE SET removed_at = NULL, path = excluded.path WHERE removed_at IS NOT NULL`,
    )
    .run(sha256(bytes), toOneLine(path) || "Untitled.mid", bytes, new Date().toISOString());
  return { isNew: changes === 1 };
}

/** The files that are on the shelf, some at a time. @param after the id of the last one that is known; empty for none */
export function listPatternFiles(db: Db, after: string): PatternFilePage {
  const rows = db
    .prepare<[string], { readonly id: string; readonly path: string; readonly bytes: Buffer }>(
      "SELECT sha256 AS id, path, bytes FROM pattern_files WHERE removed_at IS NULL AND sha256 > ? ORDER BY sha256",
    )
    .iterate(after);
  const files: { readonly id: string; readonly path: string; readonly base64: string }[] = [];
  let size = 0;
  for (const { id, path, bytes } of rows) {
    // One at the least, however large.
    if (size > 0 && size + bytes.length > PAGE_BYTES) return { files, isLast: false };
    files.push({ id, path, base64: bytes.toString("base64") });
    size += bytes.length;
  }
  return { files, isLast: true };
}

/** All files that are on the shelf, as they go into an archive. */
export function allPatternFiles(db: Db): readonly { readonly path: string; readonly base64: string }[] {
  return db
    .prepare<[], { readonly path: string; readonly bytes: Buffer }>(
      "SELECT path, bytes FROM pattern_files WHERE removed_at IS NULL ORDER BY path, sha256",
    )
    .all()
    .map(({ path, bytes }) => ({ path, base64: bytes.toString("base64") }));
}

/**
 * Takes a file off the shelf or puts it back.
 * @throws ProblemError 404 if it was never there
 */
export function setPatternFileRemoved(db: Db, id: string, isRemoved: boolean): null {
  const { changes } = db
    .prepare("UPDATE pattern_files SET removed_at = ? WHERE sha256 = ?")
    .run(isRemoved ? new Date().toISOString() : null, id);
  if (changes > 0) return null;
  throw new ProblemError(404, {
    code: "patternFile.gone",
    message: "This file is not on the shelf of patterns.",
    remedy: "Reload to see what is there.",
  });
}
