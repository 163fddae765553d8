import {
  type Groove,
  type GrooveLayer,
  type GrooveSlot,
  layerFor,
  PLAIN_SLOT,
  slotCountOf,
} from "../document/groove.ts";
import type { Family } from "../document/index.ts";
import { noiseOf } from "../humanize.ts";
import type { Grid } from "../time/index.ts";

/** A groove made of numbers. */
export interface GrooveNumbers {
  readonly grid: Grid;
  readonly lengthQuarters: number;
  /** Where the second hit of each pair sits: 50 straight, 66.7 a triplet. */
  readonly swingPercent: number;
  /** All of it ahead (minus) or behind, in percent of a step. */
  readonly pushPercent: number;
  /** Back-beats (the second and fourth quarter) behind the rest, in percent of a step. */
  readonly layBackPercent: number;
  /** How much softer every second place is, in percent. */
  readonly weakPercent: number;
  /** How far each place strays, in percent of a step, the same for the same seed. */
  readonly drunkPercent: number;
  readonly seed: number;
}

export const PLAIN_NUMBERS: GrooveNumbers = {
  grid: { family: "straight", denominator: 16 },
  lengthQuarters: 4,
  swingPercent: 50,
  pushPercent: 0,
  layBackPercent: 0,
  weakPercent: 0,
  drunkPercent: 0,
  seed: 1,
};

/** The one layer of a groove made of numbers, for all drums. */
export function makeLayer(numbers: GrooveNumbers, family: Family | null = null): GrooveLayer {
  const { grid, lengthQuarters, swingPercent, pushPercent, layBackPercent, weakPercent, drunkPercent, seed } = numbers;
  const count = slotCountOf(lengthQuarters, grid);
  const slotsPerQuarter = count / lengthQuarters;
  const slots = Array.from({ length: count }, (_, slot): GrooveSlot => {
    const isSecond = slot % 2 === 1;
    const quarter = slot / slotsPerQuarter;
    const isBackBeat = Number.isInteger(quarter) && quarter % 2 === 1;
    const offset =
      (isSecond ? swingPercent / 50 - 1 : 0) +
      (pushPercent + (isBackBeat ? layBackPercent : 0)) / 100 +
      (drunkPercent / 100) * noiseOf(`place ${slot}`, seed, "bell");
    // Meant, and not bridged, though nobody played it.
    return { ...PLAIN_SLOT, hitCount: 1, offset, accent: isSecond ? 1 - weakPercent / 100 : 1 };
  });
  return { family, slots };
}

/**
 * What lies between two grooves. Both are asked at the places of the first.
 * @param share 0 is the first, 1 the second
 */
export function mixGrooves(first: Groove, second: Groove, share: number): readonly GrooveLayer[] {
  const families = new Set([...first.layers, ...second.layers].map(({ family }) => family));
  const count = slotCountOf(first.lengthQuarters, first.grid);
  const stepQuarters = first.lengthQuarters / count;
  return [...families].map((family): GrooveLayer => {
    const a = family === null ? first.layers.find((layer) => layer.family === null) : layerFor(first, family);
    const b = family === null ? second.layers.find((layer) => layer.family === null) : layerFor(second, family);
    const slots = Array.from({ length: count }, (_, slot): GrooveSlot => {
      const one = a?.slots[slot] ?? PLAIN_SLOT;
      const other = slotAt(second, b ?? null, slot * stepQuarters, stepQuarters);
      return {
        offset: one.offset + share * (other.offset - one.offset),
        accent: one.accent + share * (other.accent - one.accent),
        hitCount: Math.round(one.hitCount + share * (other.hitCount - one.hitCount)),
        spread: one.spread + share * (other.spread - one.spread),
      };
    });
    return { family, slots };
  });
}

/** What a groove has at a place, with its offset in the steps of another one. */
function slotAt(groove: Groove, layer: GrooveLayer | null, atQuarters: number, stepQuarters: number): GrooveSlot {
  if (!layer) return PLAIN_SLOT;
  const ownStep = groove.lengthQuarters / layer.slots.length;
  const place = (atQuarters % groove.lengthQuarters) / ownStep;
  const slot = Math.round(place);
  if (Math.abs(place - slot) > 0.02) return PLAIN_SLOT;
  const own = layer.slots[slot % layer.slots.length]!;
  return { ...own, offset: (own.offset * ownStep) / stepQuarters };
}
