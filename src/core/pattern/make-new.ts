import { FAMILIES, type Family } from "../document/index.ts";
import { barOf } from "./pattern-index.ts";
import type { Rhythm, RhythmStroke } from "./rhythm.ts";
import { canBePlayed, countsFor, mixed } from "./vary.ts";

export interface NewWish {
  /** How much of it stays: 1 keeps all but one drum, 0 takes every drum from another pattern. */
  readonly likeness: number;
  /** Another number makes another one. */
  readonly seed: number;
}

/** A pattern made of pieces of others. */
export interface MadePattern {
  readonly rhythm: Rhythm;
  /** Which of the others each drum was taken from, by its place among them; the drums that stayed are not in it. */
  readonly takenFrom: ReadonlyMap<Family, number>;
}

/**
 * A new pattern like one there is: some of its drums stay, and the others are played as in patterns that are counted alike. Where two
 * pieces together ask for a third hand, what counts least gives way.
 * @returns null if no other pattern has bars of the same length
 */
export function makeNew(pattern: Rhythm, others: readonly Rhythm[], { likeness, seed }: NewWish): MadePattern | null {
  const lengthOf = ({ bars }: Rhythm) => bars[0]?.lengthQuarters;
  const alike = others.flatMap((other, index) => (lengthOf(other) === lengthOf(pattern) ? [{ other, index }] : []));
  if (alike.length === 0) return null;
  const own = FAMILIES.filter((family) => pattern.strokes.some((stroke) => stroke.family === family));
  // At the least one drum comes from elsewhere, or it would be no new one.
  const first = own[mixed(seed, 1) % Math.max(1, own.length)];
  const takenFrom = new Map<Family, number>();
  const pieces = own.flatMap((family, row): readonly RhythmStroke[] => {
    const stays = family !== first && (mixed(seed, 2, row) % 1000) / 1000 < likeness;
    const donors = alike.filter(({ other }) => other.strokes.some((stroke) => stroke.family === family));
    const donor = donors[mixed(seed, 3, row) % Math.max(1, donors.length)];
    if (stays || !donor) return pattern.strokes.filter((stroke) => stroke.family === family);
    takenFrom.set(family, donor.index);
    return played(donor.other, pattern, family);
  });
  return { rhythm: { bars: pattern.bars, strokes: playable(pieces, pattern) }, takenFrom };
}

/** What a drum plays in a pattern, bar by bar on the bars of another; a shorter one goes round. */
function played({ bars, strokes }: Rhythm, on: Rhythm, family: Family): readonly RhythmStroke[] {
  return on.bars.flatMap(({ startQuarters }, index) => {
    const source = index % bars.length;
    const from = bars[source]!.startQuarters;
    return strokes
      .filter((stroke) => stroke.family === family && barOf(bars, stroke.quarters) === source)
      .map((stroke) => ({ ...stroke, quarters: Math.max(0, stroke.quarters - from + startQuarters) }));
  });
}

/** As many strokes as two hands can play, those that count most first. */
function playable(pieces: readonly RhythmStroke[], { bars }: Rhythm): readonly RhythmStroke[] {
  const whole = { bars, strokes: pieces };
  const kept: RhythmStroke[] = [];
  const byWeight = pieces
    .map((stroke) => ({ stroke, counts: countsFor(stroke, whole) }))
    .sort((a, b) => b.counts - a.counts);
  for (const { stroke } of byWeight) if (canBePlayed(stroke, kept)) kept.push(stroke);
  return kept.sort((a, b) => a.quarters - b.quarters);
}
