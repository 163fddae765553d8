import { type Grid, type GridStretch, gridStepTicks } from "../time/index.ts";
import { median } from "../timing/drift.ts";
import type { Gains } from "./voice-on-grid.ts";

/** Stretches that explain hits better than their one grid does, and by how much. */
export interface FoundStretches {
  readonly stretches: readonly GridStretch[];
  /** What they gain, less their price, as far as hits are nearer to slots: a logarithm of likelihoods. */
  readonly gain: number;
  /** What they gain besides, by how hits follow one another. */
  readonly ofTurns: number;
}

/** What steps that few parts have must explain better before a stretch of them is believed, as a logarithm of likelihoods. */
export const UNUSUAL_PRICE = 11;
/** What a stretch costs where the same grid is known to be followed elsewhere: who plays a burst plays several. */
export const RECURRING_PRICE = 4;
/** One hit alone that speaks for another grid may be a slip. */
export const FEWEST_TELLING_HITS = 2;

/** Nobody plays steps shorter than this, nor, so that they could be told, than so many spreads. */
const SHORTEST_STEP_MS = 22;
const SHORTEST_STEP_SPREADS = 2.5;

/** Whether a hand of some spread can play the steps of a grid so that they are told. */
export function isPlayable(grid: Grid, spreadMs: number, msPerTick: number, ppq: number): boolean {
  const shortestMs = Math.max(SHORTEST_STEP_MS, SHORTEST_STEP_SPREADS * spreadMs);
  return grid.family !== "dotted" && gridStepTicks(grid, ppq) * msPerTick >= shortestMs;
}

/** Steps that few parts have: quintuplets, and what is finer than thirty-seconds. */
export const isUnusual = (grid: Grid, ppq: number): boolean =>
  grid.family === "quintuplet" || gridStepTicks(grid, ppq) < ppq / 8;

/** Steps that many parts have throughout. */
export const isPlain = ({ family, denominator }: Grid): boolean =>
  (family === "straight" && denominator <= 16) || (family === "triplet" && denominator === 8);

/** What it costs that a hand is early or late as a whole for some beats, how far it is so as a rule, and at the most. */
const SHIFT_PRICE = 1.5;
const USUAL_SHIFT_MS = 12;
const FARTHEST_SHIFT_MS = 45;

/**
 * What is gained if hits are on their own grid, all early or late by the same: who is late for a bar is late, and not on a finer grid
 * that happens to have slots there.
 * @param offsMs how far each is from its slot
 * @param likelier how much likelier they are on their grid if they are late by so many ms
 * @returns 0 or more
 */
export function shiftGain(offsMs: readonly number[], likelier: (lateMs: number) => number): number {
  const lateMs = median(offsMs);
  if (Math.abs(lateMs) > FARTHEST_SHIFT_MS) return 0;
  return Math.max(0, likelier(lateMs) - SHIFT_PRICE - 0.5 * (lateMs / USUAL_SHIFT_MS) ** 2);
}

/** A pulse that may follow another grid. */
export interface Unit {
  readonly startTick: number;
  readonly endTick: number;
  /** Its place in the gains. */
  readonly pulse: number;
}

/**
 * The stretches in which another grid takes over: pulse by pulse each may, at a price for each stretch and none for going on; the
 * dearest path wins.
 * @param units ascending
 * @param others grids that may take over
 * @param gains of each of them
 * @param pricesAt for each unit the price of each of them
 * @param fewestTelling how many hits must speak for a stretch of a grid at a price
 * @param shiftGainOf what is gained in some units, by their pulses, if the hand was only early or late there as a whole
 * @source the most likely path through hidden states (Viterbi)
 */
export function bestStretches(
  units: readonly Unit[],
  others: readonly Grid[],
  gains: readonly Gains[],
  pricesAt: readonly Float64Array[],
  fewestTelling: (other: Grid, price: number) => number,
  shiftGainOf: (pulses: readonly number[], price: number) => number,
): FoundStretches {
  const path = bestPath(units, gains, pricesAt);
  const stretches: GridStretch[] = [];
  let [gain, ofTurns] = [0, 0];
  for (let start = 0, end = 0; start < path.length; start = end) {
    const other = path[start]!;
    for (
      end = start + 1;
      end < path.length && path[end] === other && areNeighbours(units[end - 1]!, units[end]!);
      end++
    );
    if (other === -1) continue;
    const grid = others[other]!;
    const price = pricesAt[start]![other]!;
    const { gain: gainAt, telling: tellingAt, ofTurns: ofTurnsAt } = gains[other]!;
    let gained = -price;
    let [telling, ofTurnsHere] = [0, 0];
    for (let at = start; at < end; at++) {
      const { pulse } = units[at]!;
      gained += gainAt[pulse]!;
      telling += tellingAt[pulse]!;
      ofTurnsHere += ofTurnsAt[pulse]!;
    }
    if (telling < fewestTelling(grid, price) || gained <= 0) continue;
    const pulses = units.slice(start, end).map(({ pulse }) => pulse);
    if (gained <= shiftGainOf(pulses, price)) continue;
    gain += gained - ofTurnsHere;
    ofTurns += ofTurnsHere;
    stretches.push({ startTick: units[start]!.startTick, endTick: units[end - 1]!.endTick, grid });
  }
  return { stretches, gain, ofTurns };
}

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
