import type { Curve } from "../core/commands/index.ts";
import type { Grid } from "../core/time/index.ts";

/** Where it is written: in the loop or the bars in view, or between the first and the last hit that is picked. */
export type FillPlace = "meant" | "picked";
/** A burst leads into a bar line or the end of the loop, or runs from one place to another. */
export type BurstPlace = "into" | "loop" | "picked";

/** How slots are filled: every nth from one on, counted from 1. */
export interface FillSetting {
  readonly where: FillPlace;
  /** Null for the grid that the lane is drawn on. */
  readonly grid: Grid | null;
  readonly every: number;
  readonly from: number;
  readonly velocity: number;
}

/** How a burst leads into a bar line, or from place to place. */
export interface BurstSetting {
  readonly where: BurstPlace;
  /** How many hits lead into the bar line. From place to place it is as many as there is room for. */
  readonly count: number;
  readonly grid: Grid;
  readonly fromVelocity: number;
  readonly toVelocity: number;
  readonly curve: Curve;
}

/** How some hits are quantized by hand. */
export interface SelectionQuantize {
  /** Null for the grid of the lane that each hit is in. */
  readonly grid: Grid | null;
  readonly strengthPercent: number;
  /** Null for the swing of that grid. */
  readonly swingPercent: number | null;
}
