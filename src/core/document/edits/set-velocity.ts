import { id, orNull, record } from "../../json-shape.ts";
import { list, velocity } from "../shapes/values.ts";
import { changedBetween, changeHits, expectSame, foldChanges, hitIdsOf } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** Hits are as loud as a hand made them. */
export interface SetVelocity {
  readonly kind: "setVelocity";
  readonly changes: readonly VelocityChange[];
}

/** Null means not pinned: the lane's treatment says how loud the hit is. */
export interface VelocityChange {
  readonly hitId: string;
  readonly fromVelocity: number | null;
  readonly toVelocity: number | null;
}

export const setVelocity: EditKind<SetVelocity> = {
  apply: (pattern, { changes }) =>
    changeHits(pattern, changes, (hit, { fromVelocity, toVelocity }) => {
      expectSame(hit, hit.pinnedVelocity, fromVelocity);
      return { ...hit, pinnedVelocity: toVelocity };
    }),
  invert: ({ kind, changes }) => ({
    kind,
    changes: changes
      .toReversed()
      .map((change) => ({ ...change, fromVelocity: change.toVelocity, toVelocity: change.fromVelocity })),
  }),
  isEmpty: ({ changes }) => changes.every(({ fromVelocity, toVelocity }) => fromVelocity === toVelocity),
  touches: ({ changes }) => hitIdsOf(changes),
  merge: (first, second) => ({
    kind: "setVelocity",
    changes: foldChanges(
      first.changes,
      second.changes,
      ({ hitId }) => hitId,
      (earlier, later) => ({ ...later, fromVelocity: earlier.fromVelocity }),
    ),
  }),
  between: (from, to) => [
    {
      kind: "setVelocity",
      changes: changedBetween(from, to, ({ pinnedVelocity }) => pinnedVelocity).map((change) => ({
        hitId: change.hitId,
        fromVelocity: change.from,
        toVelocity: change.to,
      })),
    },
  ],
  fields: {
    changes: list(record({ hitId: id, fromVelocity: orNull(velocity), toVelocity: orNull(velocity) })),
  },
};
