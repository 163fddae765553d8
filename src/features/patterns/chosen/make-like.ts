import { FAMILIES, type Family } from "../../../core/document/index.ts";
import { factsOf, makeNew, twinKey } from "../../../core/pattern/index.ts";
import type { ShelfEntry } from "../../../store/patterns/use-pattern-shelf.ts";
import { FAMILY_NAMES } from "../pattern-words.ts";
import { OWN, type PieceWish } from "./NewOne.tsx";

/**
 * A new pattern of pieces of others.
 * @param others those that were chosen as pieces, or all of its style
 * @param number counts those that were made, and makes each another one
 */
export function makeLike(
  entry: ShelfEntry,
  others: readonly ShelfEntry[],
  number: number,
  { likePercent, size, fullerPercent, drumsOf, lastBarId }: PieceWish,
): ShelfEntry | null {
  const placeOf = (id: string) => others.findIndex((other) => other.id === id);
  const wished: Partial<Record<Family, number | null>> = {};
  for (const family of FAMILIES) {
    const id = drumsOf[family];
    if (id === OWN) wished[family] = null;
    else if (id !== undefined && placeOf(id) >= 0) wished[family] = placeOf(id);
  }
  const lastBarOf = lastBarId === null || placeOf(lastBarId) < 0 ? null : placeOf(lastBarId);
  const made = makeNew(
    entry.rhythm,
    others.map(({ rhythm }) => rhythm),
    { likeness: likePercent / 100, seed: number, size, drumsOf: wished, lastBarOf, fuller: fullerPercent / 100 },
  );
  if (!made) return null;
  const nameOf = (index: number) => others[index]?.name ?? "";
  const sources = [...made.takenFrom].map(
    ([family, indexes]) => `${FAMILY_NAMES[family].toLowerCase()} of ${[...indexes].map(nameOf).join(" and ")}`,
  );
  const ending = lastBarOf === null ? [] : [`last bar of ${nameOf(lastBarOf)}`];
  return {
    ...entry,
    id: `made ${number}`,
    played: twinKey(made.rhythm),
    name: `New ${number}`,
    from: [entry.name, ...sources, ...ending].join(", "),
    rhythm: made.rhythm,
    facts: factsOf(made.rhythm),
    twins: 0,
    fileId: null,
  };
}
