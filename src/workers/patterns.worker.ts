import { expose } from "comlink";
import { type PackedPattern, type Pattern, unpackPattern } from "../core/document/index.ts";
import { importUnplanned } from "../core/file/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import {
  cutRhythm,
  type FoundPattern,
  factsOf,
  findPatterns,
  type IndexedRhythm,
  indexRhythm,
  type Knock,
  kindOf,
  type PatternFacts,
  type PatternKind,
  type Rhythm,
  rhythmOf,
  twinKey,
} from "../core/pattern/index.ts";
import { MidiFileError } from "../core/smf/index.ts";
import { rhythmsOfTake } from "../core/song/index.ts";
import { bpmAt, buildTempoMap } from "../core/time/index.ts";
import { bytesOfPattern, shelfPatterns } from "../standin/shelf-patterns.ts";

/** A pattern on the shelf. */
export interface ShelfEntry {
  readonly id: string;
  /** What it plays, as `twinKey` has it. */
  readonly played: string;
  readonly name: string;
  /** What it was cut from, in words. */
  readonly from: string;
  readonly kind: PatternKind;
  /** Patterns of one style lend each other strokes. */
  readonly style: string;
  readonly words: readonly string[];
  readonly bpm: number;
  readonly facts: PatternFacts;
  readonly rhythm: Rhythm;
  /** The file that it came in with, if it is of no take. */
  readonly fileId: string | null;
  /** How many others are the same up to how they are played. */
  readonly twins: number;
}

const BARS_OF_CUT = 2;
/** A file is one pattern up to so many bars; longer ones are cut. */
const LONGEST_WHOLE = 8;
const BARS_OF_FILE = 4;

/** What a file is known by, or why it has no patterns. */
export type FileReading = { readonly id: string } | { readonly fault: string };

/** Files that were read and are not on the shelf yet, by what they are known by. */
const files = new Map<string, { readonly path: string; readonly take: Pattern }>();

async function hashOf(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const hash = new Uint8Array(await crypto.subtle.digest("SHA-256", bytes));
  return Array.from(hash, (byte) => byte.toString(16).padStart(2, "0")).join("");
}

/** A pattern before it is known what there is to say of it. */
type Found = Omit<ShelfEntry, "facts" | "twins">;

let indexed: IndexedRhythm[] = [];
/** By what they play: which one is on the shelf, and those that are the same and were found later, elsewhere. */
const byPlayed = new Map<string, { readonly shown: Found; readonly folded: Found[] }>();
/** What was taken off the shelf, by file. */
const takenOff = new Map<string, readonly Found[]>();

/** Takes patterns onto the shelf, twins folded into the first of them. */
function shelve(found: readonly Found[]): readonly ShelfEntry[] {
  const entries = new Map<string, ShelfEntry>();
  for (const one of found) {
    if (one.rhythm.strokes.length === 0) continue;
    const key = one.played;
    const [own, known] = [entries.get(key), byPlayed.get(key)];
    if (own) entries.set(key, { ...own, twins: own.twins + 1 });
    else if (known) known.folded.push(one);
    else {
      entries.set(key, { ...one, facts: factsOf(one.rhythm), twins: 0 });
      byPlayed.set(key, { shown: one, folded: [] });
      indexed.push(indexRhythm(one.id, one.rhythm));
    }
  }
  return [...entries.values()];
}

/** Takes the patterns of a file off the shelf. @returns those that come in their place, since they are the same and are elsewhere */
function unshelve(fileId: string): readonly ShelfEntry[] {
  const gone: Found[] = [];
  const instead: Found[] = [];
  for (const [key, { shown, folded }] of byPlayed) {
    const left = folded.filter((one) => one.fileId !== fileId);
    gone.push(...folded.filter((one) => one.fileId === fileId));
    if (shown.fileId !== fileId) {
      byPlayed.set(key, { shown, folded: left });
      continue;
    }
    gone.push(shown);
    byPlayed.delete(key);
    instead.push(...left);
  }
  const ids = new Set(gone.map(({ id }) => id));
  indexed = indexed.filter(({ id }) => !ids.has(id));
  takenOff.set(fileId, gone);
  return shelve(instead);
}

/** Some bars of a take that are a pattern. */
interface Stretch {
  readonly name: string;
  readonly from: string;
  readonly first: number;
  /** Not included. */
  readonly end: number;
}

/** Takes stretches of a take or file onto the shelf. @param id of it, which each of its patterns begins with */
function shelveStretches(
  take: Pattern,
  whole: Rhythm,
  id: string,
  about: Pick<ShelfEntry, "style" | "fileId">,
  stretches: readonly Stretch[],
): readonly ShelfEntry[] {
  const bpm = bpmOf(take);
  return shelve(
    stretches.map(({ name, from, first, end }) => {
      const rhythm = cutRhythm(whole, first, end);
      const played = twinKey(rhythm);
      return {
        ...about,
        id: `${id} ${first}-${end}`,
        played,
        name,
        from,
        kind: kindOf(rhythm),
        words: [],
        bpm,
        rhythm,
      };
    }),
  );
}

