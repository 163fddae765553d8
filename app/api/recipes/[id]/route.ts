import { database } from "../../../../src/server/database.ts";
import { respond } from "../../../../src/server/http.ts";
import { setRecipeRemoved } from "../../../../src/server/recipes.ts";

type Context = { params: Promise<{ id: string }> };

export function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => setRecipeRemoved(database(), (await params).id, true));
}

/** Puts a recipe back that was taken off the shelf. */
export function POST(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => setRecipeRemoved(database(), (await params).id, false));
}
