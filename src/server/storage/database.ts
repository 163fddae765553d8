import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { backUpBeforeMigration } from "./backups.ts";
import { databasePath, hasTraces, makePrivate, makePrivateFolder, sizeOf } from "./data-folder.ts";
import { lostFault, newerFault, notADatabaseFault } from "./storage-fault.ts";

export type Db = Database.Database;

/** The journal is cut to this after it was written back. */
const LARGEST_JOURNAL_BYTES = 4 * 1024 * 1024;

/**
 * Opens the database in a folder, made if it is missing, and brings it up to date.
 * @throws StorageFault if it is damaged, or made by a newer version, or was lost: then nothing is written
 */
export function openDatabase(folder: string): Db {
  makePrivateFolder(folder);
  const path = databasePath(folder);
  const isNew = sizeOf(path) === 0;
  if (isNew && hasTraces(folder)) throw lostFault(path, readdirSync(folder).includes("marten.sqlite"));
  let db: Db | null = null;
  try {
    db = new Database(path);
    refuseNewer(db, path);
    db.pragma("journal_mode = WAL");
    db.pragma(`journal_size_limit = ${LARGEST_JOURNAL_BYTES}`);
    db.pragma("foreign_keys = ON");
    db.pragma("busy_timeout = 5000");
    // An edit that was acknowledged must survive a power cut, not only a killed process.
    db.pragma("synchronous = FULL");
    makePrivate(path);
    migrate(db, folder, isNew);
    return db;
  } catch (error) {
    db?.close();
    const isGarbage = error instanceof Database.SqliteError && error.code === "SQLITE_NOTADB";
    throw isGarbage ? notADatabaseFault(path, error) : error;
  }
}

/** Writes the journal back into the database, so that the one file holds everything. */
export function checkpoint(db: Db): void {
  db.pragma("wal_checkpoint(TRUNCATE)");
}

/** Closes it so that the one file holds everything. Called twice, it does nothing. */
export function closeDatabase(db: Db): void {
  if (!db.open) return;
  checkpoint(db);
  db.close();
}

const MIGRATIONS_FOLDER = join(process.cwd(), "src/server/migrations");

function migrations(): readonly { readonly number: number; readonly file: string }[] {
  return readdirSync(MIGRATIONS_FOLDER)
    .filter((file) => /^\d{4}-.*\.sql$/.test(file))
    .sort()
    .map((file) => ({ number: Number(file.slice(0, 4)), file }));
}

const formatOf = (db: Db) => db.pragma("user_version", { simple: true }) as number;

function refuseNewer(db: Db, path: string): void {
  const known = migrations().at(-1)?.number ?? 0;
  const found = formatOf(db);
  if (found <= known) return;
  const facts = db.prepare("SELECT 1 FROM sqlite_master WHERE name = 'facts'").get();
  const writtenBy = facts
    ? db.prepare<[], { value: string }>("SELECT value FROM facts WHERE name = 'writtenBy'").get()?.value
    : null;
  throw newerFault(path, found, known, writtenBy ?? null);
}

/** Runs the numbered scripts that the database has not had yet, each in a transaction, after a backup. */
function migrate(db: Db, folder: string, isNew: boolean): void {
  const format = formatOf(db);
  const pending = migrations().filter(({ number }) => number > format);
  if (pending.length === 0) return;
  if (!isNew) backUpBeforeMigration(db, folder, format);
  db.function("sha256", { deterministic: true }, sha256);
  for (const { number, file } of pending) {
    const script = readFileSync(join(MIGRATIONS_FOLDER, file), "utf8");
    db.transaction(() => {
      // Two processes may start at once: the second finds the work done.
      if (formatOf(db) >= number) return;
      db.exec(script);
      db.pragma(`user_version = ${number}`);
    }).immediate();
  }
  db.prepare(
    "INSERT INTO facts (name, value) VALUES ('writtenBy', ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value",
  ).run(ownVersion());
}

/** How it is known that bytes come back from the disk as they were written. */
export function sha256(bytes: Uint8Array): string {
  return createHash("sha256").update(bytes).digest("hex");
}

/** The version of the application, as it is written into what it stores. */
export function ownVersion(): string {
  return JSON.parse(readFileSync(join(process.cwd(), "package.json"), "utf8")).version;
}
