import { chmodSync, existsSync, mkdirSync, readdirSync, type Stats, statSync } from "node:fs";
import { join } from "node:path";

/** Where everything is kept: the folder in `MARTEN_DATA`, or `data` in the project. */
export function dataFolder(): string {
  return process.env.MARTEN_DATA || join(process.cwd(), "data");
}

export const databasePath = (folder: string) => join(folder, "marten.sqlite");
export const backupsFolder = (folder: string) => join(folder, "backups");

/** What SQLite keeps beside the database. The journal holds what was saved last. */
const COMPANIONS = ["", "-wal", "-shm"] as const;

/** Makes a folder that only its owner can read. */
export function makePrivateFolder(folder: string): void {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  // One that was there, or whose mode was bent by the umask.
  if (hasOwnerOnly(statSync(folder))) return;
  chmodSync(folder, 0o700);
}

/** The same for a file. */
export function makePrivate(path: string): void {
  if (!hasOwnerOnly(statSync(path))) chmodSync(path, 0o600);
}

const hasOwnerOnly = ({ mode }: Stats) => (mode & 0o077) === 0;

/** Whether anything in the folder says that work was kept here before, besides the database itself. */
export function hasTraces(folder: string): boolean {
  const hasFiles = (path: string) => existsSync(path) && readdirSync(path).length > 0;
  const hasJournal = ["-wal", "-journal"].some((ending) => sizeOf(databasePath(folder) + ending) > 0);
  return hasJournal || hasFiles(backupsFolder(folder)) || readdirSync(folder).some((name) => /before-/.test(name));
}

export function sizeOf(path: string): number {
  return statSync(path, { throwIfNoEntry: false })?.size ?? 0;
}

/** Tells whether the files that are open are still those at their paths: a deleted file can be written to, and is gone all the same. */
export class OpenFiles {
  readonly #path: string;
  readonly #known = new Map<string, string>();

  constructor(path: string) {
    this.#path = path;
    this.areInPlace();
  }

  areInPlace(): boolean {
    return COMPANIONS.every((ending) => {
      const stats = statSync(this.#path + ending, { throwIfNoEntry: false });
      const now = stats ? `${stats.dev}:${stats.ino}` : undefined;
      const known = this.#known.get(ending);
      if (known !== undefined) return now === known;
      // Companions are made when they are first needed.
      if (now !== undefined) this.#known.set(ending, now);
      return true;
    });
  }
}
