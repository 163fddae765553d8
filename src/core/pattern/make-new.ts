import { FAMILIES, type Family } from "../document/index.ts";
import { barOf } from "./pattern-index.ts";
import { endOf, type Rhythm, type RhythmBar, type RhythmStroke } from "./rhythm.ts";
import { canBePlayed, countsFor, mixed, NO_VARIATION, varied } from "./vary.ts";

export const PIECE_SIZES = ["pattern", "bar", "beat"] as const;
/** How much a drum takes over from one place before it is asked again where it goes on. */
export type PieceSize = (typeof PIECE_SIZES)[number];

export interface NewWish {
  /** How much of it stays: 1 keeps all but one piece, 0 takes every piece from another pattern. */
  readonly likeness: number;
  /** Another number makes another one. */
  readonly seed: number;
  readonly size: PieceSize;
  /** Of which of the others a drum is, by its place among them; null for the pattern's own. Left out, it is drawn. */
  readonly drumsOf: Readonly<Partial<Record<Family, number | null>>>;
  /** Whose last bar is its last bar; null for none. */
  readonly lastBarOf: number | null;
  /** How much fuller each drum is, as a share of its strokes; sparser below 0. */
  readonly fuller: number;
}

export const USUAL_NEW: NewWish = {
  likeness: 0.5,
  seed: 1,
  size: "pattern",
  drumsOf: {},
  lastBarOf: null,
  fuller: 0,
};

/** A pattern made of pieces of others. */
export interface MadePattern {
  readonly rhythm: Rhythm;
  /** Which of the others each drum was taken from, by their places among them; drums that stayed are not in it. */
  readonly takenFrom: ReadonlyMap<Family, ReadonlySet<number>>;
}

/** What is so little ahead of a piece is played for it. */
const AHEAD_QUARTERS = 0.12;

/**
 * A new pattern like one there is: some of its drums stay, and the others are played as in patterns that are counted alike, for all of it,
 * bar by bar or beat by beat. Where two pieces together ask for a third hand, what counts least gives way.
 * @returns null if no other pattern has bars of the same length
 */
export function makeNew(pattern: Rhythm, others: readonly Rhythm[], wish: NewWish): MadePattern | null {
  const { likeness, seed, size, drumsOf, lastBarOf, fuller } = wish;
  const lengthOf = ({ bars }: Rhythm) => bars[0]?.lengthQuarters;
  const alike = others.flatMap((other, index) => (lengthOf(other) === lengthOf(pattern) ? [{ other, index }] : []));
  if (alike.length === 0) return null;
  const own = FAMILIES.filter((family) => [pattern, ...alike.map(({ other }) => other)].some(hasDrum(family)));
  const starts = startsOf(pattern.bars, size);
  const isDrawn = own.filter((family) => drumsOf[family] === undefined && hasDrum(family)(pattern));
  // At the least one piece comes from elsewhere, or it would be no new one.
  const [first, firstPiece] = [isDrawn[mixed(seed, 1) % Math.max(1, isDrawn.length)], mixed(seed, 4) % starts.length];
  const takenFrom = new Map<Family, Set<number>>();
  const pieces = own.flatMap((family) =>
    starts.flatMap((_, piece): readonly RhythmStroke[] => {
      const row = FAMILIES.indexOf(family);
      const kept = inPiece(pattern.strokes.filter(isOf(family)), starts, piece);
      const wished = drumsOf[family];
      if (wished === null) return kept;
      const donors = alike.filter(({ other, index }) =>
        wished === undefined ? hasDrum(family)(other) : index === wished,
      );
      const donor = donors[mixed(seed, 3, row, piece) % Math.max(1, donors.length)];
      const isFirst = family === first && piece === firstPiece;
      const stays = !isFirst && (mixed(seed, 2, row, piece) % 1000) / 1000 < likeness;
      // A drum that the pattern does not have comes in only where somebody asked for it.
      if (!donor || (wished === undefined && (stays || !hasDrum(family)(pattern)))) return kept;
      takenFrom.set(family, (takenFrom.get(family) ?? new Set()).add(donor.index));
      return inPiece(played(donor.other, pattern, family), starts, piece);
    }),
  );
  const ending = alike.find(({ index }) => index === lastBarOf)?.other;
  const whole = ending ? withEnding(pieces, pattern, ending) : pieces;
  const made = { bars: pattern.bars, strokes: playable(whole, pattern) };
  return { rhythm: asFull(made, [pattern, ...alike.map(({ other }) => other)], fuller, seed), takenFrom };
}

const isOf = (family: Family) => (stroke: RhythmStroke) => stroke.family === family;
const hasDrum = (family: Family) => (rhythm: Rhythm) => rhythm.strokes.some(isOf(family));

/** Where pieces begin, in quarters. */
function startsOf(bars: readonly RhythmBar[], size: PieceSize): readonly number[] {
  if (size === "pattern") return [0];
  return bars.flatMap(({ startQuarters, beats }) =>
    size === "bar" ? [startQuarters] : beats.map((beat) => startQuarters + beat),
  );
}

function inPiece(strokes: readonly RhythmStroke[], starts: readonly number[], piece: number): readonly RhythmStroke[] {
  return strokes.filter(
    ({ quarters }) =>
      Math.max(
        0,
        starts.findLastIndex((start) => start <= quarters + AHEAD_QUARTERS),
      ) === piece,
  );
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

/** The last bar of another in the place of the pattern's own. */
function withEnding(pieces: readonly RhythmStroke[], { bars }: Rhythm, ending: Rhythm): readonly RhythmStroke[] {
  const last = bars.length - 1;
  const [to, from] = [bars[last]!.startQuarters, ending.bars.at(-1)!.startQuarters];
  const moved = ending.strokes
    .filter(({ quarters }) => barOf(ending.bars, quarters) === ending.bars.length - 1)
    .map((stroke) => ({ ...stroke, quarters: Math.max(0, stroke.quarters - from + to) }));
  return [...pieces.filter(({ quarters }) => barOf(bars, quarters) < last), ...moved];
}

/** As many strokes as two hands can play, those that count most first. */
function playable(pieces: readonly RhythmStroke[], { bars }: Rhythm): readonly RhythmStroke[] {
  const end = endOf(bars);
  const whole = { bars, strokes: pieces };
  const kept: RhythmStroke[] = [];
  const byWeight = pieces
    .filter(({ quarters }) => quarters < end)
    .map((stroke) => ({ stroke, counts: countsFor(stroke, whole) }))
    .sort((a, b) => b.counts - a.counts);
  for (const { stroke } of byWeight) if (canBePlayed(stroke, kept)) kept.push(stroke);
  return kept.sort((a, b) => a.quarters - b.quarters);
}

function asFull(made: Rhythm, elsewhere: readonly Rhythm[], fuller: number, seed: number): Rhythm {
  const strokes = Object.fromEntries(
    FAMILIES.map((family) => [family, Math.round(made.strokes.filter(isOf(family)).length * fuller)]),
  );
  const full = varied(made, elsewhere, { ...NO_VARIATION, strokes, seed });
  return { bars: made.bars, strokes: full.map(({ isAdded: _added, addedAt: _at, ...stroke }) => stroke) };
}
