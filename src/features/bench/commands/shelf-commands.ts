import { useMemo } from "react";
import type { Chore } from "../../../core/chore/index.ts";
import type { Recipe } from "../../../core/recipe.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { useChores } from "../../../store/shelf/use-chores.ts";
import { useRecipes } from "../../../store/shelf/use-recipes.ts";
import { runKeptChore } from "../sift/sift-actions.ts";
import { workingLane } from "./actions.ts";
import type { BenchKeyed } from "./command-keys.ts";
import { recipeEdit } from "./treatment-actions.ts";

// Chores and recipes on the shelf can have keys as commands have. None comes with one.

/** Of chores and of recipes, as the sheet of keys lists them. */
export interface ShelfCommands {
  readonly chores: readonly BenchKeyed[];
  readonly recipes: readonly BenchKeyed[];
}

export const choreCommand = (chore: Chore): BenchKeyed => ({
  id: `chore ${chore.id}`,
  name: chore.name,
  keys: [],
  run: (bench) => runKeptChore(bench, chore),
});

export const recipeCommand = (recipe: Recipe): BenchKeyed => ({
  id: `recipe ${recipe.id}`,
  name: recipe.name,
  keys: [],
  run: (bench) => putRecipeOn(bench, recipe),
});

function putRecipeOn({ store }: Bench, { name, timing }: Recipe): string | null {
  const lane = workingLane(store.getState());
  if (!lane) return "Open a lane first.";
  const label = `Use the recipe ${name} for ${lane.voice.name}`;
  store.commit(label, recipeEdit(store.getState(), new Set([lane.voiceId]), timing));
  return `${label}.`;
}

export function useShelfCommands(): ShelfCommands {
  const { chores } = useChores();
  const { recipes } = useRecipes();
  return useMemo(
    () => ({ chores: (chores ?? []).map(choreCommand), recipes: (recipes ?? []).map(recipeCommand) }),
    [chores, recipes],
  );
}
