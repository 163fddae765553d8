import type { Grid } from "./time/index.ts";

/** The timing step of a treatment: which slots a voice is pulled to, and how far. */
export interface TimingTreatment {
  readonly isOn: boolean;
  readonly grid: Grid;
  /** 0 leaves a hit where it is, 100 lands it on its slot. */
  readonly strengthPercent: number;
  /** Hits whose drift is at most this are left alone. */
  readonly leaveWithinMs: number;
  /** Hits whose drift is more than this share of a step are left alone. 50 reaches everything. */
  readonly reachPercent: number;
  /** How far off the line the voice sits by habit, late is positive. Taken off before a slot is chosen, not after. */
  readonly pocketMs: number;
  /** Grace notes keep their distance in ms to their main hit. */
  readonly keepsGraceNotes: boolean;
}

/** The standing settings of one lane. They never change the recorded hits. */
export interface Treatment {
  readonly timing: TimingTreatment;
}

export const DEFAULT_TREATMENT: Treatment = {
  timing: {
    isOn: false,
    grid: { family: "straight", denominator: 16 },
    strengthPercent: 80,
    leaveWithinMs: 0,
    reachPercent: 50,
    pocketMs: 0,
    keepsGraceNotes: true,
  },
};
