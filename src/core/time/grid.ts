import { type Bar, barAt, barByIndex, type MeterMap } from "./meter-map.ts";

export const GRID_FAMILIES = ["straight", "triplet", "quintuplet", "dotted"] as const;
export const GRID_DENOMINATORS = [1, 2, 4, 8, 16, 32, 64] as const;

/** Even steps from each bar line: a note value, straight, three in the time of two, five in the time of four, or one and a half times as long. */
export interface Grid {
  readonly family: (typeof GRID_FAMILIES)[number];
  readonly denominator: (typeof GRID_DENOMINATORS)[number];
  /** Where the second slot of each pair sits, in percent of the pair: 50 is straight, 66.7 a triplet. Left out, it is 50. */
  readonly swingPercent?: number;
}

export const STRAIGHT_PERCENT = 50;
export const MOST_SWING_PERCENT = 75;

/** How much later than straight every second slot is, in ticks. */
export function swingTicks({ swingPercent = STRAIGHT_PERCENT }: Grid, stepTicks: number): number {
  return stepTicks * (swingPercent / 50 - 1);
}

/** The same grid with this swing. A straight one says nothing of swing, so that it is the same value as one that never had any. */
export function withSwing({ family, denominator }: Grid, swingPercent: number): Grid {
  return swingPercent === STRAIGHT_PERCENT ? { family, denominator } : { family, denominator, swingPercent };
}

/** The same grid with only some of its swing. @param sharePercent 100 for all of it, 0 for straight */
export function withSwingShare(grid: Grid, sharePercent: number): Grid {
  const { family, denominator, swingPercent = STRAIGHT_PERCENT } = grid;
  if (swingPercent === STRAIGHT_PERCENT || sharePercent === 100) return grid;
  if (sharePercent === 0) return { family, denominator };
  return {
    family,
    denominator,
    swingPercent: STRAIGHT_PERCENT + ((swingPercent - STRAIGHT_PERCENT) * sharePercent) / 100,
  };
}

const FAMILY_LENGTH = { straight: 1, triplet: 2 / 3, quintuplet: 4 / 5, dotted: 3 / 2 } as const;

/** The grids to choose from, coarse to fine, as a person would look for them. */
export const GRID_CHOICES: readonly Grid[] = [
  { family: "straight", denominator: 4 },
  { family: "straight", denominator: 8 },
  { family: "straight", denominator: 16 },
  { family: "straight", denominator: 32 },
  { family: "straight", denominator: 64 },
  { family: "triplet", denominator: 4 },
  { family: "triplet", denominator: 8 },
  { family: "triplet", denominator: 16 },
  { family: "triplet", denominator: 32 },
  { family: "quintuplet", denominator: 8 },
  { family: "quintuplet", denominator: 16 },
  { family: "dotted", denominator: 4 },
  { family: "dotted", denominator: 8 },
  { family: "dotted", denominator: 16 },
];

/** The length of one step in ticks; it need not be whole. */
export function gridStepTicks(grid: Grid, ppq: number): number {
  return ((4 * ppq) / grid.denominator) * FAMILY_LENGTH[grid.family];
}

/**
 * The slots of one bar: every step from the bar line to the end of the bar. A last step that the bar line cuts short
 * is simply short, as with quarters in 7/8.
 * @returns ticks from the start of the pattern, ascending
 */
export function slotsOfBar(grid: Grid, bar: Bar, ppq: number): readonly number[] {
  const stepTicks = gridStepTicks(grid, ppq);
  const late = swingTicks(grid, stepTicks);
  const slots: number[] = [];
  for (let index = 0; bar.startTick + index * stepTicks < bar.endTick - 1e-6; index++) {
    const slot = bar.startTick + index * stepTicks + (index % 2 === 1 ? late : 0);
    if (slot < bar.endTick - 1e-6) slots.push(slot);
  }
  return slots;
}

/** The slots from a tick up to, but without, another. */
export function slotsBetween(grid: Grid, meterMap: MeterMap, startTick: number, endTick: number): readonly number[] {
  const slots: number[] = [];
  for (let bar = barAt(meterMap, startTick); bar.startTick < endTick; bar = barAt(meterMap, bar.endTick)) {
    for (const slot of slotsOfBar(grid, bar, meterMap.ppq)) if (slot >= startTick && slot < endTick) slots.push(slot);
  }
  return slots;
}

/** The two slots around a tick, nearest first. */
export interface NearestSlots {
  readonly slotTick: number;
  readonly secondSlotTick: number;
}

/**
 * Finds the nearest slot of a tick and the second nearest. Bar lines are slots of every grid.
 * A tick exactly between two slots belongs to the later one, for people play ahead of a beat more than behind it.
 */
export function nearestSlots(grid: Grid, meterMap: MeterMap, tick: number): NearestSlots {
  const { slotTick, secondSlotTick } = new SlotFinder(grid, meterMap).find(tick);
  return { slotTick, secondSlotTick };
}

/**
 * `nearestSlots` for many ticks. It remembers the bar, so that ticks in order do not look for it each time, and answers
 * with itself, since an object for each hit was a third of the time that `treat` took.
 */
