import type { Pattern } from "../pattern.ts";

/** The parts of a pattern beside its hits. */
export type PatternPart = Exclude<keyof Pattern, "hits">;

/** What an edit may change. What is not named stays as it is. */
export interface Touched {
  /** The hits that come, go or change. */
  readonly hitIds: readonly string[];
  /** Whether every hit that is there changes; those that come and go are named all the same. */
  readonly areAllMoved?: true;
  readonly parts: readonly PatternPart[];
}

/**
 * All that there is to know of one kind of edit. Whatever handles edits asks here, so that a new kind is a new module and one line in
 * `EDIT_KINDS`.
 */
export interface EditKind<Edit, Inverse = Edit> {
  /**
   * Makes the next pattern.
   * @throws StaleEditError if something that the edit names is gone or holds another value; it is never bent to fit
   */
  apply(pattern: Pattern, edit: Edit): Pattern;
  /** The edit that takes it back. Needs no pattern: each change carries its value before and after. */
  invert(edit: Edit): Inverse;
  /** Whether it would leave every pattern as it is. Such edits are not stored. */
  isEmpty(edit: Edit): boolean;
  touches(edit: Edit): Touched;
  /** Folds two edits of one gesture into one, so that a drag is one undo step. Left out where two stay two. */
  merge?(first: Edit, second: Edit): Edit;
  /** What of this kind leads from one state of a take towards another; empty edits among them are dropped. */
  between(from: Pattern, to: Pattern): readonly Edit[];
  /** The shapes of its fields beside `kind`, in JSON schema, as it is stored and sent. */
  readonly fields: Readonly<Record<string, object>>;
}
