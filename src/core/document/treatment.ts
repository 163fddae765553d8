import type { Grid, GridStretch } from "../time/index.ts";
import type { Groove } from "./groove.ts";
import type { Role, RoleBorders } from "./role.ts";

/** Uniform within the spread, or bell-shaped with the spread as its standard deviation. */
export const NOISE_SHAPES = ["even", "bell"] as const;
export type NoiseShape = (typeof NOISE_SHAPES)[number];

/** The timing step of a treatment: which slots a voice is pulled to, and how far. */
export interface TimingTreatment {
  readonly isOn: boolean;
  readonly grid: Grid;
  /** Stretches in which the voice follows another grid. Left out, there are none. */
  readonly stretches?: readonly GridStretch[];
  /** What ghost notes are pulled to, as finer steps or with a swing of their own. Left out, as everything else. */
  readonly ghostGrid?: Grid;
  /** What is otherwise for ghosts, or for accents, than for strokes. Left out, nothing is. */
  readonly byRole?: Partial<Record<"ghost" | "accent", RoleTiming>>;
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
  /** How late the whole take came in, by a slow module for instance; taken off first. */
  readonly latencyMs: number;
  /** It is taken off also while hits are not quantized: of the whole take, and not of what is pulled. Left out, only with the rest. */
  readonly latencyStays?: true;
  /** Ahead of the beat is negative, behind it positive; added after quantizing. */
  readonly pushMs: number;
  /** The same in ticks, beside it: as far at any tempo as on paper. Left out, it is 0. */
  readonly pushTicks?: number;
  /** Only every nth hit is pushed; 1 pushes all. */
  readonly pushEvery: number;
  /** The first of those, counted from 1. */
  readonly pushFrom: number;
  /** How far chance moves each hit; 0 for none. */
  readonly humanizeMs: number;
  readonly humanizeShape: NoiseShape;
  /** Another seed is another roll of the dice; the same one is always the same. */
  readonly humanizeSeed: number;
  /** How much of the chance is a slow wander that hits near one another share, 0 to 100. Left out, none: dice for each. */
  readonly humanizeWanderPercent?: number;
  /** Stretches in which the voice is treated otherwise, in order and apart. Left out, there are none. */
  readonly exceptions?: readonly TimingException[];
}

/** What can be set otherwise in a stretch than in the rest of a voice. Left out, it is as in the rest. */
export type ExceptionalSettings = Partial<
  Pick<TimingTreatment, "strengthPercent" | "leaveWithinMs" | "reachPercent" | "pushMs" | "humanizeMs">
>;

/** A stretch in which a voice is treated otherwise. */
export interface TimingException extends ExceptionalSettings {
  readonly startTick: number;
  /** Where it ends, not included. */
  readonly endTick: number;
}

/** How far a voice can be pushed ahead or behind, in ms. */
export const MOST_PUSH_MS = 100;

/** What is left out is as for strokes. */
export interface RoleTiming {
  readonly strengthPercent?: number;
  /** How much of the swing of the grid they follow, 0 to 100. */
  readonly swingSharePercent?: number;
  /** How much of the humanize they take, 0 to 200. */
  readonly humanizePercent?: number;
}

/** The repair step: hits that nobody played are neither heard nor exported, until it is switched off. */
export interface RepairTreatment {
  /** The ids of those that were found; one that a person keeps is not among them. */
  readonly leftOut: readonly string[];
}

/** What is done to the loudness of one role, in this order. What is left out changes nothing. */
export interface RoleShape {
  /** All as loud as this, 1 to 127. */
  readonly setVelocity?: number;
  /** How far towards the role's own median, 0 to 100. */
  readonly evenOutPercent?: number;
  /** 100 changes nothing. */
  readonly scalePercent?: number;
  readonly addVelocity?: number;
  readonly lowestVelocity?: number;
  readonly highestVelocity?: number;
  /** How much of the chance it takes, 0 to 200. Left out, 100. */
  readonly chancePercent?: number;
}

/** Loudness that goes round from each bar line on, as strong and weak hats do. */
export interface LoudnessCycle {
  /** What it steps in. */
  readonly grid: Grid;
  /** How loud the hits of each step are, in percent of what they were; over again until the bar ends. */
  readonly percents: readonly number[];
}