/** At the first bar, to a tenth. */
const bpmOf = ({ ppq, tempos }: Pattern) => Math.round(bpmAt(buildTempoMap(ppq, tempos), 0) * 10) / 10;

/** Where bars begin that are cut every few. */
const everyFew = (count: number, step: number) =>
  Array.from({ length: Math.ceil(count / step) }, (_, index) => ({
    first: index * step,
    end: Math.min(count, (index + 1) * step),
  }));

const patterns = {
  /** The patterns that the stand-in drummer has ready. */
  standIn(): readonly ShelfEntry[] {
    return shelve(
      shelfPatterns().map((pattern) => {
        const { pattern: take } = importUnplanned(bytesOfPattern(pattern), GENERAL_MIDI);
        const { id, name, kind, style, words, part } = pattern;
        const rhythm = rhythmOf(take);
        return {
          id,
          played: twinKey(rhythm),
          name,
          kind,
          style,
          words,
          bpm: part.bpm,
          from: "the stand-in drummer",
          rhythm,
          fileId: null,
        };
      }),
    );
  },

  /** The patterns of a take as they go out: those of its song, or two bars each where it was never cut. */
  cut(takeId: string, takeName: string, packed: PackedPattern): readonly ShelfEntry[] {
    const take = unpackPattern(packed);
    return shelve(
      rhythmsOfTake(take, BARS_OF_CUT).map(({ name, rhythm, played, bars }, index) => {
        const isInRow = bars.every((bar, at) => bar === bars[0]! + at);
        const words = isInRow ? `${bars[0]! + 1}–${bars.at(-1)! + 1}` : bars.map((bar) => bar + 1).join();
        return {
          id: `${takeId} ${index}`,
          played,
          name: name || `${takeName}, ${words}`,
          from: `${takeName}, bars ${words}`,
          kind: kindOf(rhythm),
          style: takeId,
          words: [],
          bpm: bpmOf(take),
          rhythm,
          fileId: null,
        };
      }),
    );
  },

  /**
   * The patterns of a take that is kept elsewhere.
   * @param bytes the server's answer with it
   * @returns why it cannot be cut, in words, where it cannot
   */
  cutAnswer(takeId: string, takeName: string, bytes: ArrayBuffer): readonly ShelfEntry[] | { readonly fault: string } {
    let answer: unknown;
    try {
      answer = JSON.parse(new TextDecoder().decode(bytes));
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error;
      return { fault: "The application does not answer." };
    }
    const { value, problem } = answer as {
      readonly value?: { readonly pattern: PackedPattern };
      readonly problem?: { readonly message: string };
    };
    return value ? patterns.cut(takeId, takeName, value.pattern) : { fault: problem?.message ?? "It cannot be read." };
  },

  /**
   * Reads a file that is to go onto the shelf, and keeps it until `shelveFile` asks for it.
   * @param path where it lay: what it is called, and which others are of its style
   */
  async readFile(path: string, bytes: Uint8Array<ArrayBuffer>): Promise<FileReading> {
    try {
      const { pattern } = importUnplanned(bytes, GENERAL_MIDI);
      if (pattern.hits.length === 0) return { fault: "no drum part was found" };
      const id = await hashOf(bytes);
      files.set(id, { path, take: pattern });
      return { id };
    } catch (error) {
      if (!(error instanceof MidiFileError)) throw error;
      return { fault: error.message };
    }
  },

  /** The patterns of a file that was read. */
  shelveFile(id: string): readonly ShelfEntry[] {
    const file = files.get(id);
    files.delete(id);
    takenOff.delete(id);
    if (!file) return [];
    const { path, take } = file;
    const whole = rhythmOf(take);
    const name = path.replace(/^.*\//, "").replace(/\.[^.]*$/, "");
    const style = `files ${path.replace(/[^/]*$/, "")}`;
    const count = whole.bars.length;
    const stretches =
      count <= LONGEST_WHOLE
        ? [{ name, from: path, first: 0, end: count }]
        : everyFew(count, BARS_OF_FILE).map(({ first, end }) => {
            const bars = `${first + 1}–${end}`;
            return { name: `${name}, ${bars}`, from: `${path}, bars ${bars}`, first, end };
          });
    return shelveStretches(take, whole, id, { style, fileId: id }, stretches);
  },

  /** Takes a file off the shelf. @returns what is listed in the place of its patterns */
  takeOff: unshelve,

  /** Puts the patterns of a file back that was taken off. */
  putBack(fileId: string): readonly ShelfEntry[] {
    const found = takenOff.get(fileId) ?? [];
    takenOff.delete(fileId);
    return shelve(found);
  },

  /** Takes a pattern that was made here among those that a knock finds. */
  add(id: string, rhythm: Rhythm): void {
    indexed.push(indexRhythm(id, rhythm));
  },

  /** What is most like a knock, best first. */
  find(knock: Knock, most: number): readonly FoundPattern[] {
    return findPatterns(indexed, knock, most);
  },
};

export type Patterns = typeof patterns;

expose(patterns);
