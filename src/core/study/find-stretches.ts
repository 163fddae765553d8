import { GRID_CHOICES, type Grid, type GridStretch, isSameGrid, type TimeMaps } from "../time/index.ts";
import { isWithin } from "./bar-slots.ts";
import {
  bestStretches,
  FEWEST_TELLING_HITS,
  type FoundStretches,
  isPlayable,
  isUnusual,
  RECURRING_PRICE,
  UNUSUAL_PRICE,
  type Unit,
} from "./best-stretches.ts";
import type { GridModel } from "./grid-model.ts";
import type { Onsets } from "./onsets.ts";
import { pulsesOf, type VoiceOnGrid, voiceOnGrid } from "./voice-on-grid.ts";

/** What another grid must explain better before a stretch of it is believed, as a logarithm of likelihoods. */
const STRETCH_PRICE = 7;
/** What it costs where another voice has such a stretch already: players fill together. */
export const SHARED_PRICE = 2;
/** … and where it hardly speaks against a fill of all, and has a hit in it that would be elsewhere: it is likelier than not to join. */
export const JOINT_PRICE = -3;
/** A stray hit can gain about this much by another grid. */
const MOST_GAIN = 9;

/** A grid beside which more of the hits lie than this is none with exceptions. */
const MOST_FAR = 0.6;

/** What stretches could gain at the most, so that hopeless models need not be tried with them; of some nothing is expected at all. */
export function mostGain(model: GridModel, onsets: Onsets, maps: TimeMaps): number {
  const { farCount } = voiceOnGrid(model, onsets, maps);
  return farCount > MOST_FAR * onsets.ticks.length ? Number.NEGATIVE_INFINITY : MOST_GAIN * farCount;
}

/** A pulse that may follow another grid. */
interface DoubtfulUnit extends Unit {
  /** What is known of it. */
  readonly hints: readonly Hint[];
}

/** A stretch that other voices have, or all together, and what it costs a voice to follow it. */
export interface Hint extends GridStretch {
  readonly price: number;
}

/**
 * Finds beats in which a voice follows another grid: triplets in a straight part, thirty-seconds of a roll. Beat by beat each
 * other grid may take over, at a price for each stretch and none for going on; the dearest path wins.
 * @param onsets all of them, not only every so many
 * @param hints what the other voices of the take do
 * @param recurring grids that the voice is known to follow in some places
 */
export function findStretches(
  model: GridModel,
  onsets: Onsets,
  maps: TimeMaps,
  hints: readonly Hint[] = [],
  recurring: readonly Grid[] = [],
): FoundStretches {
  const { meterMap } = maps;
  const others = otherGrids(model, onsets, meterMap.ppq);
  const voice = voiceOnGrid(model, onsets, maps);
  const units = doubtfulUnits(voice, hints, meterMap.ppq);
  const pulses = units.map(({ pulse }) => pulse);
  const gains = others.map((grid) => voice.gainsOn(grid, pulses));
  const usualPrices = Float64Array.from(others, (grid) => {
    if (model.grid.denominator > 4 && recurring.some((one) => isSameGrid(one, grid))) return RECURRING_PRICE;
    return isUnusual(grid, meterMap.ppq) ? UNUSUAL_PRICE : STRETCH_PRICE;
  });
  const pricesAt = units.map(({ hints: here }) =>
    here.length === 0
      ? usualPrices
      : usualPrices.map((price, other) =>
          here.reduce(
            (least, hint) => (isSameGrid(hint.grid, others[other]!) ? Math.min(least, hint.price) : least),
            price,
          ),
        ),
  );
  const fewestTelling = (other: Grid, price: number) => {
    // Who plays eighths some of the time plays eighths, and not quarters with exceptions.
    const isFiner = other.family === "straight" && model.grid.family === "straight" && model.grid.denominator > 4;
    if (price === JOINT_PRICE) return 0;
    return price === SHARED_PRICE || isFiner ? 1 : FEWEST_TELLING_HITS;
  };
  // Where others have such a stretch, it is they who tell it.
  const shiftGainOf = (inStretch: readonly number[], price: number) =>
    price <= SHARED_PRICE ? 0 : voice.shiftGain(inStretch);
  return bestStretches(units, others, gains, pricesAt, fewestTelling, shiftGainOf);
}

/** The beats in which a voice plays, as stretches of the grid that it follows throughout. */
export function beatsPlayed(onsets: Onsets, grid: Grid, meanDriftMs: number, maps: TimeMaps): readonly GridStretch[] {
  return pulsesOf(onsets, meanDriftMs, maps).map(({ startTick, endTick }) => ({ startTick, endTick, grid }));
}

/** Grids that have slots which the one grid does not have. */
function otherGrids({ grid, spreadMs }: GridModel, { msPerTick }: Onsets, ppq: number): readonly Grid[] {
  const { family, denominator } = grid;
  const even = { family, denominator };
  const tickMs = msPerTick[0] ?? 1;
  return GRID_CHOICES.filter((other) => !isWithin(other, even, ppq) && isPlayable(other, spreadMs, tickMs, ppq));
}

/** The pulses in which some hit is far from its slot, or in which another voice follows another grid: the rest needs no other. */
function doubtfulUnits({ pulses, isFar }: VoiceOnGrid, hints: readonly Hint[], ppq: number): readonly DoubtfulUnit[] {
  const inOrder = hints.toSorted((one, other) => one.startTick - other.startTick);
  let firstHint = 0;
  const units: DoubtfulUnit[] = [];
  for (let pulse = 0; pulse < pulses.length; pulse++) {
    const { startTick, endTick, firstRow, endRow } = pulses[pulse]!;
    while (firstHint < inOrder.length && inOrder[firstHint]!.endTick <= startTick - LONGEST_HINT_QUARTERS * ppq)
      firstHint++;
    let here = NO_HINTS;
    for (let at = firstHint; at < inOrder.length && inOrder[at]!.startTick < endTick; at++) {
      if (inOrder[at]!.endTick > startTick) here = [...here, inOrder[at]!];
    }
    let isDoubtful = here.length > 0;
    for (let row = firstRow; row < endRow && !isDoubtful; row++) isDoubtful = isFar[row] === 1;
    if (isDoubtful) units.push({ pulse, startTick, endTick, hints: here });
  }
  return units;
}

const NO_HINTS: readonly Hint[] = [];

/** Stretches of others may overlap, so those that ended a little earlier are still looked at. */
const LONGEST_HINT_QUARTERS = 64;
