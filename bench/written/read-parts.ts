import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";

// Parts that were written out by hand, in a small text form of their own: a group of signs is a beat, and has as many steps as it has
// signs, so that straight beats, triplets and rolls stand beside each other as a player would say them.

export type Loudness = "ghost" | "normal" | "accent";

/** A stroke as it was meant. */
export interface WrittenStroke {
  /** As the part calls the drum: `hh`, `sn`, `k`. */
  readonly drum: string;
  /** Quarters from the start of the part. */
  readonly quarter: number;
  readonly loudness: Loudness;
  readonly graceCount: number;
  /** How many steps its beat has, and how long the beat is in quarters. */
  readonly stepsOfBeat: number;
  readonly beatQuarters: number;
  /** Whether it is in bars that do not swing where the part does. */
  readonly isStraight: boolean;
  /** How far through a fill it is, 0 to 1; 0 elsewhere. */
  readonly throughFill: number;
}

export interface WrittenBar {
  readonly startQuarter: number;
  readonly numerator: number;
  readonly denominator: number;
}

export interface WrittenPart {
  readonly title: string;
  /** Slowest and fastest. */
  readonly bpm: readonly [number, number];
  readonly swing: { readonly denominator: 8 | 16; readonly percent: readonly [number, number] } | null;
  readonly bars: readonly WrittenBar[];
  readonly strokes: readonly WrittenStroke[];
  readonly lengthQuarters: number;
}

const SIGNS: Readonly<Record<string, { readonly loudness: Loudness; readonly graceCount: number }>> = {
  o: { loudness: "ghost", graceCount: 0 },
  x: { loudness: "normal", graceCount: 0 },
  X: { loudness: "accent", graceCount: 0 },
  f: { loudness: "accent", graceCount: 1 },
  d: { loudness: "accent", graceCount: 2 },
  r: { loudness: "accent", graceCount: 3 },
};

interface Section {
  readonly isFill: boolean;
  readonly isStraight: boolean;
  readonly meter: string;
  readonly rows: readonly { readonly drum: string; readonly beats: readonly string[] }[];
}

/** All parts of the folder, in the order of their files. */
export function readWrittenParts(): readonly WrittenPart[] {
  const folder = path.join(import.meta.dirname, "parts");
  return readdirSync(folder)
    .sort()
    .flatMap((name) => readParts(readFileSync(path.join(folder, name), "utf8")));
}

/** @throws Error naming the line that says nothing */
export function readParts(text: string): readonly WrittenPart[] {
  return text
    .split(/^part /m)
    .slice(1)
    .map(readPart);
}

function readPart(text: string): WrittenPart {
  const [head = "", ...lines] = text.split("\n").filter((line) => line.trim() !== "" && !line.startsWith("#"));
  const [title = "", meter = "", bpm = "", swing] = head.split("|").map((field) => field.trim());
  const sections = new Map<string, Section & { rows: { drum: string; beats: readonly string[] }[] }>();
  let current: (Section & { rows: { drum: string; beats: readonly string[] }[] }) | null = null;
  let form = "";
  for (const line of lines) {
    const words = line.trim().split(/\s+/);
    if (words[0] === "form") form = words.slice(1).join("");
    else if (/^[A-Z]$/.test(words[0]!)) {
      const [isFill, isStraight] = [words.includes("fill"), words.includes("straight")];
      current = { isFill, isStraight, meter: words.find((word) => word.includes("/")) ?? meter, rows: [] };
      sections.set(words[0]!, current);
    } else if (current) current.rows.push({ drum: words[0]!, beats: words.slice(1) });
    else throw new Error(`“${title}”: a row stands before its section: ${line}`);
  }
  const bars: WrittenBar[] = [];
  const strokes: WrittenStroke[] = [];
  let startQuarter = 0;
  for (const letter of form) {
    const section = sections.get(letter);
    if (!section) throw new Error(`“${title}” has no section ${letter}.`);
    const [numerator, denominator] = section.meter.split("/").map(Number) as [number, number];
    bars.push({ startQuarter, numerator, denominator });
    strokes.push(...strokesOf(title, section, beatsOf(numerator, denominator), startQuarter));
    startQuarter += (4 * numerator) / denominator;
  }
  const range = (words: string) => {
    const [low = 0, high = low] = words.split("-").map(Number);
    return [low, high] as const;
  };
  const [, swingSteps, swingPercent] = swing?.split(" ") ?? [];
  return {
    title,
    bpm: range(bpm),
    swing: swingPercent ? { denominator: swingSteps === "16" ? 16 : 8, percent: range(swingPercent) } : null,
    bars,
    strokes: strokes.sort((a, b) => a.quarter - b.quarter),
    lengthQuarters: startQuarter,
  };
}

/** The beats of a bar in quarters, as it is counted: threes in 6/8, twos and a three in 5/8 and 7/8. */
function beatsOf(numerator: number, denominator: number): readonly number[] {
  if (denominator !== 8) return Array.from({ length: numerator }, () => 4 / denominator);
  if (numerator % 3 === 0) return Array.from({ length: numerator / 3 }, () => 1.5);
  return [...Array.from({ length: (numerator - 3) / 2 }, () => 1), 1.5];
}

function strokesOf(title: string, section: Section, beats: readonly number[], barStart: number): WrittenStroke[] {
  const barQuarters = beats.reduce((sum, one) => sum + one, 0);
  return section.rows.flatMap(({ drum, beats: groups }) => {
    if (groups.length !== beats.length) throw new Error(`“${title}”: ${drum} has ${groups.length} beats.`);
    let beatStart = 0;
    return groups.flatMap((group, beat) => {
      const beatQuarters = beats[beat]!;
      const found = [...group].flatMap((sign, step): WrittenStroke[] => {
        if (sign === ".") return [];
        const meaning = SIGNS[sign];
        if (!meaning) throw new Error(`“${title}”: the sign ${sign} means nothing.`);
        const inBar = beatStart + (step * beatQuarters) / group.length;
        return [
          {
            drum,
            quarter: barStart + inBar,
            ...meaning,
            stepsOfBeat: group.length,
            beatQuarters,
            isStraight: section.isStraight,
            throughFill: section.isFill ? inBar / barQuarters : 0,
          },
        ];
      });
      beatStart += beatQuarters;
      return found;
    });
  });
}
