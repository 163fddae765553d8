import { useCallback, useEffect, useState } from "react";
import {
  type KeptRecipe,
  keepRecipe,
  listRecipes,
  type Problem,
  putRecipeBack,
  removeRecipe,
  ServerProblem,
} from "./server-api.ts";

type NewRecipe = Parameters<typeof keepRecipe>[0];

/** The recipes on the shelf, and what can be done with them. */
export function useRecipes() {
  const [recipes, setRecipes] = useState<readonly KeptRecipe[] | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  /** Does something on the server and reads the list again; says what went wrong. */
  const attempt = useCallback(async (act: () => Promise<unknown>): Promise<boolean> => {
    try {
      await act();
      setRecipes(await listRecipes());
      setProblem(null);
      return true;
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
      return false;
    }
  }, []);
  useEffect(() => void attempt(async () => {}), [attempt]);
  return {
    recipes,
    problem,
    keep: (recipe: NewRecipe) => attempt(() => keepRecipe(recipe)),
    remove: (id: string) => attempt(() => removeRecipe(id)),
    putBack: (id: string) => attempt(() => putRecipeBack(id)),
  };
}

export type RecipeShelf = ReturnType<typeof useRecipes>;
