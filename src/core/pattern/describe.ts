import { FAMILIES, type Family } from "../document/index.ts";
import { barOf } from "./pattern-index.ts";
import { type Rhythm, type RhythmStroke, weightOf } from "./rhythm.ts";

/** What a pattern is for. */
export const PATTERN_KINDS = ["groove", "fill", "intro", "ending", "break"] as const;
export type PatternKind = (typeof PATTERN_KINDS)[number];

/** What is told of a pattern before it is heard. */
export interface PatternFacts {
  /** `4/4`; that of its first bar. */
  readonly meter: string;
  readonly bars: number;
  /** Which drums play, most first. */
  readonly families: readonly Family[];
  /** Strokes a bar, each by what it counts. */
  readonly fullness: number;
  /** How loud it is struck in the middle, 1 to 127. */
  readonly loudness: number;
  /** `straight`, `triplets` or `swung 58 %`. */
  readonly grid: string;
  /** Where strokes between beats lie in the middle, in percent of the beat: 50 is straight, 67 a triplet. */
  readonly swingPercent: number;
}

/** Slots of a beat that strokes between beats are told apart by. */
const NEAR_SHARE = 0.04;
/** Off-beats nearer to the middle than this are straight. */
const STRAIGHT_SHARE = 0.535;
const FEWEST_OFF_BEATS = 3;

export function factsOf({ bars, strokes }: Rhythm): PatternFacts {
  const { numerator = 4, denominator = 4 } = bars[0]?.meter ?? {};
  const byFamily = new Map<Family, number>();
  for (const { family } of strokes) byFamily.set(family, (byFamily.get(family) ?? 0) + 1);
  const weight = strokes.reduce((sum, { velocity }) => sum + weightOf(velocity), 0);
  const velocities = strokes.map(({ velocity }) => velocity).sort((a, b) => a - b);
  return {
    meter: `${numerator}/${denominator}`,
    bars: bars.length,
    families: FAMILIES.filter((family) => byFamily.has(family)).toSorted((a, b) => byFamily.get(b)! - byFamily.get(a)!),
    fullness: weight / Math.max(1, bars.length),
    loudness: velocities[velocities.length >> 1] ?? 1,
    ...gridOf(strokes),
  };
}

/** Toms make so much of a fill, and a break is so empty. */
const FILL_SHARE = 0.25;
const BREAK_FULLNESS = 4;

/** What some bars are for, by what they play: nobody has said. */
export function kindOf(rhythm: Rhythm): PatternKind {
  const { strokes, bars } = rhythm;
  const toms = strokes.filter(({ family }) => family === "toms").length;
  if (strokes.length > 0 && toms / strokes.length >= FILL_SHARE) return "fill";
  const lastBar = bars.at(-1);
  const inLast = strokes.filter(({ quarters }) => quarters >= (lastBar?.startQuarters ?? 0));
  const rings = inLast.some(({ family }) => family === "cymbals") && inLast.length <= 3;
  if (rings && bars.length > 1) return "ending";
  return factsOf(rhythm).fullness < BREAK_FULLNESS ? "break" : "groove";
}

const STRAIGHT = { grid: "straight", swingPercent: 50 } as const;

/** How the beats are divided: by where strokes between them lie. */
function gridOf(strokes: readonly RhythmStroke[]): Pick<PatternFacts, "grid" | "swingPercent"> {
  const places = strokes.map(({ quarters }) => quarters - Math.floor(quarters + NEAR_SHARE));
  const near = (share: number) => places.filter((place) => Math.abs(place - share) < NEAR_SHARE).length;
  const triplets = near(1 / 3) + near(2 / 3);
  const sixteenths = near(1 / 4) + near(3 / 4);
  const offBeats = places.filter((place) => place > 0.4 && place < 0.72);
  const middle = offBeats.toSorted((a, b) => a - b)[offBeats.length >> 1];
  if (near(1 / 3) > 0 && triplets > sixteenths) return { grid: "triplets", swingPercent: 67 };
  const isSwung = middle !== undefined && offBeats.length >= FEWEST_OFF_BEATS && middle > STRAIGHT_SHARE;
  if (!isSwung) return STRAIGHT;
  const swingPercent = Math.round(middle * 100);
  return { grid: `swung ${swingPercent} %`, swingPercent };
}

/**
 * What a pattern is the same by, up to how it was played: its drums at the places they were meant for. Two with one key are twins.
 */
export function twinKey({ bars, strokes }: Rhythm): string {
  const slots = KEY_SLOTS.find((one) => fits(strokes, one)) ?? KEY_SLOTS.at(-1)!;
  const places = new Set(
    strokes.map(({ family, hit, quarters }) => {
      const place = Math.round(quarters * slots) / slots;
      return `${family}/${hit.articulationId} ${Math.round(place * 24)}`;
    }),
  );
  return `${bars.map(({ lengthQuarters }) => lengthQuarters).join()} ${[...places].toSorted().join()}`;
}

/** Slots of a quarter, the coarsest first: on coarse ones loose strokes are told apart best. */
const KEY_SLOTS = [2, 4, 3, 6, 8, 12] as const;
/** Strokes lie closer to slots than this in the middle, and none of them farther than that, in quarters. */
const NEAR_QUARTERS = 0.035;
const FARTHEST_QUARTERS = 0.1;

function fits(strokes: readonly RhythmStroke[], slots: number): boolean {
  const offs = strokes.map(({ quarters }) => Math.abs(quarters - Math.round(quarters * slots) / slots));
  offs.sort((a, b) => a - b);
  return (offs[offs.length >> 1] ?? 0) <= NEAR_QUARTERS && (offs.at(-1) ?? 0) <= FARTHEST_QUARTERS;
}

/** A few bars of a rhythm as one of their own, from its first bar line. @param endBar not included */
export function cutRhythm({ bars, strokes }: Rhythm, firstBar: number, endBar: number): Rhythm {
  const cut = bars.slice(firstBar, endBar);
  const start = cut[0]?.startQuarters ?? 0;
  return {
    bars: cut.map((bar) => ({ ...bar, startQuarters: bar.startQuarters - start })),
    strokes: strokes
      .filter(({ quarters }) => {
        const bar = barOf(bars, quarters);
        return bar >= firstBar && bar < endBar;
      })
      .map((stroke) => ({ ...stroke, quarters: stroke.quarters - start })),
  };
}
