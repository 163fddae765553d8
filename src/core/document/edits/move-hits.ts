import { id, orNull, record } from "../../json-shape.ts";
import { compareHits } from "../pattern.ts";
import { list, tick } from "../shapes/values.ts";
import { changedBetween, changeHits, expectSame, foldChanges, hitIdsOf } from "./change-hits.ts";
import type { EditKind } from "./edit-kind.ts";

/** Hits go to places that a hand chose. */
export interface MoveHits {
  readonly kind: "moveHits";
  readonly moves: readonly HitMove[];
}

/** Null means not pinned: the lane's treatment places the hit. */
export interface HitMove {
  readonly hitId: string;
  readonly fromTick: number | null;
  readonly toTick: number | null;
}

/** The shape of moves, for every kind that has some. */
export const hitMoves = list(record({ hitId: id, fromTick: orNull(tick), toTick: orNull(tick) }));

export const movesBack = (moves: readonly HitMove[]): readonly HitMove[] =>
  moves.toReversed().map((move) => ({ ...move, fromTick: move.toTick, toTick: move.fromTick }));

export const moveHits: EditKind<MoveHits> = {
  apply(pattern, { moves }) {
    const moved = changeHits(pattern, moves, (hit, { fromTick, toTick }) => {
      expectSame(hit, hit.pinnedTick, fromTick);
      return { ...hit, pinnedTick: toTick };
    });
    // Moves do not touch what recorded hits are sorted by, but hits that were added by hand have nothing else.
    return { ...moved, hits: moved.hits.toSorted(compareHits) };
  },
  invert: ({ kind, moves }) => ({ kind, moves: movesBack(moves) }),
  isEmpty: ({ moves }) => moves.every(({ fromTick, toTick }) => fromTick === toTick),
  touches: ({ moves }) => hitIdsOf(moves),
  merge: (first, second) => ({
    kind: "moveHits",
    moves: foldChanges(
      first.moves,
      second.moves,
      ({ hitId }) => hitId,
      (earlier, later) => ({ ...later, fromTick: earlier.fromTick }),
    ),
  }),
  between: (from, to) => [
    {
      kind: "moveHits",
      moves: changedBetween(from, to, ({ pinnedTick }) => pinnedTick).map((change) => ({
        hitId: change.hitId,
        fromTick: change.from,
        toTick: change.to,
      })),
    },
  ],
  fields: { moves: hitMoves },
};
