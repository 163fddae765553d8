import { compareHits, type Hit, type Pattern } from "../pattern.ts";
import { isSameValue, StaleEditError } from "../stale.ts";

// How edits change hits: by id, and only where each is as it was when the edit was made.

/** A value of one hit before and after. */
export interface HitChange<Value> {
  readonly hitId: string;
  readonly from: Value;
  readonly to: Value;
}

/** @param change the hit after the change; it throws where the hit is not as it was */
export function changeHits<Change extends { readonly hitId: string }>(
  pattern: Pattern,
  changes: readonly Change[],
  change: (hit: Hit, change: Change) => Hit,
): Pattern {
  const hitsById = hitsOf(pattern);
  for (const one of changes) {
    const hit = hitsById.get(one.hitId);
    if (!hit) throw new StaleEditError(`The hit ${one.hitId} is no longer there.`);
    hitsById.set(one.hitId, change(hit, one));
  }
  // A map keeps its order.
  return { ...pattern, hits: [...hitsById.values()] };
}

/** @throws StaleEditError if a value is not as it was */
export function expectSame(hit: Hit, present: unknown, expected: unknown): void {
  if (!isSameValue(present, expected))
    throw new StaleEditError(`The hit ${hit.id} has changed since this edit was made.`);
}

export function withHits(pattern: Pattern, hits: readonly Hit[]): readonly Hit[] {
  const hitsById = hitsOf(pattern);
  for (const hit of hits) {
    if (hitsById.has(hit.id)) throw new StaleEditError(`The hit ${hit.id} is there already.`);
    hitsById.set(hit.id, hit);
  }
  return [...hitsById.values()].sort(compareHits);
}

export function withoutHits(pattern: Pattern, hits: readonly Hit[]): readonly Hit[] {
  const hitsById = hitsOf(pattern);
  for (const hit of hits) {
    const present = hitsById.get(hit.id);
    if (!present || !isSameValue(present, hit)) {
      throw new StaleEditError(`The hit ${hit.id} has changed since this edit was made.`);
    }
    hitsById.delete(hit.id);
  }
  return [...hitsById.values()];
}

/** Reversed, so that what is named twice is taken back in the opposite order. */
export function turnedRound<Change extends { readonly from: Value; readonly to: Value }, Value>(
  changes: readonly Change[],
): readonly Change[] {
  return changes.toReversed().map((change) => ({ ...change, from: change.to, to: change.from }));
}

/** Folds changes of one gesture: of each thing from what it was before the first to what it is after the last. */
export function foldChanges<Change>(
  first: readonly Change[],
  second: readonly Change[],
  keyOf: (change: Change) => string,
  fold: (earlier: Change, later: Change) => Change,
): readonly Change[] {
  const byKey = new Map<string, Change>();
  for (const change of [...first, ...second]) {
    const earlier = byKey.get(keyOf(change));
    byKey.set(keyOf(change), earlier ? fold(earlier, change) : change);
  }
  return [...byKey.values()];
}

/** The hits that two states of a take both have, where they differ in something. */
export function changedBetween<Value>(
  from: Pattern,
  to: Pattern,
  read: (hit: Hit) => Value,
): readonly HitChange<Value>[] {
  const after = new Map(to.hits.map((hit) => [hit.id, hit]));
  return from.hits.flatMap((hit) => {
    const other = after.get(hit.id);
    if (!other || other === hit) return [];
    const change = { hitId: hit.id, from: read(hit), to: read(other) };
    return isSameValue(change.from, change.to) ? [] : [change];
  });
}

/** The hits of one state that another one has not. */
export function hitsWithout(from: Pattern, to: Pattern): readonly Hit[] {
  const present = new Set(to.hits.map(({ id }) => id));
  return from.hits.filter(({ id }) => !present.has(id));
}

function hitsOf({ hits }: Pattern): Map<string, Hit> {
  return new Map(hits.map((hit) => [hit.id, hit]));
}

export const hitIdsOf = (changes: readonly { readonly hitId: string }[]) => ({
  hitIds: changes.map(({ hitId }) => hitId),
  parts: [],
});
