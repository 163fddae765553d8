import { GRID_CHOICES, type Grid, type GridStretch, gridStepTicks, isSameGrid, type TimeMaps } from "../time/index.ts";
import type { PulseHits } from "../timing/pulses.ts";
import { type GridModel, isWithin } from "./grid-model.ts";
import type { Onsets } from "./onsets.ts";
import { type Gains, pulsesOf, type VoiceOnGrid, voiceOnGrid } from "./voice-on-grid.ts";

/** What another grid must explain better before a stretch of it is believed, as a logarithm of likelihoods. */
const STRETCH_PRICE = 7;
/** The same of steps that few parts have: quintuplets, and what is finer than thirty-seconds. */
const UNUSUAL_PRICE = 11;
/** What it costs if the voice has followed that grid elsewhere already: who plays a burst plays several. */
const RECURRING_PRICE = 4;
/** What it costs where another voice has such a stretch already: players fill together. */
const SHARED_PRICE = 2;
/** One hit alone that speaks for another grid may be a slip. */
const FEWEST_TELLING_HITS = 2;
/** Nobody plays steps shorter than this, nor, so that they could be told, than so many spreads. */
const SHORTEST_STEP_MS = 22;
const SHORTEST_STEP_SPREADS = 2.5;

/** A stray hit can gain about this much by another grid. */
const MOST_GAIN = 9;

/** A grid beside which more of the hits lie than this is none with exceptions. */
const MOST_FAR = 0.6;

/** What stretches could gain at the most, so that hopeless models need not be tried with them; of some nothing is expected at all. */
export function mostGain(model: GridModel, onsets: Onsets, maps: TimeMaps): number {
  const { farCount } = voiceOnGrid(model, onsets, maps);
  return farCount > MOST_FAR * onsets.ticks.length ? Number.NEGATIVE_INFINITY : MOST_GAIN * farCount;
}

/** Stretches that explain a voice better than its one grid does, and by how much. */
export interface FoundStretches {
  readonly stretches: readonly GridStretch[];
  /** What they gain, less their price: a logarithm of likelihoods. */
  readonly gain: number;
}

/** A pulse that may follow another grid. */
interface Unit extends Pick<PulseHits, "startTick" | "endTick"> {
  /** Which of the voice's pulses it is. */
  readonly pulse: number;
  /** What other voices follow in it. */
  readonly ofOthers: readonly Grid[];
}

/**
 * Finds beats in which a voice follows another grid: triplets in a straight part, thirty-seconds of a roll. Beat by beat each
 * other grid may take over, at a price for each stretch and none for going on; the dearest path wins.
 * @param onsets all of them, not only every so many
 * @param ofOthers stretches that other voices of the take have
 * @param recurring grids that the voice is known to follow in some places
 * @source the most likely path through hidden states (Viterbi)
 */
export function findStretches(
  model: GridModel,
  onsets: Onsets,
  maps: TimeMaps,
  ofOthers: readonly GridStretch[] = [],
  recurring: readonly Grid[] = [],
): FoundStretches {
  const { meterMap } = maps;
  const others = otherGrids(model, onsets, meterMap.ppq);
  const voice = voiceOnGrid(model, onsets, maps);
  const units = doubtfulUnits(voice, ofOthers, meterMap.ppq);
  const pulses = units.map(({ pulse }) => pulse);
  const gains = others.map((grid) => voice.gainsOn(grid, pulses));
  const usualPrices = Float64Array.from(others, (grid) => {
    if (model.grid.denominator > 4 && recurring.some((one) => isSameGrid(one, grid))) return RECURRING_PRICE;
    const isUnusual = grid.family === "quintuplet" || gridStepTicks(grid, meterMap.ppq) < meterMap.ppq / 8;
    return isUnusual ? UNUSUAL_PRICE : STRETCH_PRICE;
  });
  const pricesAt = units.map(({ ofOthers: shared }) =>
    shared.length === 0
      ? usualPrices
      : usualPrices.map((price, other) =>
          shared.some((grid) => isSameGrid(grid, others[other]!)) ? SHARED_PRICE : price,
        ),
  );
  const path = bestPath(units, gains, pricesAt);
  const stretches: GridStretch[] = [];
  let gain = 0;
  for (let start = 0, end = 0; start < path.length; start = end) {
    const other = path[start]!;
    for (
      end = start + 1;
      end < path.length && path[end] === other && areNeighbours(units[end - 1]!, units[end]!);
      end++
    );
    if (other === -1) continue;
    const price = pricesAt[start]![other]!;
    const { gain: gainAt, telling: tellingAt } = gains[other]!;
    let gained = -price;
    let telling = 0;
    for (let at = start; at < end; at++) {
      gained += gainAt[pulses[at]!]!;
      telling += tellingAt[pulses[at]!]!;
    }
    // Who plays eighths some of the time plays eighths, and not quarters with exceptions.
    const isFiner =
      others[other]!.family === "straight" && model.grid.family === "straight" && model.grid.denominator > 4;
    const fewest = price === SHARED_PRICE || isFiner ? 1 : FEWEST_TELLING_HITS;
    if (telling < fewest || gained <= 0) continue;
    gain += gained;
    stretches.push({ startTick: units[start]!.startTick, endTick: units[end - 1]!.endTick, grid: others[other]! });
  }
  return { stretches, gain };
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
  const shortestMs = Math.max(SHORTEST_STEP_MS, SHORTEST_STEP_SPREADS * spreadMs);
  return GRID_CHOICES.filter(
    (other) =>
      other.family !== "dotted" && !isWithin(other, even, ppq) && gridStepTicks(other, ppq) * tickMs >= shortestMs,
  );
}

