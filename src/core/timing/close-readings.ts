import {
  type Grid,
  type GridPlan,
  gridStepTicks,
  isSameGrid,
  type MeterMap,
  SlotFinder,
  stretchAt,
} from "../time/index.ts";
import { median } from "./drift.ts";
import { PulseFinder } from "./pulses.ts";

/** What a beat may be meant as. */
const READINGS: readonly Grid[] = [
  { family: "straight", denominator: 8 },
  { family: "straight", denominator: 16 },
  { family: "straight", denominator: 32 },
  { family: "triplet", denominator: 8 },
  { family: "triplet", denominator: 16 },
  { family: "quintuplet", denominator: 16 },
];
/** What it costs to read a beat otherwise than the voice is read, as a logarithm of likelihoods … */
const OTHER_PRICE = 6;
/** … on a grid that the voice follows in other places, since who plays a burst plays several … */
const USED_PRICE = 1;
/** … how much less likely another reading may be and still be a close one … */
const CLOSE = 5;
/** … and what a hit costs at the most, since it may be a stray. */
const MOST_COST = 6;
/** Slots this near, as a share of a quarter, are one place. */
const SAME_PLACE = 1 / 30;
/** A stretch of so many quarters is no exception: in it, what the voice follows elsewhere is one. */
const LONG_QUARTERS = 8;
/** Fewer hits say nothing of how loosely they were played. */
const FEWEST_HITS = 4;
/** Nobody is known to be steadier, as a share of a quarter. */
const LEAST_SPREAD = 1 / 200;

/** What a beat may be meant as instead. */
export interface CloseReading {
  readonly startTick: number;
  readonly endTick: number;
  readonly grid: Grid;
  /** The hits that would be elsewhere. */
  readonly rows: readonly number[];
}

/**
 * Beats that another reading explains nearly as well, as a fill in loose triplets that is read as sixteenths: which of them is
 * meant, somebody has to hear.
 * @param rows those that have slots of their own: grace notes and strokes inside a roll do not
 * @param pocketTicks all hits without the voice's pocket
 * @param slotTicks where each belongs
 * @param stepTicks how long a step is at each
 * @returns in order of time, of one beat the likeliest first
 * @source a beat costs what its hits are off, as bell-shaped, and which of its steps each of them takes
 */
export function closeReadings(
  plan: GridPlan,
  rows: readonly number[],
  pocketTicks: Float64Array,
  slotTicks: Float64Array,
  stepTicks: Float64Array,
  meterMap: MeterMap,
): readonly CloseReading[] {
  const { ppq } = meterMap;
  if (rows.length < FEWEST_HITS) return [];
  const offTicks = new Float64Array(rows.length);
  for (let at = 0; at < rows.length; at++) offTicks[at] = Math.abs(pocketTicks[rows[at]!]! - slotTicks[rows[at]!]!);
  const spreadTicks = Math.max(LEAST_SPREAD * ppq, 1.4826 * median(offTicks));
  const perSquare = 0.5 / (spreadTicks * spreadTicks);
  const costOf = (off: number) => Math.min(MOST_COST, perSquare * off * off);
  const grids = READINGS.some((grid) => isSameGrid(grid, plan.grid)) ? READINGS : [...READINGS, plan.grid];
  const readings = grids.map((grid) => ({
    grid,
    stepTicks: gridStepTicks(grid, ppq),
    logStep: Math.log(gridStepTicks(grid, ppq)),
    price: priceOf(grid, plan),
    // A single hit is no quintuplet.
    fewest: grid.family === "quintuplet" ? 2 : 1,
    finder: new SlotFinder(grid, meterMap),
  }));
  const found: CloseReading[] = [];
  const pulse = new PulseFinder(meterMap);
  // Hot: it is asked for thousands of hits when a drag of some of them ends. Nothing is made for a pulse that has one reading.
  for (let start = 0, end = 0; start < rows.length; start = end) {
    const { startTick, endTick } = pulse.find(pocketTicks[rows[start]!]!);
    const stretch = stretchAt(plan, startTick);
    const ownGrid = stretch?.grid ?? plan.grid;
    const isLong = stretch !== undefined && stretch.endTick - stretch.startTick >= LONG_QUARTERS * ppq;
    const logPulse = Math.log(endTick - startTick);
    let own = ownGrid === plan.grid || isLong ? 0 : OTHER_PRICE;
    let [lastStep, logLastStep] = [0, 0];
    const isHere = (at: number) => at === start || pulse.find(pocketTicks[rows[at]!]!).startTick === startTick;
    for (end = start; end < rows.length && isHere(end); end++) {
      const step = stepTicks[rows[end]!]!;
      if (step !== lastStep) [lastStep, logLastStep] = [step, Math.log(step)];
      own += costOf(offTicks[end]!) + logPulse - logLastStep;
    }
    const count = end - start;
    const close: (CloseReading & { readonly cost: number })[] = [];
    for (const reading of readings) {
      const price = isLong ? Math.max(USED_PRICE, reading.price) : reading.price;
      let cost = price + count * (logPulse - reading.logStep);
      // Most are too dear before a hit is looked at; and a beat cannot have more hits than steps.
      if (cost >= own + CLOSE || count > (endTick - startTick) / reading.stepTicks + 1e-6) continue;
      if (isSameGrid(reading.grid, ownGrid)) continue;
      const here: number[] = [];
      for (let at = start; at < end; at++) {
        const row = rows[at]!;
        const { slotTick } = reading.finder.find(pocketTicks[row]!);
        cost += costOf(pocketTicks[row]! - slotTick);
        if (Math.abs(slotTick - slotTicks[row]!) > SAME_PLACE * ppq) here.push(row);
      }
      if (cost < own + CLOSE && here.length >= reading.fewest)
        close.push({ startTick, endTick, grid: reading.grid, rows: here, cost });
    }
    if (close.length > 0) found.push(...close.sort((a, b) => a.cost - b.cost).map(({ cost: _, ...one }) => one));
  }
  return found;
}

function priceOf(grid: Grid, { grid: usual, stretches = [] }: GridPlan): number {
  if (isSameGrid(grid, usual)) return 0;
  return stretches.some((one) => isSameGrid(one.grid, grid)) ? USED_PRICE : OTHER_PRICE;
}
