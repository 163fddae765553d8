import { id, orNull, record } from "../../json-shape.ts";
import { list, tick } from "../shapes/values.ts";
import { changedBetween, changeHits, expectSame, type HitChange, hitIdsOf, turnedRound } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** Notes go out as long as a hand made them. Null is the length that the note has in the file. */
export interface SetLengths {
  readonly kind: "setLengths";
  readonly changes: readonly HitChange<number | null>[];
}

export const setLengths: EditKind<SetLengths> = {
  apply: (pattern, { changes }) =>
    changeHits(pattern, changes, (hit, { from, to }) => {
      expectSame(hit, hit.lengthTicks ?? null, from);
      const { lengthTicks: _, ...rest } = hit;
      return to === null ? rest : { ...rest, lengthTicks: to };
    }),
  invert: ({ kind, changes }) => ({ kind, changes: turnedRound(changes) }),
  isEmpty: ({ changes }) => changes.every(({ from, to }) => from === to),
  touches: ({ changes }) => hitIdsOf(changes),
  between: (from, to) => [
    { kind: "setLengths", changes: changedBetween(from, to, ({ lengthTicks = null }) => lengthTicks) },
  ],
  fields: { changes: list(record({ hitId: id, from: orNull(tick), to: orNull(tick) })) },
};
