import type { PatternFacts, PatternKind } from "./describe.ts";
import type { Rhythm, RhythmStroke } from "./rhythm.ts";

/** A pattern as a file of patterns has it: what another program needs to play it, in open words. */
export interface FiledPattern {
  readonly name: string;
  readonly from: string;
  readonly kind: PatternKind;
  readonly meter: string;
  readonly bars: number;
  readonly bpm: number;
  /** Strokes a bar, each by what it counts. */
  readonly fullness: number;
  readonly grid: string;
  readonly strokes: readonly {
    /** From the first bar line. */
    readonly quarters: number;
    readonly drum: string;
    readonly stroke: string;
    readonly note: number;
    readonly velocity: number;
  }[];
}

export interface PatternFile {
  readonly format: "idle-marten-patterns";
  readonly version: 1;
  readonly patterns: readonly FiledPattern[];
}

/** A pattern with what is told of it. */
export interface ToldPattern {
  readonly name: string;
  readonly from: string;
  readonly kind: PatternKind;
  readonly bpm: number;
  readonly facts: PatternFacts;
  readonly rhythm: Rhythm;
}

const DIGITS = 1e5;

/** Patterns as one file, as `public/patterns.schema.json` describes it. */
export function patternFile(patterns: readonly ToldPattern[]): PatternFile {
  return {
    format: "idle-marten-patterns",
    version: 1,
    patterns: patterns.map(({ name, from, kind, bpm, facts, rhythm }) => ({
      name,
      from,
      kind,
      meter: facts.meter,
      bars: facts.bars,
      bpm,
      fullness: Math.round(facts.fullness * 10) / 10,
      grid: facts.grid,
      strokes: rhythm.strokes.map(strokeOf),
    })),
  };
}

const strokeOf = ({ quarters, velocity, hit }: RhythmStroke) => ({
  quarters: Math.max(0, Math.round(quarters * DIGITS) / DIGITS),
  drum: hit.voiceId,
  stroke: hit.articulationId,
  note: hit.note,
  velocity,
});

/** The name of a pattern without signs that no file name can hold. */
export const plainFileName = (name: string): string => name.replaceAll(/[\\/:*?"<>|]/g, " ").trim() || "pattern";

/** Where each pattern goes in a folder: by kind, under its name. Two of one name are told apart by a number. */
export function pathsOf(patterns: readonly Pick<ToldPattern, "name" | "kind">[]): readonly string[] {
  const taken = new Set<string>();
  return patterns.map(({ name, kind }) => {
    const plain = plainFileName(name);
    let path = `${kind}s/${plain}.mid`;
    for (let number = 2; taken.has(path.toLowerCase()); number++) path = `${kind}s/${plain} ${number}.mid`;
    taken.add(path.toLowerCase());
    return path;
  });
}
