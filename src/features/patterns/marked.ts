import { isSameValue } from "../../core/document/index.ts";
import { NO_VARIATION, type PatternMark, type Variation } from "../../core/pattern/index.ts";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";

/** A pattern with what was said of it here: its name is the one that it was given. */
export interface MarkedEntry extends ShelfEntry {
  /** The name that it has from where it was cut. */
  readonly cutName: string;
  readonly tags: readonly string[];
  readonly isFavourite: boolean;
  readonly variation: Variation;
}

const NOTHING_SAID: Omit<PatternMark, "played"> = { name: "", tags: [], isFavourite: false };

export function withMarks(
  entries: readonly ShelfEntry[],
  byPlayed: ReadonlyMap<string, PatternMark>,
): readonly MarkedEntry[] {
  return entries.map((entry) => {
    const { name, tags, isFavourite, variation = NO_VARIATION } = byPlayed.get(entry.played) ?? NOTHING_SAID;
    return { ...entry, cutName: entry.name, name: name || entry.name, tags, isFavourite, variation };
  });
}

/** What is said of a pattern after a change. A name that it has anyway is none of its own. */
export function markOf(
  { played, cutName, ...entry }: MarkedEntry,
  change: Partial<Pick<MarkedEntry, "name" | "tags" | "isFavourite" | "variation">>,
): PatternMark {
  const { name, tags, isFavourite, variation } = { ...entry, ...change };
  return {
    played,
    name: name === cutName ? "" : name,
    tags,
    isFavourite,
    ...(isSameValue(variation, NO_VARIATION) ? {} : { variation }),
  };
}
