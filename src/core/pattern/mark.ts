import type { Variation } from "./vary.ts";

/** What a person says of a pattern. It is known by what it plays, so that it is said of it wherever it is cut from. */
export interface PatternMark {
  /** What it plays, as `twinKey` has it. */
  readonly played: string;
  /** A name of its own; empty for the one that it has from where it was cut. */
  readonly name: string;
  readonly tags: readonly string[];
  readonly isFavourite: boolean;
  /** How it is to differ from how it was played. Left out, not at all. */
  readonly variation?: Variation;
}

/** The longest key of what a pattern plays: some thousands of strokes. Longer patterns are not marked. */
export const LONGEST_PLAYED = 60_000;

/** Whether nothing is said of a pattern. */
export const isBlankMark = ({ name, tags, isFavourite, variation }: PatternMark) =>
  name === "" && tags.length === 0 && !isFavourite && variation === undefined;
