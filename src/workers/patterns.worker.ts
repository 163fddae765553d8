import { expose } from "comlink";
import type { Pattern } from "../core/document/index.ts";
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
  /** How many others are the same up to how they are played. */
  readonly twins: number;
}

const BARS_OF_CUT = 2;
const indexed: IndexedRhythm[] = [];
const keys = new Set<string>();

/** Takes patterns onto the shelf, twins folded into the first of them. */
function shelve(found: readonly Omit<ShelfEntry, "facts" | "twins" | "played">[]): readonly ShelfEntry[] {
  const entries = new Map<string, ShelfEntry>();
  for (const one of found) {
    if (one.rhythm.strokes.length === 0) continue;
    const key = twinKey(one.rhythm);
    const known = entries.get(key);
    if (known) entries.set(key, { ...known, twins: known.twins + 1 });
    else if (!keys.has(key)) {
      entries.set(key, { ...one, played: key, facts: factsOf(one.rhythm), twins: 0 });
      keys.add(key);
      indexed.push(indexRhythm(one.id, one.rhythm));
    }
  }
  return [...entries.values()];
}

const patterns = {
  /** The patterns that the stand-in drummer has ready. */
  standIn(): readonly ShelfEntry[] {
    return shelve(
      shelfPatterns().map((pattern) => {
        const { pattern: take } = importUnplanned(bytesOfPattern(pattern), GENERAL_MIDI);
        const { id, name, kind, style, words, part } = pattern;
        return { id, name, kind, style, words, bpm: part.bpm, from: "the stand-in drummer", rhythm: rhythmOf(take) };
      }),
    );
  },

  /** The patterns of a take: those of its song, or two bars each where it was never cut. */
  cut(takeId: string, takeName: string, take: Pattern): readonly ShelfEntry[] {
    const whole = rhythmOf(take);
    const bpm = Math.round(bpmAt(buildTempoMap(take.ppq, take.tempos), 0) * 10) / 10;
    const barCount = whole.bars.length;
    const stretches =
      take.arrangement?.patterns.flatMap(({ name, bars }) => {
        const first = bars[0];
        const isOneStretch = bars.every((bar, index) => bar !== null && first != null && bar === first + index);
        return isOneStretch && first != null ? [{ name, first, end: first + bars.length }] : [];
      }) ??
      Array.from({ length: Math.ceil(barCount / BARS_OF_CUT) }, (_, index) => {
        const first = index * BARS_OF_CUT;
        const end = Math.min(barCount, first + BARS_OF_CUT);
        return { name: `${takeName}, ${first + 1}–${end}`, first, end };
      });
    return shelve(
      stretches.map(({ name, first, end }) => {
        const rhythm = cutRhythm(whole, first, end);
        const from = `${takeName}, bars ${first + 1}–${end}`;
        const id = `${takeId} ${first}-${end}`;
        return { id, name, from, kind: kindOf(rhythm), style: takeId, words: [], bpm, rhythm };
      }),
    );
  },

  /** What is most like a knock, best first. */
  find(knock: Knock, most: number): readonly FoundPattern[] {
    return findPatterns(indexed, knock, most);
  },
};

export type Patterns = typeof patterns;

expose(patterns);
