import type { Family } from "../document/index.ts";
import { endOf, type Rhythm, weightOf } from "./rhythm.ts";

/** A stroke of a knock: one hand's, or one foot's. */
export interface KnockStroke {
  /** Null where one pad plays all: then it is a kick or a snare. */
  readonly family: Family | null;
  /** From the first bar line, at the tempo of the knock. */
  readonly quarters: number;
  /** 0 to 1. */
  readonly weight: number;
}

/** A rhythm that is looked for. */
export interface Knock {
  readonly strokes: readonly KnockStroke[];
  /** How fast a quarter of it went by. */
  readonly bpm: number;
  /** Whether it was knocked to a click, so that its bar lines and its tempo are known. */
  readonly hasClick: boolean;
}

/** A knock of fewer strokes says nothing. */
export const FEWEST_STROKES = 2;
/** Of a longer one only so much is listened to. */
export const MOST_STROKES = 128;

/** Why something is no knock, in words; null if it is one. */
export function faultOfKnock({ strokes }: Knock): string | null {
  if (strokes.length === 0) return "Nothing was knocked. Strike a rhythm of two strokes or more.";
  if (strokes.length < FEWEST_STROKES) return "One stroke is no rhythm yet. Knock two or more.";
  return null;
}

/**
 * Takes a rhythm as a question. If it is all on one drum, that one may stand for any.
 * @param bpm quarters a minute
 * @param hasClick whether its bars and tempo are meant
 */
export function knockOf({ bars, strokes }: Rhythm, bpm: number, hasClick: boolean): Knock {
  const end = endOf(bars);
  const heard = strokes.filter(({ quarters }) => quarters <= end).slice(0, MOST_STROKES);
  const families = new Set(heard.map(({ family }) => family));
  return {
    strokes: heard.map(({ family, quarters, velocity }) => ({
      family: families.size === 1 && family !== "hats" ? null : family,
      quarters,
      weight: weightOf(velocity),
    })),
    bpm,
    hasClick,
  };
}

/** Tempos of a knock that are tried, in quarters a minute. */
const SLOWEST_BPM = 50;
const FASTEST_BPM = 220;
const USUAL_BPM = 112;
const STEP = 1.002;
const MOST_TEMPOS = 12;
/** Two tempos nearer than this, in octaves, are one. */
const SAME_TEMPO = 0.03;
/** Slots of a quarter that strokes lie on, straight and in triplets; and how much a fit on each is worth. */
const GRIDS = [
  { slots: 2, worth: 1.04 },
  { slots: 4, worth: 1 },
  { slots: 3, worth: 1 },
] as const;
/** What an octave away from the usual tempo costs. */
const COST_OF_OCTAVE = 0.12;

/** How a knock without a click may be counted. */
export interface Counted {
  /** A quarter of the knock is so many quarters. */
  readonly factor: number;
  /** How far its strokes lie after the slots, in quarters so counted. */
  readonly lateQuarters: number;
  /** Of a quarter. */
  readonly slots: number;
}

/**
 * Ways to count a knock without a click, best first: those on whose slots its strokes lie closest together.
 * @source the mean of unit vectors, one turn a slot: its length says how close, its direction where
 */
export function countsOf({ strokes, bpm }: Knock): readonly Counted[] {
  const tried: (Counted & { readonly fit: number })[] = [];
  for (let counted = SLOWEST_BPM; counted <= FASTEST_BPM; counted *= STEP) {
    const factor = counted / bpm;
    for (const { slots, worth } of GRIDS) {
      let [across, up] = [0, 0];
      for (const { quarters } of strokes) {
        const angle = 2 * Math.PI * quarters * factor * slots;
        across += Math.cos(angle);
        up += Math.sin(angle);
      }
      const close = Math.hypot(across, up) / strokes.length;
      const lateQuarters = Math.atan2(up, across) / (2 * Math.PI * slots);
      const fit = close * worth - COST_OF_OCTAVE * Math.abs(Math.log2(counted / USUAL_BPM));
      tried.push({ factor, lateQuarters, slots, fit });
    }
  }
  const best: Counted[] = [];
  for (const { fit: _, ...one } of tried.toSorted((a, b) => b.fit - a.fit)) {
    if (best.every(({ factor }) => Math.abs(Math.log2(factor / one.factor)) > SAME_TEMPO)) best.push(one);
    if (best.length === MOST_TEMPOS) break;
  }
  return best;
}
