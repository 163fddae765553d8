import Database from "better-sqlite3";
import { ProblemError } from "../problem-error.ts";

/** Something with the folder or the database that a person has to know of and can mend. */
export class StorageFault extends ProblemError {
  override readonly name: string = "StorageFault";
}

const MOVED_REMEDY =
  "Put it back and saving goes on. If it is gone for good, download a whole copy on the Shelf under “Back up and move”.";

export function movedFault(path: string): StorageFault {
  return new StorageFault(503, {
    code: "storage.moved",
    message: `The data file ${path} was deleted, moved or replaced while Idle Marten was running.`,
    where: path,
    remedy: MOVED_REMEDY,
  });
}

export function newerFault(path: string, found: number, known: number, writtenBy: string | null): StorageFault {
  return new StorageFault(503, {
    code: "storage.newer",
    message:
      `The data was written by ${writtenBy ? `version ${writtenBy} of Idle Marten` : "a newer version of Idle Marten"}` +
      ` (data format ${found}); this version reads up to format ${known}.`,
    where: path,
    remedy: "Start that version, or set MARTEN_DATA to another folder. Nothing was changed.",
  });
}

export function lostFault(path: string, isEmpty: boolean): StorageFault {
  return new StorageFault(503, {
    code: "storage.lost",
    message: `The data file ${path} is ${isEmpty ? "empty" : "missing"}, but there are traces of earlier work beside it.`,
    where: path,
    remedy: "Restore a backup on the Shelf or with `npm run restore`, or move the folder away to start afresh.",
  });
}

export function notADatabaseFault(path: string, cause?: unknown): StorageFault {
  return new StorageFault(
    503,
    {
      code: "storage.damaged",
      message: `The data file ${path} is damaged: it is not a database.`,
      where: path,
      remedy: "Restore a backup on the Shelf or with `npm run restore`. The damaged file is kept beside it.",
    },
    { cause },
  );
}

/** A project that is damaged on the disk, while others may be whole. */
export function damagedProjectFault(cause?: unknown): StorageFault {
  return new StorageFault(
    500,
    {
      code: "storage.damaged",
      message: "This project is damaged on the disk. Other projects still open.",
      remedy: "Restore a backup on the Shelf or with `npm run restore`. Nothing was changed.",
    },
    { cause },
  );
}

interface Trouble {
  readonly status: number;
  readonly code: string;
  readonly message: string;
  readonly remedy: string;
}

/** What SQLite and the file system report, by the beginning of their codes, in words. */
const TROUBLES: readonly (readonly [RegExp, Trouble])[] = [
  [
    /^(SQLITE_FULL|ENOSPC|EDQUOT)/,
    {
      status: 507,
      code: "storage.full",
      message: "The disk is full, so nothing more can be saved.",
      remedy: "Free some space. Your changes are kept in this window and saved as soon as there is room.",
    },
  ],
  [
    /^(SQLITE_READONLY|SQLITE_CANTOPEN|SQLITE_PERM|EROFS|EACCES|EPERM)/,
    {
      status: 503,
      code: "storage.readOnly",
      message: "The data folder cannot be written to.",
      remedy:
        "Check the rights of the folder and whether its disk is mounted for reading only. Your changes are kept in this window until then.",
    },
  ],
  [
    /^(SQLITE_BUSY|SQLITE_LOCKED)/,
    {
      status: 503,
      code: "storage.busy",
      message: "Another program is using the database.",
      remedy: "Close what else has it open. Saving is tried again by itself.",
    },
  ],
  [
    /^(SQLITE_CORRUPT|SQLITE_NOTADB)/,
    {
      status: 500,
      code: "storage.damaged",
      message: "A part of the database is damaged.",
      remedy: "Restore a backup on the Shelf or with `npm run restore`. What is not damaged still opens.",
    },
  ],
  [
    /^(SQLITE_IOERR|EIO)/,
    {
      status: 503,
      code: "storage.io",
      message: "The disk could not be read or written.",
      remedy: "Check the disk. Saving is tried again by itself; your changes are kept in this window.",
    },
  ],
];

/** The fault that an error is, or that one of SQLite or of the file system stands for; null for other errors. */
export function storageFaultOf(error: unknown): StorageFault | null {
  if (error instanceof StorageFault) return error;
  const isStorage = error instanceof Database.SqliteError || (error instanceof Error && "syscall" in error);
  const code = isStorage ? (error as { code?: unknown }).code : undefined;
  if (typeof code !== "string") return null;
  const trouble = TROUBLES.find(([pattern]) => pattern.test(code))?.[1];
  if (!trouble) return null;
  const { status, ...problem } = trouble;
  return new StorageFault(status, problem, { cause: error });
}
