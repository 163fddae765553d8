import type { PatternMark } from "../../core/pattern/index.ts";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";

/** A pattern with what was said of it here: its name is the one that it was given. */
export interface MarkedEntry extends ShelfEntry {
  /** The name that it has from where it was cut. */
  readonly cutName: string;
  readonly tags: readonly string[];
  readonly isFavourite: boolean;
}

const NOTHING_SAID = { name: "", tags: [], isFavourite: false } as const;

export function withMarks(
  entries: readonly ShelfEntry[],
  byPlayed: ReadonlyMap<string, PatternMark>,
): readonly MarkedEntry[] {
  return entries.map((entry) => {
    const { name, tags, isFavourite } = byPlayed.get(entry.played) ?? NOTHING_SAID;
    return { ...entry, cutName: entry.name, name: name || entry.name, tags, isFavourite };
  });
}

/** What is said of a pattern after a change. A name that it has anyway is none of its own. */
export function markOf(
  { played, name, cutName, tags, isFavourite }: MarkedEntry,
  change: Partial<Omit<PatternMark, "played">>,
): PatternMark {
  const mark = { played, name, tags, isFavourite, ...change };
  return { ...mark, name: mark.name === cutName ? "" : mark.name };
}
