import { baseTick, baseVelocity, type Family, findVoice, type Hit, type Pattern } from "../document/index.ts";
import { type Bar, barAt, buildMeterMap } from "../time/index.ts";

/** A stroke of a rhythm: what is left of a hit when a kit and a tempo are forgotten. */
export interface RhythmStroke {
  readonly family: Family;
  /** From the start of the rhythm. */
  readonly quarters: number;
  /** 1 to 127. */
  readonly velocity: number;
  readonly hit: Hit;
}

export interface RhythmBar {
  readonly startQuarters: number;
  readonly lengthQuarters: number;
  readonly meter: Bar["meter"];
  /** Quarters of the beats from the bar line; the first is 0. */
  readonly beats: readonly number[];
}

/** What a take, or a few bars of one, plays. */
export interface Rhythm {
  readonly bars: readonly RhythmBar[];
  /** In order. */
  readonly strokes: readonly RhythmStroke[];
}

/** Longer rhythms are looked at from their beginning only. */
const MOST_BARS = 2000;

/** The rhythm of a take as it was recorded or put. */
export function rhythmOf(pattern: Pattern): Rhythm {
  const { ppq } = pattern;
  const meterMap = buildMeterMap(ppq, pattern.meters);
  const bars: RhythmBar[] = [];
  for (let tick = 0; tick < pattern.lengthTicks && bars.length < MOST_BARS; ) {
    const bar = barAt(meterMap, tick);
    bars.push(rhythmBar(bar, bar.startTick / ppq, ppq));
    tick = bar.endTick;
  }
  const families = new Map<string, Family>();
  const familyOf = (voiceId: string) => {
    const family = families.get(voiceId) ?? findVoice(pattern.noteMap, voiceId).family;
    families.set(voiceId, family);
    return family;
  };
  const endQuarters = endOf(bars);
  const strokes = pattern.hits
    .filter(({ isMuted }) => !isMuted)
    .map((hit) => ({
      family: familyOf(hit.voiceId),
      quarters: baseTick(hit) / ppq,
      velocity: baseVelocity(hit),
      hit,
    }))
    .filter(({ quarters }) => quarters < endQuarters)
    .sort((a, b) => a.quarters - b.quarters);
  return { bars, strokes };
}

/** A bar of a take as one of a rhythm. */
export const rhythmBar = (
  { startTick, endTick, meter, pulseTicks }: Bar,
  startQuarters: number,
  ppq: number,
): RhythmBar => ({
  startQuarters,
  lengthQuarters: (endTick - startTick) / ppq,
  meter,
  beats: pulseTicks.map((pulse) => pulse / ppq),
});

/** Where a rhythm ends, in quarters. */
export function endOf(bars: readonly RhythmBar[]): number {
  const last = bars.at(-1);
  return last ? last.startQuarters + last.lengthQuarters : 0;
}

/** How much a stroke counts: ghosts come and go from time to time. */
export function weightOf(velocity: number): number {
  return velocity >= LOUD ? 1 : SOFTEST_WEIGHT + ((1 - SOFTEST_WEIGHT) * Math.max(0, velocity - SOFT)) / (LOUD - SOFT);
}
const SOFT = 20;
const LOUD = 75;
const SOFTEST_WEIGHT = 0.4;

/** A place in a bar in words, as players count it: `1`, `2 &`, `3 a`; triplets as `2 trip`, `2 let`. */
export function placeWords({ beats, lengthQuarters }: RhythmBar, quarters: number): string {
  let beat = beats.length - 1;
  while (beat > 0 && beats[beat]! > quarters + 1e-6) beat--;
  const beatLength = (beats[beat + 1] ?? lengthQuarters) - beats[beat]!;
  const share = (quarters - beats[beat]!) / beatLength;
  const named = COUNTED.reduce((best, one) =>
    Math.abs(one.share - share) < Math.abs(best.share - share) ? one : best,
  );
  const isNext = named.share === 1;
  const number = isNext ? ((beat + 1) % beats.length) + 1 : beat + 1;
  return named.word === "" ? `${number}` : `${number} ${named.word}`;
}

const COUNTED = [
  { share: 0, word: "" },
  { share: 1 / 4, word: "e" },
  { share: 1 / 3, word: "trip" },
  { share: 1 / 2, word: "&" },
  { share: 2 / 3, word: "let" },
  { share: 3 / 4, word: "a" },
  { share: 1, word: "" },
];
