import { type Grid, gridStepTicks } from "../time/index.ts";
import type { Family } from "./index.ts";

/** How one place of a groove is played. */
export interface GrooveSlot {
  /** How far off its straight slot, in steps of the grid: 0.1 is a tenth of a step late, minus is early. */
  readonly offset: number;
  /** How loud in proportion to the mean of its layer; 1 is as loud as that. */
  readonly accent: number;
  /** How many hits it was learned from; 0 where nobody played, and its neighbours were asked. */
  readonly hitCount: number;
  /** How steady those were: the spread of their offsets, in steps. */
  readonly spread: number;
}

/** The places of one family of drums, or of all that have no layer of their own. */
export interface GrooveLayer {
  readonly family: Family | null;
  /** One for each step of the groove. */
  readonly slots: readonly GrooveSlot[];
}

/** The feel of a bar or a few: where hits sit against a straight grid, and how loud they are, place by place. */
export interface Groove {
  readonly id: string;
  readonly name: string;
  /** How long it is before it goes round. */
  readonly lengthQuarters: number;
  /** What its places are counted in; never swung, for swing is in the offsets. */
  readonly grid: Grid;
  readonly layers: readonly GrooveLayer[];
  /** Words that it is found by. Left out, there are none. */
  readonly tags?: readonly string[];
}

export const MOST_TAGS = 12;
export const LONGEST_TAG = 30;

export const LONGEST_GROOVE_QUARTERS = 32;

/** How many places a groove of a length has. A last step that does not fit is left out. */
export function slotCountOf(lengthQuarters: number, grid: Grid): number {
  return Math.max(1, Math.floor(lengthQuarters / gridStepTicks(grid, 1) + 1e-6));
}

/**
 * Which bar of a groove a bar is, counted from 0. A groove of two or more whole bars goes on from bar to bar, by bars and not by
 * ticks, so that another meter before it leaves its second bar the second; one that is longer otherwise begins anew with each bar.
 * @param barIndex from the bar that the groove is counted from
 */
export function barOfGroove(lengthTicks: number, barTicks: number, barIndex: number): number {
  const bars = lengthTicks / barTicks;
  if (bars < 2 || !Number.isInteger(bars)) return 0;
  return ((barIndex % bars) + bars) % bars;
}

/** The layer that a family of drums follows; null if the groove says nothing of it. */
export function layerFor({ layers }: Pick<Groove, "layers">, family: Family): GrooveLayer | null {
  return layers.find((layer) => layer.family === family) ?? layers.find((layer) => layer.family === null) ?? null;
}

export const PLAIN_SLOT: GrooveSlot = { offset: 0, accent: 1, hitCount: 0, spread: 0 };
