import { keepRecipe, listRecipes, putRecipeBack, removeRecipe } from "../server-api.ts";
import { useShelf } from "./use-shelf.ts";

const CALLS = { sort: "recipes", list: listRecipes, keep: keepRecipe, remove: removeRecipe, putBack: putRecipeBack };

/** The recipes on the shelf, and what can be done with them. */
export function useRecipes() {
  const { kept: recipes, attempt: _, ...rest } = useShelf(CALLS);
  return { recipes, ...rest };
}

export type RecipeShelf = ReturnType<typeof useRecipes>;
