import { remembering } from "../remember.ts";
import { type Grid, gridStepTicks, swingTicks } from "../time/index.ts";
import { median } from "../timing/drift.ts";
import type { Onsets } from "./onsets.ts";

// The slots of a grid in a bar: which is nearest to a place, and how plain each of them is.

/** Finds the slot of a place in a bar. It answers with itself, since an object for each hit would take most of the time. */
export class BarSlots {
  /** In ticks from the bar line. */
  slot = 0;
  /** Which slot of the bar it is. */
  index = 0;
  /** Whether it is the next bar line, which is a slot of every grid. */
  isBarEnd = false;
  readonly stepTicks: number;
  readonly #lateTicks: number;

  constructor(grid: Grid, ppq: number) {
    this.stepTicks = gridStepTicks(grid, ppq);
    this.#lateTicks = swingTicks(grid, this.stepTicks);
  }

  /** Where the slot would be without swing. */
  get evenSlot(): number {
    return this.isBarEnd ? this.slot : this.index * this.stepTicks;
  }

  find(inBarTick: number, barTicks: number): void {
    const step = this.stepTicks;
    const late = this.#lateTicks;
    let index = Math.max(0, Math.floor(inBarTick / step));
    // Every second slot may be late: a place can be ahead of the one that its step begins with.
    if (late !== 0 && (index & 1) === 1 && inBarTick < index * step + late) index--;
    // `& 1`: of numbers with a fraction the remainder is a call of its own, for every hit and candidate.
    const isSecond = (index & 1) === 1;
    const before = Math.min(index * step + (isSecond ? late : 0), barTicks);
    const next = (index + 1) * step + (isSecond ? 0 : late);
    const after = Math.min(next, barTicks);
    const isAfter = after - inBarTick <= inBarTick - before;
    this.slot = isAfter ? after : before;
    this.index = isAfter ? index + 1 : index;
    this.isBarEnd = isAfter && after >= barTicks - 1e-6;
  }
}

export interface Levels {
  /** Which level each slot of a bar is on, 0 the coarsest. */
  readonly levelOfSlot: Uint8Array;
  readonly slotsOfLevel: readonly number[];
  /** In ticks; of the bar line the longest bar. */
  readonly stepOfLevel: readonly number[];
  /** Whether the steps fill a bar without a rest. */
  readonly isEven: boolean;
}

/** The bars of a voice: every candidate asks for them. */
const rememberBars = remembering<Onsets, { readonly longest: number; readonly usual: number }>();

/** Sorts the slots of a grid for the bars of a voice. */
export function levelsOf(grid: Grid, ppq: number, onsets: Onsets): Levels {
  const { longest, usual } = rememberBars(onsets, [], () => ({
    longest: onsets.barTicks.reduce((most, ticks) => Math.max(most, ticks), 0),
    usual: median(onsets.barTicks),
  }));
  return buildLevels(grid, ppq, longest, usual);
}

/** Sorts the slots of a bar into levels: the bar line, those that are also quarters, also eighths, and so on. */
function buildLevels(grid: Grid, ppq: number, longestBar: number, usualBar: number): Levels {
  const stepTicks = gridStepTicks(grid, ppq);
  const coarser: Grid[] = [];
  for (const denominator of [4, 8, 16, 32, 64] as const) {
    if (denominator < grid.denominator) coarser.push({ family: "straight", denominator });
    // Every second eighth triplet is a quarter triplet, but nobody who plays eighth triplets thinks of those.
    if (denominator < grid.denominator && denominator >= 8 && grid.family === "triplet") {
      coarser.push({ family: "triplet", denominator });
    }
  }
  if (grid.family === "triplet")
    coarser.splice(0, coarser.length, ...coarser.filter((other) => isWithin(other, grid, ppq)));
  else if (grid.family !== "straight") coarser.length = 0;
  const ladder = [longestBar, ...[...coarser, grid].map((step) => gridStepTicks(step, ppq))];
  const levelOfSlot = new Uint8Array(Math.ceil(longestBar / stepTicks) + 2);
  for (let slot = 0; slot < levelOfSlot.length; slot++) {
    levelOfSlot[slot] = ladder.findIndex((ticks) => isMultiple(slot * stepTicks, ticks));
  }
  const slotsInBar = Math.max(1, Math.ceil(usualBar / stepTicks - 1e-6));
  const slotsOfLevel = ladder.map(() => 0);
  for (let slot = 0; slot < slotsInBar; slot++) slotsOfLevel[levelOfSlot[slot]!]!++;
  return { levelOfSlot, slotsOfLevel, stepOfLevel: ladder, isEven: isMultiple(usualBar, stepTicks) };
}

function isMultiple(ticks: number, ofTicks: number): boolean {
  const ratio = ticks / ofTicks;
  return Math.abs(ratio - Math.round(ratio)) < 1e-6;
}

export function isWithin(coarse: Grid, fine: Grid, ppq: number): boolean {
  return isMultiple(gridStepTicks(coarse, ppq), gridStepTicks(fine, ppq));
}
