import { existsSync, mkdirSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";

export type Db = Database.Database;

/** Where everything is kept: the folder in `MARTEN_DATA`, or `data` in the project. */
export function dataFolder(): string {
  return process.env.MARTEN_DATA || join(process.cwd(), "data");
}

/** Opens the database in a folder, made if it is missing, and brings it up to date. */
export function openDatabase(folder: string): Db {
  mkdirSync(folder, { recursive: true });
  const path = join(folder, "marten.sqlite");
  const isNew = !existsSync(path);
  const db = new Database(path);
  db.pragma("journal_mode = WAL");
  db.pragma("foreign_keys = ON");
  db.pragma("busy_timeout = 5000");
  // An edit that was acknowledged must survive a power cut, not only a killed process.
  db.pragma("synchronous = FULL");
  migrate(db, isNew ? null : `${path}.before-migration`);
  return db;
}

const MIGRATIONS_FOLDER = join(process.cwd(), "src/server/migrations");

/** Runs the numbered scripts that the database has not had yet, each in a transaction, after a backup. */
function migrate(db: Db, backupPath: string | null): void {
  const version = db.pragma("user_version", { simple: true }) as number;
  const pending = readdirSync(MIGRATIONS_FOLDER)
    .filter((file) => /^\d{4}-.*\.sql$/.test(file))
    .sort()
    .filter((file) => Number(file.slice(0, 4)) > version);
  if (pending.length === 0) return;
  if (backupPath) db.prepare("VACUUM INTO ?").run(`${backupPath}-${version}-${Date.now()}`);
  for (const file of pending) {
    const number = Number(file.slice(0, 4));
    const script = readFileSync(join(MIGRATIONS_FOLDER, file), "utf8");
    db.transaction(() => {
      // Two processes may start at once: the second finds the work done.
      if ((db.pragma("user_version", { simple: true }) as number) >= number) return;
      db.exec(script);
      db.pragma(`user_version = ${number}`);
    }).immediate();
  }
}

const shared = globalThis as { martenDb?: Db };

/** The one connection of the server. Next loads routes into separate bundles, so it is kept on the global object. */
export function database(): Db {
  shared.martenDb ??= openDatabase(dataFolder());
  return shared.martenDb;
}
