import { isRecipe } from "../../../src/api/schemas.ts";
import { database } from "../../../src/server/database.ts";
import { readJson, respond } from "../../../src/server/http.ts";
import { keepRecipe, listRecipes } from "../../../src/server/recipes.ts";

export function GET(): Promise<Response> {
  return respond(() => listRecipes(database()));
}

export function POST(request: Request): Promise<Response> {
  return respond(async () => keepRecipe(database(), await readJson(request, isRecipe)));
}
