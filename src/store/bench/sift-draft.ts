import type { ChoreAct, ChoreStep } from "../../core/chore/index.ts";
import { ALL_HITS, type Sift } from "../../core/sift/index.ts";

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
  /** What is picked stays as it is, since a hand has changed it or it was worked on; null while the rule says what is picked. */
  readonly held: ReadonlySet<string> | null;
  /** Whether the acts are done: they are shown again once something about them changes, or done once more. */
  readonly isApplied: boolean;
}

export const EMPTY_DRAFT: SiftDraft = {
  sift: ALL_HITS,
  acts: [],
  more: [],
  name: null,
  within: "all",
  pickedBefore: new Set(),
  held: null,
  isApplied: false,
};

/** A draft with something changed about it: another rule is asked anew, and whatever changes is shown again. */
export function changeDraft(draft: SiftDraft, change: Partial<SiftDraft>): SiftDraft {
  const isAskedAnew = change.sift !== undefined || change.within !== undefined;
  return { ...draft, isApplied: false, ...(isAskedAnew ? { held: null } : {}), ...change };
}
