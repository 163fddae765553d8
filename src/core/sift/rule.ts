import type { Family, Role } from "../document/index.ts";
import type { Grid } from "../time/index.ts";

export const PLACES = ["downBeats", "beats", "backBeats", "offBeats", "betweens", "triplets"] as const;
/** Where in the bar a hit belongs, counted from the pulse of the meter. */
export type Place = (typeof PLACES)[number];

export const COMPANIES = ["alone", "together", "flam"] as const;
/** Whether another drum is struck with it, or it is part of a flam or drag. */
export type Company = (typeof COMPANIES)[number];

/** One thing that a hit is asked. All ranges include both ends. */
export type SiftTest =
  | { readonly kind: "voices"; readonly voiceIds: readonly string[] }
  | { readonly kind: "families"; readonly families: readonly Family[] }
  | { readonly kind: "stroke"; readonly voiceId: string; readonly articulationId: string }
  | { readonly kind: "velocity"; readonly from: number; readonly to: number }
  | { readonly kind: "roles"; readonly roles: readonly Role[] }
  | { readonly kind: "places"; readonly places: readonly Place[] }
  /** Steps of a grid, counted from 1 at each bar line. */
  | { readonly kind: "steps"; readonly grid: Grid; readonly steps: readonly number[] }
  | { readonly kind: "drift"; readonly fromMs: number; readonly toMs: number }
  /** Counted from 1. */
  | { readonly kind: "bars"; readonly from: number; readonly to: number }
  | { readonly kind: "company"; readonly company: Company }
  | { readonly kind: "pinned"; readonly what: "time" | "loudness" };

/** Any of some tests, or none of them. */
export interface SiftClause {
  readonly not?: true;
  readonly anyOf: readonly SiftTest[];
}

/** A rule that picks hits: those that every clause lets through, and of them all or every nth. */
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