export class SlotFinder implements NearestSlots {
  slotTick = 0;
  secondSlotTick = 0;
  /** The length of a step. */
  readonly stepTicks: number;
  readonly #meterMap: MeterMap;
  readonly #lateTicks: number;
  #bar: Bar;

  constructor(grid: Grid, meterMap: MeterMap) {
    this.#meterMap = meterMap;
    this.stepTicks = gridStepTicks(grid, meterMap.ppq);
    this.#lateTicks = swingTicks(grid, this.stepTicks);
    this.#bar = barAt(meterMap, 0);
  }

  /** Sets the two slots around a tick; they hold until the next call. */
  find(tick: number): NearestSlots {
    if (tick < this.#bar.startTick || tick >= this.#bar.endTick) this.#bar = barAt(this.#meterMap, tick);
    const { startTick, endTick } = this.#bar;
    const index = Math.max(0, Math.floor((tick - startTick) / this.stepTicks + 1e-9));
    let before = startTick + index * this.stepTicks;
    let after = Math.min(before + this.stepTicks, endTick);
    if (this.#lateTicks !== 0) {
      // Every second slot is late: a tick may still be ahead of the one that its step begins with.
      const late = this.#lateTicks;
      // `& 1`: of numbers with a fraction the remainder is a call of its own, for every hit.
      if ((index & 1) === 0) after = Math.min(endTick, after + late);
      else if (tick < before + late) {
        after = Math.min(endTick, before + late);
        before -= this.stepTicks;
      } else before += late;
    }
    const isBefore = tick - before < after - tick;
    this.slotTick = isBefore ? before : after;
    this.secondSlotTick = isBefore ? after : before;
    return this;
  }
}

/** The slot that is `steps` steps away from the slot nearest to `tick`. Never before the start of the pattern. */
export function slotStepsAway(grid: Grid, meterMap: MeterMap, tick: number, steps: number): number {
  let slotTick = nearestSlots(grid, meterMap, tick).slotTick;
  for (let left = Math.abs(steps); left > 0; left--) {
    slotTick = steps > 0 ? slotAfter(grid, meterMap, slotTick) : slotBefore(grid, meterMap, slotTick);
  }
  return Math.max(0, slotTick);
}

function slotAfter(grid: Grid, meterMap: MeterMap, tick: number): number {
  const bar = barAt(meterMap, tick);
  return slotsOfBar(grid, bar, meterMap.ppq).find((slot) => slot > tick + 1e-6) ?? bar.endTick;
}

function slotBefore(grid: Grid, meterMap: MeterMap, tick: number): number {
  const bar = barAt(meterMap, tick);
  const inBar = slotsOfBar(grid, bar, meterMap.ppq).findLast((slot) => slot < tick - 1e-6);
  if (inBar !== undefined) return inBar;
  if (bar.barIndex === 0) return 0;
  return slotsOfBar(grid, barByIndex(meterMap, bar.barIndex - 1), meterMap.ppq).at(-1) ?? 0;
}

const STEP_NAMES = {
  1: "whole",
  2: "half",
  4: "quarter",
  8: "eighth",
  16: "sixteenth",
  32: "thirty-second",
  64: "sixty-fourth",
} as const;

/** A grid as a musician says it: `sixteenths`, `eighth triplets`, `dotted eighths`. */
export function gridName(grid: Grid): string {
  const { swingPercent = STRAIGHT_PERCENT } = grid;
  return swingPercent === STRAIGHT_PERCENT ? evenName(grid) : `${evenName(grid)} swung ${swingPercent} %`;
}

/** The same where it is said beside another: of the same steps only how they swing, as `swung 60 %` or `straight`. */
export function gridNameBeside(grid: Grid, other: Grid): string {
  if (!sameSteps(grid, other)) return gridName(grid);
  const { swingPercent = STRAIGHT_PERCENT } = grid;
  return swingPercent === STRAIGHT_PERCENT ? "straight" : `swung ${swingPercent} %`;
}

function evenName(grid: Grid): string {
  const name = STEP_NAMES[grid.denominator];
  if (grid.family === "triplet" || grid.family === "quintuplet") return `${name} ${grid.family}s`;
  const plural = grid.denominator === 1 ? "whole notes" : grid.denominator === 2 ? "half notes" : `${name}s`;
  return grid.family === "dotted" ? `dotted ${plural}` : plural;
}

/** Whether two grids have the same steps, however they swing. */
export function sameSteps(a: Grid, b: Grid): boolean {
  return a.family === b.family && a.denominator === b.denominator;
}

/** A grid as it is typed: `1/16`, `1/8-triplet`, `1/16-quintuplet`, `1/8-dotted`. */
export function formatGrid(grid: Grid): string {
  return `1/${grid.denominator}${grid.family === "straight" ? "" : `-${grid.family}`}`;
}

/** Reads what `formatGrid` writes. Returns null for anything else. */
export function parseGrid(text: string): Grid | null {
  const match = /^1\/(\d+)(?:-([a-z]+))?$/.exec(text.trim());
  const denominator = GRID_DENOMINATORS.find((value) => String(value) === match?.[1]);
  const family = GRID_FAMILIES.find((value) => value === (match?.[2] ?? "straight"));
  return denominator && family ? { family, denominator } : null;
}
