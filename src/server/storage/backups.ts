import { copyFileSync, existsSync, readdirSync, renameSync, rmSync, statSync } from "node:fs";
import { basename, join, resolve } from "node:path";
import Database from "better-sqlite3";
import { BACKUP_REASONS, type Backup, type BackupReason } from "../../api/wire.ts";
import { backupsFolder, databasePath, makePrivate, makePrivateFolder, sizeOf } from "./data-folder.ts";
import type { Db } from "./database.ts";
import { notADatabaseFault, StorageFault } from "./storage-fault.ts";

// Copies of the whole database beside it. docs/storage.md says how many there are and how to go back to one.

/** How many copies of each sort are kept; older ones go. Those made by hand stay. */
const KEPT: Readonly<Record<BackupReason, number>> = {
  day: 10,
  "before-migration": 5,
  "before-restore": 5,
  "by-hand": Number.POSITIVE_INFINITY,
};

const NAME = new RegExp(
  `^(${BACKUP_REASONS.join("|")})-(\\d{4}-\\d\\d-\\d\\dT\\d\\d-\\d\\d-\\d\\d)(?:-\\d+)?\\.sqlite$`,
);

const stampOf = (now: Date) => now.toISOString().slice(0, 19).replaceAll(":", "-");

/** The copies in a folder, the newest first. */
export function listBackups(folder: string): readonly Backup[] {
  const inside = backupsFolder(folder);
  if (!existsSync(inside)) return [];
  const found = readdirSync(inside).flatMap((name): Backup[] => {
    const [, reason, stamp] = NAME.exec(name) ?? [];
    if (!reason || !stamp) return [];
    const madeAt = `${stamp.slice(0, 10)}T${stamp.slice(11).replaceAll("-", ":")}Z`;
    return [{ name, reason: reason as BackupReason, madeAt, bytes: sizeOf(join(inside, name)) }];
  });
  return found.sort((a, b) => b.madeAt.localeCompare(a.madeAt) || b.name.localeCompare(a.name));
}

/** A name that is free for a copy made now. */
function newPath(folder: string, reason: BackupReason, now: Date): string {
  const inside = backupsFolder(folder);
  makePrivateFolder(inside);
  for (let turn = 0; ; turn++) {
    const path = join(inside, `${reason}-${stampOf(now)}${turn === 0 ? "" : `-${turn}`}.sqlite`);
    if (!existsSync(path)) return path;
  }
}

function forgetOld(folder: string, reason: BackupReason): void {
  const old = listBackups(folder).filter((backup) => backup.reason === reason);
  for (const { name } of old.slice(KEPT[reason])) rmSync(join(backupsFolder(folder), name));
}

/** At once and on this thread, since the migration waits for it. */
export function backUpBeforeMigration(db: Db, folder: string, format: number): void {
  const path = newPath(folder, "before-migration", new Date());
  db.prepare("VACUUM INTO ?").run(path);
  makePrivate(path);
  forgetOld(folder, "before-migration");
  console.log(`The data is brought up from format ${format}. A copy of what it was is ${path}.`);
}

/**
 * Makes a whole copy of an open database, page by page, while others go on writing to it. What is half done goes under another name,
 * so that a copy with its right name is a whole one.
 * @returns where the copy is
 */
export async function backUp(db: Db, folder: string, reason: BackupReason, to?: string): Promise<string> {
  const path = to ?? newPath(folder, reason, new Date());
  const partial = `${path}.part`;
  try {
    await db.backup(partial);
    // In the mode of a journal beside it, the copy would be more than one file.
    const copy = new Database(partial);
    copy.pragma("journal_mode = DELETE");
    copy.close();
    makePrivate(partial);
    renameSync(partial, path);
  } finally {
    rmSync(partial, { force: true });
  }
  if (!to) forgetOld(folder, reason);
  return path;
}

/** The copy of the day, unless there is one. Returns null if there was. */
export async function backUpOfTheDay(db: Db, folder: string, now: Date): Promise<string | null> {
  const day = now.toISOString().slice(0, 10);
  const hasToday = listBackups(folder).some(({ reason, madeAt }) => reason === "day" && madeAt.startsWith(day));
  return hasToday ? null : backUp(db, folder, "day");
}

/** Where a copy with this name is. @throws StorageFault 404 if there is none; a name is never a path */
export function findBackup(folder: string, name: string): string {
  const path = join(backupsFolder(folder), basename(name));
  if (NAME.test(name) && existsSync(path)) return path;
  throw new StorageFault(404, {
    code: "backup.missing",
    message: `There is no backup ${JSON.stringify(name)}.`,
    remedy: "Choose one of those that are listed.",
  });
}

/**
 * Puts a copy in the place of the database, which nobody may have open. What was there is kept among the backups.
 * @throws StorageFault if the copy is not a whole database; then nothing is changed
 */
export function restore(folder: string, from: string): void {
  expectWhole(from);
  makePrivateFolder(folder);
  const path = databasePath(folder);
  const next = `${path}.restoring`;
  copyFileSync(resolve(from), next);
  makePrivate(next);
  if (existsSync(path)) setAside(folder, path);
  // A journal belongs to the database that was there: with another it would do damage.
  for (const ending of ["-wal", "-shm", "-journal"]) rmSync(path + ending, { force: true });
  renameSync(next, path);
}

/** Keeps what is there now: as a whole copy where it can be read, and else as it is. */
function setAside(folder: string, path: string): void {
  if (statSync(path).size === 0 && sizeOf(`${path}-wal`) === 0) return;
  const kept = newPath(folder, "before-restore", new Date());
  try {
    const db = new Database(path);
    try {
      db.prepare("VACUUM INTO ?").run(kept);
    } finally {
      db.close();
    }
  } catch (error) {
    if (!(error instanceof Database.SqliteError)) throw error;
    rmSync(kept, { force: true });
    copyFileSync(path, kept);
    if (existsSync(`${path}-wal`)) copyFileSync(`${path}-wal`, `${kept}-wal`);
  }
  makePrivate(kept);
  forgetOld(folder, "before-restore");
}

/** What is found wrong with a database, a line each; none if it is whole. */
export function damagesOf(db: Db): readonly string[] {
  const lines = db.pragma("integrity_check(20)") as { integrity_check: string }[];
  return lines.map((line) => line.integrity_check).filter((line) => line !== "ok");
}

function expectWhole(path: string): void {
  const refuse = (cause?: unknown) => notADatabaseFault(path, cause);
  if (sizeOf(path) === 0) throw refuse();
  try {
    const db = new Database(path, { readonly: true, fileMustExist: true });
    try {
      const isOurs = db.prepare("SELECT 1 FROM sqlite_master WHERE name = 'projects'").get();
      if (!isOurs || damagesOf(db).length > 0) throw refuse();
    } finally {
      db.close();
    }
  } catch (error) {
    if (!(error instanceof Database.SqliteError)) throw error;
    throw refuse(error);
  }
}