/** The pulses in which some hit is far from its slot, or in which another voice follows another grid: the rest needs no other. */
function doubtfulUnits({ pulses, isFar }: VoiceOnGrid, ofOthers: readonly GridStretch[], ppq: number): readonly Unit[] {
  const hints = ofOthers.toSorted((one, other) => one.startTick - other.startTick);
  let firstHint = 0;
  const units: Unit[] = [];
  for (let pulse = 0; pulse < pulses.length; pulse++) {
    const { startTick, endTick, firstRow, endRow } = pulses[pulse]!;
    while (firstHint < hints.length && hints[firstHint]!.endTick <= startTick - LONGEST_HINT_QUARTERS * ppq)
      firstHint++;
    let here = NO_GRIDS;
    for (let at = firstHint; at < hints.length && hints[at]!.startTick < endTick; at++) {
      if (hints[at]!.endTick > startTick) here = [...here, hints[at]!.grid];
    }
    let isDoubtful = here.length > 0;
    for (let row = firstRow; row < endRow && !isDoubtful; row++) isDoubtful = isFar[row] === 1;
    if (isDoubtful) units.push({ pulse, startTick, endTick, ofOthers: here });
  }
  return units;
}

const NO_GRIDS: readonly Grid[] = [];

/** Stretches of others may overlap, so those that ended a little earlier are still looked at. */
const LONGEST_HINT_QUARTERS = 64;

function areNeighbours(before: Unit, after: Unit): boolean {
  return after.startTick <= before.endTick;
}

/** For each unit which of the other grids it follows, or -1 for none. */
function bestPath(
  units: readonly Unit[],
  gains: readonly Gains[],
  pricesAt: readonly Float64Array[],
): readonly number[] {
  const count = gains.length;
  // Place `count` stands for the one grid.
  let best = new Float64Array(count + 1).fill(Number.NEGATIVE_INFINITY);
  let next = new Float64Array(count + 1);
  best[count] = 0;
  const cameFrom = new Int8Array(units.length * (count + 1));
  const leading = () => {
    let leader = 0;
    for (let other = 1; other <= count; other++) if (best[other]! > best[leader]!) leader = other;
    return leader;
  };
  for (let at = 0; at < units.length; at++) {
    const { pulse } = units[at]!;
    const isNext = at > 0 && areNeighbours(units[at - 1]!, units[at]!);
    const leader = leading();
    const from = at * (count + 1);
    next[count] = best[leader]!;
    cameFrom[from + count] = leader;
    for (let other = 0; other < count; other++) {
      const price = pricesAt[at]![other]!;
      const goesOn = isNext && best[other]! >= best[leader]! - price;
      next[other] = gains[other]!.gain[pulse]! + (goesOn ? best[other]! : best[leader]! - price);
      cameFrom[from + other] = goesOn ? other : leader;
    }
    [best, next] = [next, best];
  }
  let state = leading();
  const path = new Array<number>(units.length);
  for (let at = units.length - 1; at >= 0; at--) {
    path[at] = state === count ? -1 : state;
    state = cameFrom[at * (count + 1) + state]!;
  }
  return path;
}
