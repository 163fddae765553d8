import { isGrooveFile } from "../api/schemas.ts";
import type { GrooveReading, KeptGroove, NewGroove } from "../api/wire.ts";
import type { Groove } from "../core/document/index.ts";
import { GROOVES } from "../core/groove/index.ts";
import { type KeptSort, keep } from "./kept.ts";
import { runInProcess } from "./midi-process.ts";
import { ProblemError } from "./problem-error.ts";
import type { Db } from "./storage/database.ts";

/** The feel of a bar or a few, under a name. */
export const GROOVE_SORT: KeptSort<Omit<Groove, "id" | "name">> = {
  table: "grooves",
  column: "feel",
  word: "groove",
  builtIn: GROOVES,
  read: (json) => json as Omit<Groove, "id" | "name">,
  write: ({ lengthQuarters, grid, layers, tags }) => ({ lengthQuarters, grid, layers, ...(tags ? { tags } : {}) }),
};

/**
 * Keeps the groove of a file under the name of the file.
 * @throws ProblemError 400 if it is neither a groove that was saved here nor a recording in which something is played
 */
export async function keepGrooveFile(db: Db, fileName: string, bytes: Uint8Array): Promise<GrooveReading> {
  const name = fileName.replace(/\.(mid|midi|smf|json)$/i, "").trim() || "A groove";
  const isMidi = bytes[0] === 0x4d && bytes[1] === 0x54 && bytes[2] === 0x68 && bytes[3] === 0x64;
  if (!isMidi) return { groove: keep(db, GROOVE_SORT, readGroove(bytes)) as KeptGroove, notices: [] };
  const found = await runInProcess({ kind: "groove", bytes });
  if (!found) {
    throw new ProblemError(400, {
      code: "groove.empty",
      message: "There are no drum hits in this file, so no groove.",
      remedy: "Choose a recording of drums. Nothing was saved.",
    });
  }
  return { groove: keep(db, GROOVE_SORT, { name, ...found.groove }) as KeptGroove, notices: found.notices };
}

function readGroove(bytes: Uint8Array): NewGroove {
  const text = new TextDecoder().decode(bytes);
  const refuse = (cause?: unknown) =>
    new ProblemError(
      400,
      {
        code: "groove.shape",
        message: "There is no groove in this file: it is neither a groove exported here nor a MIDI file.",
        remedy: "Choose a .mid of drums, or an exported groove. Nothing was saved.",
      },
      { cause },
    );
  try {
    const value: unknown = JSON.parse(text);
    if (isGrooveFile(value)) return value.groove;
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    throw refuse(error);
  }
  throw refuse();
}
