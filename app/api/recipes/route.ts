import { isRecipe } from "../../../src/api/schemas.ts";
import { database } from "../../../src/server/database.ts";
import { readJson, respond } from "../../../src/server/http.ts";
import { keep, listKept } from "../../../src/server/kept.ts";
import { RECIPE_SORT } from "../../../src/server/recipes.ts";

export function GET(): Promise<Response> {
  return respond(() => listKept(database(), RECIPE_SORT));
}

export function POST(request: Request): Promise<Response> {
  return respond(async () => keep(database(), RECIPE_SORT, await readJson(request, isRecipe)));
}
