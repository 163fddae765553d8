import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { isNewTakeRequest } from "../../../src/api/schemas.ts";
import { readJson, respond, respondToChange } from "../../../src/server/http.ts";
import { listProjects, listRemovedProjects } from "../../../src/server/projects.ts";
import { database } from "../../../src/server/storage/shared-database.ts";
import { createTake } from "../../../src/server/use-cases.ts";

/** What is on the shelf; with `?removed`, what was taken off it. */
export function GET(request: Request): Promise<Response> {
  const isRemoved = new URL(request.url).searchParams.has("removed");
  return respond(() => (isRemoved ? listRemovedProjects(database()) : listProjects(database())));
}

/** A take from nothing. */
export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => createTake(db, await readJson(request, isNewTakeRequest, BODY_LIMITS.name)));
}
