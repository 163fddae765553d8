import { type Grid, type GridPlan, type GridStretch, gridStepTicks } from "../time/index.ts";
import { median } from "./drift.ts";

/** Steps that few beats have are taken for something else more often than not: counted in bench/written. */
const RARE_QUARTERS = 2;
/** A voice with so many hits says something of its grid; one with fewer is left alone. */
const FEWEST_HITS = 4;
const FEW_HITS = 30;
/** Half of the hits of a voice that fits its grid are closer than this, as a share of a step. */
const POOR_FIT_SHARE = 0.1;
/** A place this near to one of usual steps, as a share of a quarter, is one of those. */
const SAME_PLACE = 0.01;
/** A hit this near to its slot, as a share of a quarter, was put there: no hand is so exact. */
const EXACT = 1 / 400;
/** A stroke of a roll is on a step if it is this near to it, as a share of a quarter. */
const ON_STEP = 0.02;
/** What rolls are played in, in steps a quarter. */
const ROLLED_STEPS = [6, 8, 12];

/**
 * Where a voice has steps that it has nowhere else, for a beat or two: quintuplets, or anything finer than sixteenths and their
 * triplets. Another reading of such a beat would often do as well, unless all of it was typed in.
 * @param pocketTicks all hits without the voice's pocket
 * @param slotTicks where each hit belongs
 * @returns the rows of hits on places that usual steps do not have
 */
export function rowsOnRareSteps(
  { stretches = [] }: GridPlan,
  pocketTicks: Float64Array,
  slotTicks: Float64Array,
  ppq: number,
): readonly number[] {
  const rare = stretches.filter(
    ({ grid }) => isUnusual(grid, ppq) && quartersOn(grid, stretches, ppq) <= RARE_QUARTERS,
  );
  return rare.flatMap(({ startTick, endTick }) => {
    const rows: number[] = [];
    for (const [row, tick] of slotTicks.entries()) {
      if (tick >= startTick && tick < endTick && !isOnUsualStep(tick / ppq)) rows.push(row);
    }
    return rows.every((row) => Math.abs(pocketTicks[row]! - slotTicks[row]!) < EXACT * ppq) ? [] : rows;
  });
}

const isUnusual = (grid: Grid, ppq: number) => grid.family === "quintuplet" || gridStepTicks(grid, ppq) < ppq / 6;

function quartersOn(grid: Grid, stretches: readonly GridStretch[], ppq: number): number {
  const alike = stretches.filter((one) => one.grid.family === grid.family && one.grid.denominator === grid.denominator);
  return alike.reduce((sum, { startTick, endTick }) => sum + (endTick - startTick) / ppq, 0);
}

const isOnUsualStep = (quarters: number) =>
  [4, 6].some((steps) => Math.abs(quarters * steps - Math.round(quarters * steps)) < SAME_PLACE * steps);

/**
 * Whether the hits of a voice are too few to tell its grid, and lie badly on the one it has.
 * @param rows those that lie for themselves: a grace note, or a stroke inside a roll, says nothing of the grid
 * @param pocketTicks all hits without the voice's pocket
 */
export function fitPoorly(
  rows: readonly number[],
  pocketTicks: Float64Array,
  slotTicks: Float64Array,
  stepTicks: Float64Array,
): boolean {
  if (rows.length < FEWEST_HITS || rows.length >= FEW_HITS) return false;
  return median(rows.map((row) => Math.abs(pocketTicks[row]! - slotTicks[row]!) / stepTicks[row]!)) > POOR_FIT_SHARE;
}

/**
 * Rolls that are moved as they were played, and whose strokes then lie on no steps: a looser hand may have meant some.
 * @param rollRows the row of the first stroke of the roll that each hit is of, or -1
 * @returns the rows of all of their strokes
 */
export function rowsOfUnevenRolls(
  rollRows: Int32Array,
  pocketTicks: Float64Array,
  slotTicks: Float64Array,
  ppq: number,
): readonly number[] {
  const found: number[] = [];
  for (let first = 0, end = 1; first < rollRows.length; first = end, end = first + 1) {
    if (rollRows[first] !== first) continue;
    while (end < rollRows.length && rollRows[end] === first) end++;
    const movedTicks = slotTicks[first]! - pocketTicks[first]!;
    // Plain loops: a part may be made of rolls, and it is treated anew while a setting is dragged.
    const areOnSteps = ROLLED_STEPS.some((steps) => {
      for (let row = first; row < end; row++) {
        const place = ((pocketTicks[row]! + movedTicks) / ppq) * steps;
        if (Math.abs(place - Math.round(place)) >= ON_STEP * steps) return false;
      }
      return true;
    });
    if (areOnSteps) continue;
    for (let row = first; row < end; row++) found.push(row);
  }
  return found;
}
