import { randomUUID } from "node:crypto";
import type { KeptRecipe, NewRecipe } from "../api/wire.ts";
import { RECIPES } from "../core/recipe.ts";
import type { Db } from "./database.ts";
import { ProblemError } from "./problem-error.ts";

/** The recipes on the shelf: those that come with the application, then those of the house by name. */
export function listRecipes(db: Db): readonly KeptRecipe[] {
  const rows = db
    .prepare<[], { id: string; name: string; timing: string }>(
      "SELECT id, name, timing FROM recipes WHERE removed_at IS NULL",
    )
    .all();
  const kept = rows.map(({ timing, ...row }): KeptRecipe => ({ ...row, timing: JSON.parse(timing), isBuiltIn: false }));
  return [
    ...RECIPES.map((recipe) => ({ ...recipe, isBuiltIn: true })),
    ...kept.sort((a, b) => a.name.localeCompare(b.name, "en")),
  ];
}

/** Puts a recipe on the shelf under a new id. */
export function keepRecipe(db: Db, { name, timing }: NewRecipe): KeptRecipe {
  const id = randomUUID();
  db.prepare("INSERT INTO recipes (id, name, timing, kept_at) VALUES (?, ?, ?, ?)").run(
    id,
    name,
    JSON.stringify(timing),
    new Date().toISOString(),
  );
  return { id, name, timing, isBuiltIn: false };
}

/**
 * Takes a recipe off the shelf or puts it back. Lanes that were treated by it keep their settings.
 * @throws ProblemError 404 if it is not one that was kept here
 */
export function setRecipeRemoved(db: Db, id: string, isRemoved: boolean): null {
  const removedAt = isRemoved ? new Date().toISOString() : null;
  const { changes } = db.prepare("UPDATE recipes SET removed_at = ? WHERE id = ?").run(removedAt, id);
  if (changes === 0) {
    throw new ProblemError(404, {
      code: "recipe.gone",
      message: "This recipe is not among those that were kept.",
      remedy: "Those that come with the application stay. Reload to see what is there.",
    });
  }
  return null;
}
