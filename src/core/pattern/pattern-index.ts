import { FAMILIES, type Family } from "../document/index.ts";
import { endOf, type Rhythm, type RhythmBar, weightOf } from "./rhythm.ts";

// Rhythms made ready to be compared with: how much of a stroke is near each moment, for each family of drums.

/** Moments are told apart so finely. */
export const PLACES_PER_QUARTER = 24;
/** How far off players are, in quarters at a middling tempo. */
const USUAL_SPREAD_QUARTERS = 0.05;
/** What two strokes have in common is nothing from so many spreads on. */
const FARTHEST_SPREADS = 3.2;
const REACH = Math.ceil(USUAL_SPREAD_QUARTERS * FARTHEST_SPREADS * PLACES_PER_QUARTER);
const KERNEL = Float64Array.from({ length: REACH + 1 }, (_, distance) =>
  nearness(distance / PLACES_PER_QUARTER, USUAL_SPREAD_QUARTERS),
);

/**
 * How much of a stroke another one is, by how far they lie apart: 1 if nothing, 0 from where it is likelier that one was left out and the
 * other slipped in.
 * @source the logarithm of a bell, against the odds of a stroke too few and one too many
 */
export function nearness(quarters: number, spreadQuarters: number): number {
  return Math.max(0, 1 - (quarters / (spreadQuarters * FARTHEST_SPREADS)) ** 2);
}

/** Families are compared by themselves; where one pad was knocked, with what kick and snare play together. */
export const LAYERS: readonly (Family | null)[] = [...FAMILIES, null];
export const layerOf = (family: Family | null) => LAYERS.indexOf(family);

export interface IndexedRhythm {
  /** Whatever the caller knows it by. */
  readonly id: string;
  readonly rhythm: Rhythm;
  readonly endQuarters: number;
  /** By layer; null where nothing plays: what is near each place, 0 to 1. */
  readonly near: readonly (Float32Array | null)[];
  /** By layer: the weight of all strokes before each bar, and at last of all. */
  readonly weightBefore: readonly Float64Array[];
  /** Where the beats are, in places, and which of them is the first of each bar. */
  readonly beatPlaces: Int32Array;
  readonly firstBeats: Int32Array;
}

export function indexRhythm(id: string, rhythm: Rhythm): IndexedRhythm {
  const { bars, strokes } = rhythm;
  const endQuarters = endOf(bars);
  const places = Math.ceil(endQuarters * PLACES_PER_QUARTER) + 1;
  const near: (Float32Array | null)[] = LAYERS.map(() => null);
  const weights = LAYERS.map(() => new Float64Array(bars.length + 1));
  for (const { family, quarters, velocity } of strokes) {
    const weight = weightOf(velocity);
    const layers = family === "kick" || family === "snare" ? [layerOf(family), layerOf(null)] : [layerOf(family)];
    const bar = barOf(bars, quarters);
    for (const layer of layers) {
      const column = near[layer] ?? new Float32Array(places);
      near[layer] = column;
      const centre = Math.round(quarters * PLACES_PER_QUARTER);
      for (let place = Math.max(0, centre - REACH); place <= Math.min(places - 1, centre + REACH); place++) {
        const value = weight * KERNEL[Math.abs(place - centre)]!;
        if (value > column[place]!) column[place] = value;
      }
      weights[layer]![bar + 1]! += weight;
    }
  }
  for (const column of weights) for (let bar = 1; bar < column.length; bar++) column[bar]! += column[bar - 1]!;
  const beats = bars.map((bar) => bar.beats.map((beat) => Math.round((bar.startQuarters + beat) * PLACES_PER_QUARTER)));
  const firstBeats = new Int32Array(bars.length + 1);
  for (const [bar, own] of beats.entries()) firstBeats[bar + 1] = firstBeats[bar]! + own.length;
  return {
    id,
    rhythm,
    endQuarters,
    near,
    weightBefore: weights,
    beatPlaces: Int32Array.from(beats.flat()),
    firstBeats,
  };
}

/** Slightly ahead of a bar line is played for that bar. */
const AHEAD_QUARTERS = 0.06;

/** The bar that a stroke is played for. */
export function barOf(bars: readonly RhythmBar[], quarters: number): number {
  let low = 0;
  let high = bars.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (bars[middle]!.startQuarters <= quarters + AHEAD_QUARTERS) low = middle;
    else high = middle - 1;
  }
  return Math.max(0, low);
}
