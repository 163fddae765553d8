import { type Treatment, takenLatencyMs } from "./treatment.ts";

/** What a step decides of a hit: whether it sounds, where, and how loud. */
type Decision = "whether" | "where" | "howLoud";

/** A step of a treatment: all that others ask of it, without knowing which steps there are. */
export interface TreatmentStep {
  readonly name: string;
  readonly decides: readonly Decision[];
  isOn(treatment: Treatment): boolean;
  /** The treatment without it; its settings stay where a switch turns it on again. */
  off(treatment: Treatment): Treatment;
}

/** The steps in the order in which a voice is worked on. What they do to hits, and in which order, is read in `treat`. */
export const STEPS = {
  repair: {
    name: "Repair",
    decides: ["whether"],
    isOn: ({ repair }) => (repair?.leftOut.length ?? 0) > 0,
    off: ({ repair: _, ...treatment }) => treatment,
  },
  timing: {
    name: "Quantize",
    decides: ["where"],
    isOn: ({ timing }) => timing.isOn || takenLatencyMs(timing) !== 0,
    off: ({ timing: { latencyStays: _, ...timing }, ...treatment }) => ({
      ...treatment,
      timing: { ...timing, isOn: false },
    }),
  },
  dynamics: {
    name: "Dynamics",
    decides: ["howLoud"],
    isOn: ({ dynamics }) => dynamics?.isOn === true,
    off: (treatment) =>
      treatment.dynamics ? { ...treatment, dynamics: { ...treatment.dynamics, isOn: false } } : treatment,
  },
  feel: {
    name: "Groove",
    decides: ["where", "howLoud"],
    isOn: ({ feel }) => feel?.isOn === true,
    off: (treatment) => (treatment.feel ? { ...treatment, feel: { ...treatment.feel, isOn: false } } : treatment),
  },
} satisfies Readonly<Record<string, TreatmentStep>>;

export type StepId = keyof typeof STEPS;
export const STEP_IDS = Object.keys(STEPS) as readonly StepId[];
const ALL: readonly TreatmentStep[] = Object.values(STEPS);

/** Whether any step of a treatment is on. */
export const isTreated = (treatment: Treatment): boolean => ALL.some((step) => step.isOn(treatment));

/** Whether a step that is on decides this of hits. */
export const isDecided = (treatment: Treatment, what: Decision): boolean =>
  ALL.some((step) => step.decides.includes(what) && step.isOn(treatment));

/** The treatment with every step off. */
export const withoutSteps = (treatment: Treatment): Treatment =>
  ALL.reduce((before, step) => step.off(before), treatment);
