import { id, record } from "../../json-shape.ts";
import { type PassMarks, passMarksOf } from "../pattern.ts";
import { passMarks } from "../shapes/pattern-shape.ts";
import { list } from "../shapes/values.ts";
import { isSameValue } from "../stale.ts";
import { changedBetween, changeHits, expectSame, type HitChange, hitIdsOf, turnedRound } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** Hits that were played in come to another pass, or give way to one. Whether they are heard is an edit of its own. */
export interface MarkPasses {
  readonly kind: "markPasses";
  readonly changes: readonly HitChange<PassMarks>[];
}

export const markPasses: EditKind<MarkPasses> = {
  apply: (pattern, { changes }) =>
    changeHits(pattern, changes, (hit, { from, to }) => {
      expectSame(hit, passMarksOf(hit), from);
      const { pass: _pass, replacedBy: _other, ...rest } = hit;
      return { ...rest, ...to };
    }),
  invert: ({ kind, changes }) => ({ kind, changes: turnedRound(changes) }),
  isEmpty: ({ changes }) => changes.every(({ from, to }) => isSameValue(from, to)),
  touches: ({ changes }) => hitIdsOf(changes),
  between: (from, to) => [{ kind: "markPasses", changes: changedBetween(from, to, passMarksOf) }],
  fields: { changes: list(record({ hitId: id, from: passMarks, to: passMarks })) },
};
