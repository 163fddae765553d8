import type { Random } from "../../src/standin/random.ts";
import type { Loudness } from "../written/read-parts.ts";
import { STYLES, type Style } from "./styles.ts";

/** A stroke as it was meant. */
export interface DrawnStroke {
  /** From the first bar line, not swung yet. */
  readonly quarter: number;
  readonly drum: string;
  readonly loudness: Loudness;
  readonly isSwung: boolean;
  readonly isTuplet: boolean;
  readonly isInFill: boolean;
  readonly isRoll: boolean;
  readonly isFlam: boolean;
}

export interface DrawnPart {
  readonly style: Style;
  readonly barQuarters: number;
  readonly sectionBars: number;
  readonly bars: readonly { readonly startQuarter: number; readonly numerator: number; readonly denominator: number }[];
  readonly strokes: readonly DrawnStroke[];
}

const LENGTHS = [8, 12, 16, 24, 32, 48];
const FILLED_SHARE = 0.8;
const LEFT_OUT_SHARE = 0.04;
const FLAM_SHARE = 0.03;
/** A song of three sections, by what each of them plays. */
const FORM = [0, 1, 0, 2];
/** Where a fill goes, from its first quarter of beats to its last. */
const WAYS_OF_FILLS = ["s t1 t2 ft", "t1 t2 t3 ft", "s s t3 ft", "s t2 k ft"].map((way) => way.split(" "));
/** So many strokes a beat. */
const FILLS = [4, 4, 4, 6, 8, 3, 2, 2];
const FILLS_IN_THREES = [3, 3, 6];

const oneOf = <One>(random: Random, list: readonly One[]): One => list[Math.floor(random.uniform() * list.length)]!;

/** Draws what is played in a style: sections of a few bars that recur, with a fill at their ends and a crash after it. */
export function drawPart(number: number, random: Random): DrawnPart {
  const style = STYLES[number % STYLES.length]!;
  const { numerator, denominator, stepsOfBar } = style;
  const barQuarters = (4 * numerator) / denominator;
  const count = oneOf(random, LENGTHS);
  const sectionBars = oneOf(random, [4, 8]);
  const sections = [0, 1, 2].map(() => drawSection(style, random));
  const strokes: DrawnStroke[] = [];
  for (let bar = 0; bar < count; bar++) {
    const start = bar * barQuarters;
    const section = sections[FORM[Math.floor(bar / sectionBars) % FORM.length]!]!;
    const isFilled = denominator === 4 && (bar + 1) % sectionBars === 0 && random.chance(FILLED_SHARE);
    const fillBeats = isFilled ? oneOf(random, [1, 1, 2, 2, numerator]) : 0;
    for (const { step, drum, loudness } of section) {
      const inBar = (step / stepsOfBar) * barQuarters;
      if (inBar > barQuarters - fillBeats - 1e-6 || random.chance(LEFT_OUT_SHARE)) continue;
      strokes.push({
        quarter: start + inBar,
        drum,
        loudness,
        isSwung: style.swing !== null && step % 2 === 1,
        isTuplet: stepsOfBar % 3 === 0 && denominator === 4 && numerator === 4 && step % 3 !== 0,
        isInFill: false,
        isRoll: stepsOfBar === 32 && step % 2 === 1,
        isFlam: drum === "s" && loudness === "accent" && random.chance(FLAM_SHARE),
      });
    }
    strokes.push(...fillOf(start + barQuarters - fillBeats, fillBeats, style, random));
    if (bar % sectionBars === 0 && random.chance(FILLED_SHARE))
      strokes.push({ ...PLAIN, quarter: start, drum: "c1", loudness: "accent" });
  }
  const bars = Array.from({ length: count }, (_, bar) => ({ startQuarter: bar * barQuarters, numerator, denominator }));
  return { style, barQuarters, sectionBars, bars, strokes: withoutTwins(strokes) };
}

const PLAIN = { isSwung: false, isTuplet: false, isInFill: false, isRoll: false, isFlam: false } as const;

function drawSection({ lines }: Style, random: Random) {
  return lines.flatMap(({ drums, ways }) => {
    const drum = oneOf(random, drums);
    return oneOf(random, ways)
      .filter(({ chance }) => random.chance(chance))
      .map(({ step, loudness }) => ({ step, loudness, drum }));
  });
}

function fillOf(start: number, beats: number, { isInThrees }: Style, random: Random): readonly DrawnStroke[] {
  const way = oneOf(random, WAYS_OF_FILLS);
  const perBeat = oneOf(random, isInThrees ? FILLS_IN_THREES : FILLS);
  return Array.from({ length: beats * perBeat }, (_, index) => {
    const isOnBeat = index % perBeat === 0;
    const drum = way[Math.floor((index / (beats * perBeat)) * way.length)]!;
    const isSoft = perBeat < 6 && random.chance(0.2);
    return {
      ...PLAIN,
      quarter: start + index / perBeat,
      drum,
      loudness: isOnBeat ? "accent" : isSoft ? "ghost" : "normal",
      isTuplet: perBeat % 3 === 0,
      isInFill: true,
      isFlam: perBeat === 2 && drum !== "k" && random.chance(0.25),
    };
  });
}

/** Of two strokes of a drum on one place the first. */
function withoutTwins(strokes: readonly DrawnStroke[]): readonly DrawnStroke[] {
  const seen = new Set<string>();
  return strokes
    .filter(({ drum, quarter }) => {
      const key = `${drum} ${quarter.toFixed(4)}`;
      const isNew = !seen.has(key);
      seen.add(key);
      return isNew;
    })
    .sort((one, other) => one.quarter - other.quarter);
}
