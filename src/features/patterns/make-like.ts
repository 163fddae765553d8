import { factsOf, makeNew, twinKey } from "../../core/pattern/index.ts";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";
import { FAMILY_NAMES } from "./pattern-words.ts";

/** How much of a pattern a new one keeps. */
const KEPT_SHARE = 0.5;

/** A new pattern of pieces of others of its style. @param number counts those that were made, and makes each another one */
export function makeLike(entry: ShelfEntry, others: readonly ShelfEntry[], number: number): ShelfEntry | null {
  const rhythms = others.map(({ rhythm }) => rhythm);
  const made = makeNew(entry.rhythm, rhythms, { likeness: KEPT_SHARE, seed: number });
  if (!made) return null;
  const sources = [...made.takenFrom].map(
    ([family, index]) => `${FAMILY_NAMES[family].toLowerCase()} of ${others[index]?.name}`,
  );
  return {
    ...entry,
    id: `made ${number}`,
    played: twinKey(made.rhythm),
    name: `New ${number}`,
    from: [entry.name, ...sources].join(", "),
    rhythm: made.rhythm,
    facts: factsOf(made.rhythm),
    twins: 0,
    fileId: null,
  };
}
