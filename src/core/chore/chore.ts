import type { Sift } from "../sift/index.ts";
import type { ChoreAct } from "./acts/index.ts";

export interface ChoreStep {
  readonly sift: Sift;
  readonly acts: readonly ChoreAct[];
}

/** A rule and what it should do, under a name; or several of them, one after the other. */
export interface Chore {
  readonly id: string;
  readonly name: string;
  readonly steps: readonly ChoreStep[];
}
