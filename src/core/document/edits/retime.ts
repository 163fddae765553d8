import { orNull, record } from "../../json-shape.ts";
import { compareHits, type Pattern } from "../pattern.ts";
import { meters, tempos, timeline as timelineShape } from "../shapes/pattern-shape.ts";
import { tick } from "../shapes/values.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import { hitsOnTimeline, type Timeline } from "../timeline.ts";
import { expectSame } from "./change-hits.ts";
import type { FileTimes } from "./change-messages.ts";
import type { EditKind } from "./edit-kind.ts";
import { type HitMove, hitMoves, movesBack } from "./move-hits.ts";

/** A take goes from one time to another. Hits follow the timeline; what a hand has pinned goes along as its moves say. */
export interface Retime {
  readonly kind: "retime";
  readonly from: TimeFrame;
  readonly to: TimeFrame;
  readonly moves: readonly HitMove[];
}

/** What says when things are: where the file is in the pattern, and how the pattern is counted. */
export interface TimeFrame extends FileTimes {
  /** Null for the time of the file. */
  readonly timeline: Timeline | null;
  readonly lengthTicks: number;
}

/** The time of a pattern, as an edit takes it from one to another. */
export function frameOf({ timeline, meters, tempos, lengthTicks }: Pattern): TimeFrame {
  return { timeline: timeline ?? null, meters, tempos, lengthTicks };
}

const frame = record({ timeline: orNull(timelineShape), meters, tempos, lengthTicks: tick });

export const retime: EditKind<Retime> = {
  apply(pattern, { from, to, moves }) {
    if (!isSameValue(frameOf(pattern), from)) {
      throw new StaleEditError("The tempo has changed since this edit was made.");
    }
    const { timeline: _, ...rest } = pattern;
    const { timeline, ...times } = to;
    const timed = { ...rest, ...times, ...(timeline ? { timeline } : {}) };
    const pins = new Map(moves.map((move) => [move.hitId, move]));
    const hits = hitsOnTimeline(pattern.hits, timed).map((hit) => {
      const move = pins.get(hit.id);
      if (!move) return hit;
      expectSame(hit, hit.pinnedTick, move.fromTick);
      return { ...hit, pinnedTick: move.toTick };
    });
    return { ...timed, hits: hits.sort(compareHits) };
  },
  invert: ({ kind, from, to, moves }) => ({ kind, from: to, to: from, moves: movesBack(moves) }),
  isEmpty: ({ from, to, moves }) => isSameValue(from, to) && moves.every(({ fromTick, toTick }) => fromTick === toTick),
  touches: () => ({ hitIds: [], areAllMoved: true, parts: ["timeline", "meters", "tempos", "lengthTicks"] }),
  // Hits that a hand has pinned follow with those that were moved.
  between: (from, to) => [{ kind: "retime", from: frameOf(from), to: frameOf(to), moves: [] }],
  fields: { from: frame, to: frame, moves: hitMoves },
};
