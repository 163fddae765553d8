import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { isUnnamedVoice, type Pattern } from "../core/document/index.ts";
import { importUnplanned } from "../core/file/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import {
  type FoundPattern,
  faultOfKnock,
  findPatterns,
  type IndexedRhythm,
  indexRhythm,
  knockOf,
  rhythmOf,
} from "../core/pattern/index.ts";
import { MidiFileError } from "../core/smf/index.ts";
import { bpmAt, buildTempoMap } from "../core/time/index.ts";
import { bytesOfPattern, shelfPatterns } from "../standin/shelf-patterns.ts";
import { UsageError } from "./usage.ts";

export interface FindSettings {
  /** Whose files are looked through; null for the shelf of patterns. */
  readonly folder: string | null;
  readonly most: number;
}

/** Where bars are that are like a knock. */
interface Finding extends Omit<FoundPattern, "id"> {
  /** The file, or the name of the shelf's pattern. Its first bar is counted from 1, as players count. */
  readonly path: string;
}

export interface Findings {
  readonly results: readonly Finding[];
  /** Files that could not be read, and why. */
  readonly unreadable: readonly { readonly path: string; readonly problem: string }[];
}

/**
 * Finds what is like a knock.
 * @throws UsageError if nothing was knocked, or there is no such folder; MidiFileError if the knock cannot be read
 */
export function findLike(bytes: Uint8Array, { folder, most }: FindSettings): Findings {
  const { pattern } = importUnplanned(bytes, GENERAL_MIDI);
  const knock = knockOf(
    rhythmOf(asDrums(pattern)),
    bpmAt(buildTempoMap(pattern.ppq, pattern.tempos), 0),
    pattern.tempos.length > 0,
  );
  const fault = faultOfKnock(knock);
  if (fault) throw new UsageError(fault);
  const { indexed, unreadable } = folder === null ? indexShelf() : indexFolder(folder);
  return { results: findPatterns(indexed, knock, most).map(resultOf), unreadable };
}

function resultOf({ id, firstBar, likeness, ...rest }: FoundPattern): Finding {
  return { path: id, ...rest, firstBar: firstBar + 1, likeness: Math.round(likeness * 1000) / 1000 };
}

/** A knock on something that is no kit: its lowest note is the kick, and what is above it the snare. */
function asDrums(pattern: Pattern): Pattern {
  if (!pattern.hits.every(({ voiceId }) => isUnnamedVoice(voiceId))) return pattern;
  const lowest = pattern.hits.reduce((least, { note }) => Math.min(least, note), 127);
  return {
    ...pattern,
    hits: pattern.hits.map((hit) => ({ ...hit, voiceId: hit.note === lowest ? "kick" : "snare" })),
  };
}

interface Indexed {
  readonly indexed: readonly IndexedRhythm[];
  readonly unreadable: readonly { readonly path: string; readonly problem: string }[];
}

function indexShelf(): Indexed {
  const indexed = shelfPatterns().map((pattern) => indexOf(pattern.id, bytesOfPattern(pattern)));
  return { indexed, unreadable: [] };
}

function indexFolder(folder: string): Indexed {
  const indexed: IndexedRhythm[] = [];
  const unreadable: { path: string; problem: string }[] = [];
  for (const name of filesOf(folder)) {
    const path = join(folder, name);
    try {
      indexed.push(indexOf(path, new Uint8Array(readFileSync(path))));
    } catch (error) {
      if (!(error instanceof MidiFileError)) throw error;
      unreadable.push({ path, problem: `${error.message} ${error.remedy}` });
    }
  }
  return { indexed, unreadable };
}

function filesOf(folder: string): readonly string[] {
  try {
    return readdirSync(folder, { recursive: true, encoding: "utf8" })
      .filter((name) => /\.midi?$/i.test(name))
      .toSorted();
  } catch (error) {
    throw new UsageError(`The folder ${folder} cannot be read. Check its path.`, { cause: error });
  }
}

/** Bars that were cut by a click: where each stroke was played is near enough. */
function indexOf(id: string, bytes: Uint8Array): IndexedRhythm {
  return indexRhythm(id, rhythmOf(importUnplanned(bytes, GENERAL_MIDI).pattern));
}