/** The dynamics step of a treatment: how loud a voice goes out. Hits whose loudness a hand has set are left alone. */
export interface DynamicsTreatment {
  readonly isOn: boolean;
  readonly byRole?: Partial<Record<Role, RoleShape>>;
  /** The whole voice, 100 as it was played. */
  readonly loudnessPercent: number;
  /** More (above 100) or less dynamic around its middle; 0 makes all as loud as that. */
  readonly rangePercent: number;
  /** Left out, the voice's own median. */
  readonly middleVelocity?: number;
  /** Left out, there is none. */
  readonly cycle?: LoudnessCycle;
  /** How far chance changes each hit, in velocity, as in the timing; 0 for none. */
  readonly deviation: number;
  readonly deviationShape: NoiseShape;
  readonly deviationSeed: number;
  readonly lowestVelocity: number;
  readonly highestVelocity: number;
  /** What would go over the top, or to nothing, is fitted in by scaling its role, instead of being cut off. */
  readonly fitsIn?: true;
  /** Strokes that stay as they are, as open and foot hats. Left out, there are none. */
  readonly sparedArticulationIds?: readonly string[];
  /** Stretches in which the voice is shaped otherwise, in order and apart. Left out, there are none. */
  readonly exceptions?: readonly DynamicsException[];
}

/** A stretch in which a voice is shaped otherwise. What is left out is as in the rest. */
export interface DynamicsException
  extends Partial<Pick<DynamicsTreatment, "isOn" | "loudnessPercent" | "rangePercent">> {
  readonly startTick: number;
  /** Where it ends, not included. */
  readonly endTick: number;
}

/** The feel step of a treatment: a groove laid on a voice. */
export interface FeelTreatment {
  readonly isOn: boolean;
  /** The groove itself, and not its name, so that a take sounds the same whatever becomes of the shelf. */
  readonly groove: Groove;
  /** How far towards it in time: 0 not at all, 100 all the way, below 0 away from it. -200 to 200. */
  readonly timingPercent: number;
  /** The same for loudness. */
  readonly accentPercent: number;
}

export const LENGTH_MODES = ["fixed", "next", "scaled", "random"] as const;

/** How long the notes of a voice last when they go out: fixed, up to the next hit, scaled, or by chance between two. */
export interface NoteLengths {
  readonly mode: (typeof LENGTH_MODES)[number];
  readonly fixedMs: number;
  /** 100 as recorded. */
  readonly scalePercent: number;
  readonly fromMs: number;
  readonly toMs: number;
  readonly seed: number;
}

export const USUAL_LENGTHS: NoteLengths = {
  mode: "fixed",
  fixedMs: 60,
  scalePercent: 100,
  fromMs: 40,
  toMs: 120,
  seed: 1,
};

/** The standing settings of one lane, in the order in which they act. They never change the recorded hits. */
export interface Treatment {
  /** Left out, it is off. */
  readonly repair?: RepairTreatment;
  /** Where a hand has set the borders between roles. Left out, they are found. */
  readonly roles?: RoleBorders;
  readonly timing: TimingTreatment;
  /** Left out, it is off. */
  readonly dynamics?: DynamicsTreatment;
  /** Left out, there is none. */
  readonly feel?: FeelTreatment;
  /** Left out, notes last as long as they were recorded. */
  readonly lengths?: NoteLengths;
}

/** The dynamics step before anything of it is set. */
export const USUAL_DYNAMICS: DynamicsTreatment = {
  isOn: false,
  loudnessPercent: 100,
  rangePercent: 100,
  deviation: 0,
  deviationShape: "bell",
  deviationSeed: 1,
  lowestVelocity: 1,
  highestVelocity: 127,
};

/** How much is taken off as latency. */
export const takenLatencyMs = ({ isOn, latencyStays, latencyMs }: TimingTreatment): number =>
  isOn || latencyStays ? latencyMs : 0;

export const DEFAULT_TREATMENT: Treatment = {
  timing: {
    isOn: false,
    grid: { family: "straight", denominator: 16 },
    strengthPercent: 80,
    leaveWithinMs: 0,
    reachPercent: 50,
    pocketMs: 0,
    keepsGraceNotes: true,
    latencyMs: 0,
    pushMs: 0,
    pushEvery: 1,
    pushFrom: 1,
    humanizeMs: 0,
    humanizeShape: "bell",
    humanizeSeed: 1,
  },
};
