import { barOf } from "./pattern-index.ts";
import { endOf, type Rhythm, type RhythmBar, type RhythmStroke } from "./rhythm.ts";
import { canBePlayed, mixed, type VariedStroke } from "./vary.ts";

/** How a pattern is played several times, so that no time is quite like another. */
export interface RepeatWish {
  /** 1 for the pattern alone. */
  readonly times: number;
  /** A crash on the first beat, and after each fill. */
  readonly hasCrash: boolean;
  /** Open hats on the last off-beat of each time. */
  readonly hasOpenHat: boolean;
  /** The last bar of every so many times is a fill; null for none. */
  readonly fillEvery: number | null;
  /** Another number takes other fills. */
  readonly seed: number;
}

export const PLAYED_ONCE: RepeatWish = { times: 1, hasCrash: false, hasOpenHat: false, fillEvery: null, seed: 1 };
export const MOST_TIMES = 32;
export const FILL_EVERY = [2, 4, 8] as const;

const CRASH = { voiceId: "crash", articulationId: "crash", note: 49 } as const;
const OPEN_HAT = { articulationId: "open", note: 46 } as const;
/** A crash is at least as loud as this, and else as the loudest stroke. */
const CRASH_VELOCITY = 105;
/** What is struck together with it lies so near. */
const TOGETHER_QUARTERS = 0.06;

/** A pattern played several times, with what a drummer does at its ends. */
export interface Repeated {
  readonly bars: readonly RhythmBar[];
  readonly strokes: readonly VariedStroke[];
  /** How many of its times end with a fill. */
  readonly fillCount: number;
}

/**
 * @param strokes of the pattern, as it is varied
 * @param fills others whose last bars may be its fills; only those that are as long as its own are taken
 */
export function repeated(
  { bars }: Pick<Rhythm, "bars">,
  strokes: readonly VariedStroke[],
  fills: readonly Rhythm[],
  wish: RepeatWish,
): Repeated {
  const { times, hasCrash, hasOpenHat, fillEvery, seed } = wish;
  const lengthQuarters = endOf(bars);
  const lastBar = bars.at(-1)!;
  const fitting = fills.filter((fill) => fill.bars.at(-1)?.lengthQuarters === lastBar.lengthQuarters);
  let fillCount = 0;
  let afterFill = true;
  const rounds = Array.from({ length: times }, (_, time): readonly VariedStroke[] => {
    const isFilled = fillEvery !== null && (time + 1) % fillEvery === 0 && fitting.length > 0;
    let round = strokes;
    if (isFilled) {
      const fill = fitting[mixed(seed, time) % fitting.length]!;
      round = withLastBar(round, lastBar, fill);
      fillCount++;
    } else if (hasOpenHat) round = withOpenHat(round, bars);
    if (hasCrash && afterFill) round = withCrash(round);
    afterFill = isFilled;
    return round.map((stroke) => ({ ...stroke, quarters: stroke.quarters + time * lengthQuarters }));
  });
  return {
    bars: rounds.flatMap((_, time) =>
      bars.map((bar) => ({ ...bar, startQuarters: bar.startQuarters + time * lengthQuarters })),
    ),
    strokes: rounds.flat().sort((a, b) => a.quarters - b.quarters),
    fillCount,
  };
}

/** The last bar of a fill in the place of the pattern's own. */
function withLastBar(strokes: readonly VariedStroke[], own: RhythmBar, { bars, strokes: played }: Rhythm) {
  const last = bars.length - 1;
  const shift = own.startQuarters - bars[last]!.startQuarters;
  const fill = played
    .filter((stroke) => barOf(bars, stroke.quarters) === last)
    .map((stroke): VariedStroke => ({ ...stroke, quarters: stroke.quarters + shift, isAdded: true }));
  return [...strokes.filter(({ quarters }) => quarters < own.startQuarters - TOGETHER_QUARTERS), ...fill];
}

/** The hats' last stroke off the beat is open; what the hats play after it shuts them. */
function withOpenHat(strokes: readonly VariedStroke[], bars: readonly RhythmBar[]) {
  const bar = bars.at(-1)!;
  const onBeat = ({ quarters }: RhythmStroke) =>
    [...bar.beats, bar.lengthQuarters].some((beat) => Math.abs(quarters - bar.startQuarters - beat) < 0.15);
  const last = strokes.findLast(
    (stroke) => stroke.family === "hats" && stroke.hit.articulationId !== "foot" && !onBeat(stroke),
  );
  if (!last || last.quarters < bar.startQuarters) return strokes;
  return strokes.map((stroke) =>
    stroke === last ? { ...stroke, isAdded: true, hit: { ...stroke.hit, ...OPEN_HAT } } : stroke,
  );
}

/** A crash on the first beat, in the place of what the hands keep time on there. */
function withCrash(strokes: readonly VariedStroke[]) {
  const first = strokes[0];
  if (!first) return strokes;
  const isTime = ({ family, quarters, hit }: VariedStroke) =>
    quarters < TOGETHER_QUARTERS && hit.articulationId !== "foot" && (family === "hats" || family === "cymbals");
  const others = strokes.filter((stroke) => !isTime(stroke));
  const quarters = strokes.find(isTime)?.quarters ?? Math.min(TOGETHER_QUARTERS, Math.max(0, first.quarters));
  const velocity = Math.min(127, Math.max(CRASH_VELOCITY, ...strokes.map((stroke) => stroke.velocity)));
  const hit = { ...first.hit, ...CRASH, id: `crash ${first.hit.id}`, chokedTicks: null, shutTicks: null, pedal: null };
  const crash: VariedStroke = { family: "cymbals", quarters, velocity, hit, isAdded: true };
  return canBePlayed(crash, others) ? [crash, ...others] : strokes;
}
