import type { Retiming, TimeFrame } from "./edit-kinds.ts";
import { compareHits, type Pattern } from "./pattern.ts";
import { isSameValue, StaleEditError } from "./stale.ts";
import { hitsOnTimeline } from "./timeline.ts";

/** The time of a pattern, as an edit takes it from one to another. */
export function frameOf({ timeline, meters, tempos, lengthTicks }: Pattern): TimeFrame {
  return { timeline: timeline ?? null, meters, tempos, lengthTicks };
}

/** Puts a pattern on another time. @throws StaleEditError if it is not on the time that the edit was made on */
export function applyRetiming(pattern: Pattern, { from, to, moves }: Retiming): Pattern {
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
    if (move.fromTick !== hit.pinnedTick)
      throw new StaleEditError(`The hit ${hit.id} has changed since this edit was made.`);
    return { ...hit, pinnedTick: move.toTick };
  });
  return { ...timed, hits: hits.sort(compareHits) };
}
