import { DEFAULT_TREATMENT, type TimingTreatment } from "./document/treatment.ts";
import { ordinal } from "./ordinal.ts";

/** What stays with the voice that it was found for or switched on in. */
const STAYS = {
  isOn: true,
  grid: true,
  stretches: true,
  ghostGrid: true,
  exceptions: true,
  pocketMs: true,
  latencyMs: true,
  latencyStays: true,
} as const satisfies Partial<Record<keyof TimingTreatment, true>>;

/** How a voice is tightened, without where it was played: what can be carried to another voice, pattern or take. */
export type TimingRecipe = Omit<TimingTreatment, keyof typeof STAYS>;

/** Settings under a name, as they are kept on the shelf. */
export interface Recipe {
  readonly id: string;
  readonly name: string;
  readonly timing: TimingRecipe;
}

/** What of a timing can be carried to another voice. */
export const recipeOf = (timing: TimingTreatment): TimingRecipe => partOf(timing, false) as TimingRecipe;

/** A voice's own grid and habit, treated as a recipe says, and switched on. */
export function withRecipe(timing: TimingTreatment, recipe: TimingRecipe): TimingTreatment {
  return { ...(partOf(timing, true) as Pick<TimingTreatment, keyof typeof STAYS>), ...recipe, isOn: true };
}

const partOf = (timing: TimingTreatment, stays: boolean) =>
  Object.fromEntries(Object.entries(timing).filter(([name]) => name in STAYS === stays));

const usual = recipeOf(DEFAULT_TREATMENT.timing);

/** The recipes that come with the application. */
export const RECIPES: readonly Recipe[] = [
  { id: "tight-studio", name: "Tight studio", timing: { ...usual, strengthPercent: 92, leaveWithinMs: 2 } },
  { id: "same-drummer", name: "Same drummer, better day", timing: { ...usual, strengthPercent: 70, leaveWithinMs: 6 } },
  { id: "only-strays", name: "Only the strays", timing: { ...usual, strengthPercent: 85, leaveWithinMs: 18 } },
  { id: "half-way", name: "Half-way there", timing: { ...usual, strengthPercent: 50 } },
  {
    id: "leaning-back",
    name: "Leaning back",
    timing: { ...usual, strengthPercent: 80, pushMs: 9, humanizeMs: 2 },
  },
  { id: "eager", name: "Eager", timing: { ...usual, strengthPercent: 80, pushMs: -6, humanizeMs: 2 } },
  {
    id: "late-every-second",
    name: "Every second one late",
    timing: { ...usual, strengthPercent: 85, pushMs: 8, pushEvery: 2, pushFrom: 2 },
  },
  { id: "to-the-line", name: "To the line", timing: { ...usual, strengthPercent: 100 } },
];

/** A recipe as a sentence that a drummer reads. */
export function recipeSentence(recipe: TimingRecipe): string {
  const { strengthPercent, leaveWithinMs, reachPercent, keepsGraceNotes } = recipe;
  const { pushMs, pushTicks = 0, pushEvery, humanizeMs, humanizeWanderPercent = 0 } = recipe;
  const parts = [`Quantize ${strengthPercent} %`];
  if (leaveWithinMs > 0) parts.push(`keep hits within ${leaveWithinMs} ms`);
  for (const [role, own] of Object.entries(recipe.byRole ?? {})) {
    if (own.strengthPercent !== undefined) parts.push(`${role}s ${own.strengthPercent} %`);
    if (own.swingSharePercent !== undefined) parts.push(`${role}s swing ${own.swingSharePercent} % as much`);
  }
  if (reachPercent < 50) parts.push(`none farther than ${reachPercent} % of a step`);
  if (pushMs !== 0 || pushTicks !== 0) {
    const which = pushEvery === 1 ? "" : ` every ${ordinal(pushEvery)} hit`;
    const far = pushTicks === 0 ? `${Math.abs(pushMs)} ms` : `${Math.abs(pushTicks)} ticks`;
    parts.push(pushMs + pushTicks > 0 ? `lay back${which} ${far}` : `push${which} ahead ${far}`);
  }
  const wandering = humanizeWanderPercent > 0 ? `, ${humanizeWanderPercent} % of it drifting slowly` : "";
  if (humanizeMs > 0) parts.push(`humanize ± ${humanizeMs} ms${wandering}`);
  parts.push(keepsGraceNotes ? "keep flams" : "flams too");
  return `${parts.join(", ")}.`;
}
