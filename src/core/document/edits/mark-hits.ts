import { id, record } from "../../json-shape.ts";
import { type HitMarks, marksOf, withMarks } from "../pattern.ts";
import { hitMarks } from "../shapes/pattern-shape.ts";
import { list } from "../shapes/values.ts";
import { isSameValue } from "../stale.ts";
import { changedBetween, changeHits, expectSame, type HitChange, hitIdsOf, turnedRound } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** A hand says what hits are: their role, how much of the swing they follow, and when they are played. */
export interface MarkHits {
  readonly kind: "markHits";
  readonly changes: readonly HitChange<HitMarks>[];
}

export const markHits: EditKind<MarkHits> = {
  apply: (pattern, { changes }) =>
    changeHits(pattern, changes, (hit, { from, to }) => {
      expectSame(hit, marksOf(hit), from);
      return withMarks(hit, to);
    }),
  invert: ({ kind, changes }) => ({ kind, changes: turnedRound(changes) }),
  isEmpty: ({ changes }) => changes.every(({ from, to }) => isSameValue(from, to)),
  touches: ({ changes }) => hitIdsOf(changes),
  between: (from, to) => [{ kind: "markHits", changes: changedBetween(from, to, marksOf) }],
  fields: { changes: list(record({ hitId: id, from: hitMarks, to: hitMarks })) },
};
