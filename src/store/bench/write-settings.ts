import type { Curve, PasteWish } from "../../core/commands/index.ts";
import type { Grid } from "../../core/time/index.ts";

/** What the pointer does in the lanes: pick and move hits, write them, or take them away. */
export const TOOLS = ["select", "draw", "erase"] as const;
export type Tool = (typeof TOOLS)[number];

/** How hits are drawn. */
export interface DrawSetting {
  /** Null for that of the lane's last hit. In the field of an open lane a hit is as loud as the pointer is high. */
  readonly velocity: number | null;
  /** How long notes are written; null for as long as every note lasts that is not told otherwise. */
  readonly lengthQuarters: number | null;
  /** The stroke that is drawn in each lane where that is not the one it plays most, by voice. */
  readonly strokes: ReadonlyMap<string, string>;
  /** Whether hits are drawn on the grid; a held key turns it round. */
  readonly isSnapped: boolean;
  /** Whether each slot is a cell, which a click fills or clears. */
  readonly showsCells: boolean;
}

/** Where it is written: in the loop or the bars in view, or between the first and the last hit that is picked. */
export type FillPlace = "meant" | "picked";
/** A burst leads into a bar line, the end of the loop or a hit that is picked, or runs from one place to another. */
export type BurstPlace = "into" | "hit" | "loop" | "picked";

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

/** How the next hits are written, laid and quantized by hand: as it was the last time. */
export interface WriteWishes {
  readonly drawing: DrawSetting;
  readonly fill: FillSetting;
  readonly burst: BurstSetting;
  /** Where and how what was copied is laid. */
  readonly pasteWish: PasteWish;
  readonly selectionQuantize: SelectionQuantize;
}

export const FIRST_WISHES: WriteWishes = {
  drawing: { velocity: null, lengthQuarters: null, strokes: new Map(), isSnapped: true, showsCells: false },
  fill: { where: "meant", grid: null, every: 2, from: 1, velocity: 80 },
  burst: {
    where: "into",
    count: 8,
    grid: { family: "straight", denominator: 32 },
    fromVelocity: 40,
    toVelocity: 110,
    curve: "even",
  },
  pasteWish: { where: "place", how: "beside", times: 1 },
  selectionQuantize: { grid: null, strengthPercent: 100, swingPercent: null },
};
