import { randomUUID } from "node:crypto";
import type { KeptMap } from "../api/wire.ts";
import type { NoteMap } from "../core/document/index.ts";
import { checkMap, GENERAL_MIDI, NoteMapError } from "../core/notemap/index.ts";
import { ProblemError } from "./problem-error.ts";
import type { Db } from "./storage/database.ts";

const BUILT_IN: KeptMap = { map: GENERAL_MIDI, isBuiltIn: true, changedAt: "" };

/** The maps on the shelf: General MIDI first, then those of the house by name. */
export function listMaps(db: Db): readonly KeptMap[] {
  const rows = db
    .prepare<[], { map: string; changed_at: string }>("SELECT map, changed_at FROM note_maps WHERE removed_at IS NULL")
    .all();
  const kept = rows.map(({ map, changed_at }): KeptMap => {
    return { map: JSON.parse(map), isBuiltIn: false, changedAt: changed_at };
  });
  return [BUILT_IN, ...kept.sort((a, b) => a.map.name.localeCompare(b.map.name, "en"))];
}

/**
 * Puts a map on the shelf under a new id.
 * @throws ProblemError if the map makes no sense
 */
export function keepMap(db: Db, map: NoteMap): KeptMap {
  const kept = { ...map, id: randomUUID() };
  writeMap(db, kept);
  return { map: kept, isBuiltIn: false, changedAt: new Date().toISOString() };
}

/** @throws ProblemError if the map is not on the shelf or makes no sense */
export function changeMap(db: Db, id: string, map: NoteMap): KeptMap {
  findMap(db, id);
  const kept = { ...map, id };
  writeMap(db, kept);
  return { map: kept, isBuiltIn: false, changedAt: new Date().toISOString() };
}

/** Takes a map off the shelf or puts it back. Patterns that use it have their own copy. */
export function setMapRemoved(db: Db, id: string, isRemoved: boolean): void {
  findMap(db, id);
  const removedAt = isRemoved ? new Date().toISOString() : null;
  db.prepare("UPDATE note_maps SET removed_at = ? WHERE id = ?").run(removedAt, id);
}

function writeMap(db: Db, map: NoteMap): void {
  expectSense(map);
  db.prepare(
    `INSERT INTO note_maps (id, map, changed_at) VALUES (?, ?, ?)
     ON CONFLICT (id) DO UPDATE SET map = excluded.map, changed_at = excluded.changed_at`,
  ).run(map.id, JSON.stringify(map), new Date().toISOString());
}

/** @throws ProblemError with what the core says is wrong with the map */
export function expectSense(map: NoteMap): void {
  try {
    checkMap(map);
  } catch (error) {
    if (!(error instanceof NoteMapError)) throw error;
    const { code, message, remedy } = error;
    throw new ProblemError(422, { code, message, remedy }, { cause: error });
  }
}

function findMap(db: Db, id: string): void {
  if (db.prepare("SELECT 1 FROM note_maps WHERE id = ?").get(id)) return;
  throw noSuchMap();
}

export function noSuchMap(): ProblemError {
  return new ProblemError(404, {
    code: "map.gone",
    message: "This note map is not on the shelf.",
    remedy: "It may have been deleted in another window. Reload to see what is there.",
  });
}
