import { createHash } from "node:crypto";
import { strFromU8, unzipSync } from "fflate";
import type { ShapeTest } from "../../api/ajv.ts";
import {
  ARCHIVE_VERSION,
  isArchiveHead,
  isPortableProject,
  type PortableProject,
  type PortableShelf,
  SHELF_CHECKS,
} from "../../api/archive-schemas.ts";
import { problemOf } from "../../api/schemas.ts";
import type { Problem } from "../../api/wire.ts";
import { compareHits, invertEdit, type Pattern, packHits, tryEdit } from "../../core/document/index.ts";
import { readMidiFile } from "../../core/smf/index.ts";
import { recordOf } from "../midi-task.ts";
import type { PatternRecord } from "../patterns.ts";

/** A project of an archive, checked, with its large parts as text. */
export interface ReadProject extends Omit<PortableProject, "pattern" | "recordedHits" | "version"> {
  readonly record: PatternRecord;
  readonly take: Uint8Array;
}

export interface ReadArchive {
  readonly projects: readonly ReadProject[];
  readonly shelf: PortableShelf;
}

/** What of an archive is read, in bytes as they are when unpacked. */
const MOST_UNPACKED = 1024 * 1024 * 1024;
const MOST_FILES = 25_000;
/** How much is spent on looking whether edits lead back, in hits times edits. */
const MOST_STEPS = 50_000_000;

/** Thrown with what is wrong with an archive. */
export class ArchiveError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}

function refuse(message: string, where?: string): ArchiveError {
  return new ArchiveError({
    code: "archive.unreadable",
    message,
    ...(where ? { where } : {}),
    remedy: "Nothing was brought in. Export it again from where it was made.",
  });
}

/**
 * Reads an archive that nobody vouches for: sizes are limited before anything is unpacked, all of it has the form that is documented,
 * takes are MIDI files, and edits lead back from what each project is.
 * @throws ArchiveError with what is wrong and in which file; then nothing of it is used
 */
export function readArchive(bytes: Uint8Array): ReadArchive {
  const files = unpack(bytes);
  const json = <Value>(name: string, check: ShapeTest<Value>, text: Uint8Array): Value => {
    let value: unknown;
    try {
      value = JSON.parse(strFromU8(text));
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error;
      throw refuse("A file of this archive is no JSON.", name);
    }
    if (check(value)) return value;
    const { message, where } = problemOf(check);
    throw refuse(message.replace("The request", "A file of this archive"), `${name} ${where}`);
  };
  const headText = files["archive.json"];
  if (!headText) throw refuse("This is no archive of Idle Marten: it has no archive.json.");
  const head = json("archive.json", isArchiveHead, headText);
  if (head.version > ARCHIVE_VERSION) {
    throw refuse(
      `This archive was made by a newer version (${head.madeBy}, form ${head.version}); this one reads form ${ARCHIVE_VERSION}.`,
    );
  }
  for (const [name, content] of Object.entries(files)) {
    if (name !== "archive.json" && createHash("sha256").update(content).digest("hex") !== head.sha256[name]) {
      throw refuse("A file of this archive is not the one that was put into it: it was harmed on its way.", name);
    }
  }
  const projects = head.projects.map(({ folder }): ReadProject => {
    const text = files[`${folder}/project.json`];
    const take = files[`${folder}/take.mid`];
    if (!text || !take) throw refuse("A project of this archive lacks a file.", folder);
    return readProject(json(`${folder}/project.json`, isPortableProject, text), take, folder);
  });
  const sorts = Object.keys(SHELF_CHECKS) as (keyof PortableShelf)[];
  const shelf = Object.fromEntries(
    sorts.map((sort) => {
      const text = files[`shelf/${sort}.json`];
      return [sort, text ? json(`shelf/${sort}.json`, SHELF_CHECKS[sort] as ShapeTest<unknown>, text) : []];
    }),
  ) as unknown as PortableShelf;
  return { projects, shelf };
}

function unpack(bytes: Uint8Array): Record<string, Uint8Array> {
  let unpacked = 0;
  let count = 0;
  try {
    return unzipSync(bytes, {
      // Asked of each before it is unpacked; what is longer than it says does not fit in the room that is made for it.
      filter: ({ originalSize }) => {
        unpacked += originalSize;
        if (++count > MOST_FILES)
          throw refuse(`This archive holds more than ${MOST_FILES.toLocaleString("en")} files.`);
        if (unpacked > MOST_UNPACKED) throw refuse("This archive is larger than 1 GiB when it is unpacked.");
        return true;
      },
    });
  } catch (error) {
    if (error instanceof ArchiveError) throw error;
    throw refuse(`This file cannot be unpacked: ${error instanceof Error ? error.message : String(error)}.`);
  }
}

function readProject(project: PortableProject, take: Uint8Array, folder: string): ReadProject {
  const { pattern: rest, recordedHits, version: _, ...about } = project;
  readMidiFile(take);
  if (about.revision !== about.edits.length) throw refuse("A project of this archive lacks some of its edits.", folder);
  const hitsById = new Map(recordedHits.map((hit) => [hit.id, hit]));
  for (const { hitId, hit } of about.changedHits) {
    if (hit) hitsById.set(hitId, hit);
    else hitsById.delete(hitId);
  }
  const pattern: Pattern = { ...rest, hits: [...hitsById.values()].sort(compareHits) };
  expectEditsLeadBack(pattern, about.edits, folder);
  const record = { ...recordOf(pattern), recordedHits: JSON.stringify(packHits(recordedHits)) };
  return { ...about, record, take };
}

/** Undo must work: the last edits can be taken back, as many as a look at them is worth. */
function expectEditsLeadBack(pattern: Pattern, edits: PortableProject["edits"], folder: string): void {
  let at: Pattern | null = pattern;
  let steps = 0;
  for (const { edit, label } of edits.toReversed()) {
    steps += at.hits.length + 100;
    if (steps > MOST_STEPS) return;
    at = tryEdit(at, invertEdit(edit));
    if (!at) throw refuse(`An edit of this project does not fit what it has become: “${label}”.`, folder);
  }
}
