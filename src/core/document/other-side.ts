import type { Arrangement, Cells } from "./arrangement.ts";
import type { Pattern } from "./pattern.ts";
import type { Treatment } from "./treatment.ts";

export const SIDE_LETTERS = ["A", "B"] as const;
export type SideLetter = (typeof SIDE_LETTERS)[number];

/** A second set of all settings, kept aside to be compared with the one that is heard. */
export interface OtherSide {
  /** What it is called; the set that is heard is the other letter. */
  readonly letter: SideLetter;
  /** By voice. */
  readonly treatments: Readonly<Record<string, Treatment>>;
  /** By pattern of the song. */
  readonly cells: Readonly<Record<string, Cells>>;
  readonly grooves: Arrangement["grooves"];
}

/** All settings of a take as they are, kept under a letter. */
export function sideOfNow({ lanes, arrangement }: Pattern, letter: SideLetter): OtherSide {
  return {
    letter,
    treatments: Object.fromEntries(lanes.map(({ voiceId, treatment }) => [voiceId, treatment])),
    cells: Object.fromEntries((arrangement?.patterns ?? []).flatMap(({ id, cells }) => (cells ? [[id, cells]] : []))),
    grooves: arrangement?.grooves ?? {},
  };
}

/**
 * Turns to the settings that were kept aside, and keeps aside those that were heard. Done twice, all is as before. A voice that came
 * later has the same settings on both sides.
 */
export function turnSides(pattern: Pattern): Pattern {
  const { otherSide, arrangement } = pattern;
  if (!otherSide) return pattern;
  const { treatments, cells, grooves } = otherSide;
  const kept = sideOfNow(pattern, otherSide.letter === "A" ? "B" : "A");
  const lanes = pattern.lanes.map((lane) => ({ ...lane, treatment: treatments[lane.voiceId] ?? lane.treatment }));
  const patterns = arrangement?.patterns.map(({ cells: _, ...one }) => {
    const own = cells[one.id];
    return own ? { ...one, cells: own } : one;
  });
  return {
    ...pattern,
    lanes,
    ...(arrangement && patterns ? { arrangement: { ...arrangement, patterns, grooves } } : {}),
    otherSide: {
      ...kept,
      // What belongs to voices and patterns that are away for now waits for them.
      treatments: { ...treatments, ...kept.treatments },
    },
  };
}
