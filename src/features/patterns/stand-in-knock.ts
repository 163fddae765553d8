import type { HeardStroke, KnockInput } from "../../store/patterns/knock-input.ts";
import { looselyKnocked } from "../../store/patterns/loosely-knocked.ts";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";

/** A pattern as the stand-in player knocks it: its kick and snare, as loosely as people knock. For trying out. */
export function knockedBy({ rhythm }: ShelfEntry, bpm: number): Parameters<KnockInput["take"]> {
  const struck = rhythm.strokes.filter(({ family }) => family === "kick" || family === "snare");
  const strokes: readonly HeardStroke[] = looselyKnocked(struck, bpm).map(({ family, quarters, velocity }) => ({
    family,
    quarters,
    velocity,
  }));
  const barQuarters = rhythm.bars[0]?.lengthQuarters ?? 4;
  return [strokes, { bars: rhythm.bars.length, barQuarters, bpm, hasClick: true }];
}
