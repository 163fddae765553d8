import { RECIPES, type TimingRecipe } from "../core/recipe.ts";
import type { KeptSort } from "./kept.ts";

/** Settings of a lane under a name. */
export const RECIPE_SORT: KeptSort<{ readonly timing: TimingRecipe }> = {
  table: "recipes",
  column: "timing",
  word: "recipe",
  builtIn: RECIPES,
  read: (json) => ({ timing: json as TimingRecipe }),
  write: ({ timing }) => timing,
};
