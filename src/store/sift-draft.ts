import type { ChoreAct, ChoreStep } from "../core/chore/index.ts";
import { ALL_HITS, type Sift } from "../core/sift/index.ts";

/** A rule on its way, with what it should do. */
export interface SiftDraft {
  readonly sift: Sift;
  readonly acts: readonly ChoreAct[];
  /** What is done after that. */
  readonly more: readonly ChoreStep[];
  /** The name of the chore that it was taken from; null for a rule of one's own. */
  readonly name: string | null;
  readonly within: "all" | "loop" | "picked";
  /** What was picked when the rule was opened. */
  readonly pickedBefore: ReadonlySet<string>;
}

export const EMPTY_DRAFT: SiftDraft = {
  sift: ALL_HITS,
  acts: [],
  more: [],
  name: null,
  within: "all",
  pickedBefore: new Set(),
};
