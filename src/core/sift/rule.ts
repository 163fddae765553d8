import type { SiftTest } from "./tests/index.ts";

/** Any of some tests, or none of them. */
export interface SiftClause {
  readonly not?: true;
  readonly anyOf: readonly SiftTest[];
}

/** A rule that selects hits: those that every clause lets through, and of them all or every nth. */
export interface Sift {
  readonly clauses: readonly SiftClause[];
  readonly nth?: {
    readonly every: number;
    /** The first of them, counted from 1. */
    readonly from: number;
    /** Whether the count begins anew at each bar line. */
    readonly perBar: boolean;
  };
}

/** Everything. */
export const ALL_HITS: Sift = { clauses: [] };
