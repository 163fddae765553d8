import { existsSync } from "node:fs";
import { backUpOfTheDay, restore } from "./backups.ts";
import { databasePath, dataFolder, OpenFiles } from "./data-folder.ts";
import { checkpoint, closeDatabase, type Db, openDatabase } from "./database.ts";
import { movedFault, storageFaultOf } from "./storage-fault.ts";

// The server's one connection. Next loads routes into separate bundles, so it is kept on the global object.

interface Shared {
  readonly db: Db;
  readonly folder: string;
  readonly files: OpenFiles;
  readonly caretaker: NodeJS.Timeout;
  changesCheckpointed: number;
}

const holder = globalThis as { martenShared?: Shared; martenEnds?: true };

/** So often it is looked whether there is something to write back or to copy. */
const CARE_EVERY_MS = 5000;

function shared(): Shared {
  holder.martenShared ??= open(dataFolder());
  return holder.martenShared;
}

function open(folder: string): Shared {
  const db = openDatabase(folder);
  closeWithProcess();
  const caretaker = setInterval(() => void care(), CARE_EVERY_MS);
  caretaker.unref();
  return { db, folder, files: new OpenFiles(databasePath(folder)), caretaker, changesCheckpointed: -1 };
}

/** For what only reads. @throws StorageFault if it cannot be opened */
export function database(): Db {
  return shared().db;
}

/** For what writes. @throws StorageFault if its file is no longer the one at its path: what is written there would be gone */
export function databaseToWrite(): Db {
  expectInPlace();
  return shared().db;
}

/** Asked before anything is acknowledged. @throws StorageFault if the open file is no longer the one at its path */
export function expectInPlace(): void {
  const { files, folder } = shared();
  if (!files.areInPlace()) throw movedFault(databasePath(folder));
}

/** While nothing happens: writes the journal back, so that the one file holds everything, and makes the copy of the day. */
async function care(): Promise<void> {
  const current = holder.martenShared;
  if (!current?.db.open || !current.files.areInPlace()) return;
  const { db, folder } = current;
  try {
    const changes = db.prepare<[], { changes: number }>("SELECT total_changes() AS changes").get()!.changes;
    if (changes !== current.changesCheckpointed) {
      checkpoint(db);
      current.changesCheckpointed = changes;
    }
    await backUpOfTheDay(db, folder, new Date());
  } catch (error) {
    // A full disk, for instance: whoever saves is told. The next round tries again.
    if (!storageFaultOf(error)) throw error;
    console.warn("The data could not be looked after.", error);
  }
}

/** Puts a copy in the place of the database and opens it. */
export function restoreShared(from: string): void {
  const { folder } = closeShared() ?? { folder: dataFolder() };
  restore(folder, from);
  shared();
}

function closeShared(): Shared | null {
  const current = holder.martenShared ?? null;
  if (!current) return null;
  clearInterval(current.caretaker);
  delete holder.martenShared;
  const isInPlace = current.files.areInPlace() && existsSync(databasePath(current.folder));
  if (isInPlace) closeDatabase(current.db);
  else current.db.close();
  return current;
}

const GRACE_MS = 1500;

/** Every orderly end closes the database. Requests that are still under way get a moment; connections that say nothing do not. */
function closeWithProcess(): void {
  if (holder.martenEnds) return;
  holder.martenEnds = true;
  process.on("exit", closeShared);
  for (const signal of ["SIGTERM", "SIGINT"] as const) {
    process.on(signal, () => setTimeout(() => process.exit(0), GRACE_MS).unref());
  }
}
