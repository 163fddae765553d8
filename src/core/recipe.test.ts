import { describe, expect, it } from "vitest";
import { DEFAULT_TREATMENT, type TimingTreatment } from "./document/treatment.ts";
import { RECIPES, recipeOf, recipeSentence, withRecipe } from "./recipe.ts";

const own: TimingTreatment = {
  ...DEFAULT_TREATMENT.timing,
  grid: { family: "triplet", denominator: 8 },
  stretches: [{ startTick: 0, endTick: 480, grid: { family: "straight", denominator: 16 } }],
  pocketMs: 7,
  latencyMs: 3,
  latencyStays: true,
};

describe("a recipe", () => {
  it("carries how a voice is tightened, and leaves each its own grid, stretches, pocket and latency", () => {
    const recipe = recipeOf({ ...DEFAULT_TREATMENT.timing, strengthPercent: 64, pushMs: 5, pocketMs: -9 });
    expect(withRecipe(own, recipe)).toEqual({ ...own, isOn: true, strengthPercent: 64, pushMs: 5 });
  });

  it("takes away what the voice had before and the recipe does not", () => {
    const pushed = { ...own, pushTicks: 12, pushEvery: 3 };
    expect(withRecipe(pushed, recipeOf(DEFAULT_TREATMENT.timing))).toEqual({ ...own, isOn: true });
  });

  it("gives back what was taken", () => {
    expect(withRecipe(own, recipeOf(own))).toEqual({ ...own, isOn: true });
  });

  it("reads as a sentence", () => {
    const words = (id: string) => recipeSentence(RECIPES.find((recipe) => recipe.id === id)!.timing);
    expect(words("tight-studio")).toBe("Quantize 92 %, keep hits within 2 ms, keep flams.");
    expect(words("leaning-back")).toBe("Quantize 80 %, lay back 9 ms, humanize ± 2 ms, keep flams.");
    expect(words("late-every-second")).toBe("Quantize 85 %, lay back every 2nd hit 8 ms, keep flams.");
    const ticks = { ...recipeOf(own), pushTicks: -10, keepsGraceNotes: false, reachPercent: 30 };
    expect(recipeSentence(ticks)).toBe(
      "Quantize 80 %, none farther than 30 % of a step, push ahead 10 ticks, flams too.",
    );
  });

  it("comes in several kinds, each with a name and a sentence of its own", () => {
    expect(new Set(RECIPES.map(({ id }) => id)).size).toBe(RECIPES.length);
    expect(new Set(RECIPES.map(({ name }) => name)).size).toBe(RECIPES.length);
    expect(new Set(RECIPES.map(({ timing }) => recipeSentence(timing))).size).toBe(RECIPES.length);
  });
});
