import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { isRecipe } from "../../../src/api/schemas.ts";
import { readJson, respond, respondToChange } from "../../../src/server/http.ts";
import { keep, listKept } from "../../../src/server/kept.ts";
import { RECIPE_SORT } from "../../../src/server/recipes.ts";
import { database } from "../../../src/server/storage/shared-database.ts";

export function GET(): Promise<Response> {
  return respond(() => listKept(database(), RECIPE_SORT));
}

export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => keep(db, RECIPE_SORT, await readJson(request, isRecipe, BODY_LIMITS.recipe)));
}
