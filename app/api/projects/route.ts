import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { isNewTakeRequest } from "../../../src/api/schemas.ts";
import { readJson, respond, respondToChange } from "../../../src/server/http.ts";
import { listProjects } from "../../../src/server/projects.ts";
import { database } from "../../../src/server/storage/shared-database.ts";
import { createTake } from "../../../src/server/use-cases.ts";

export function GET(): Promise<Response> {
  return respond(() => listProjects(database()));
}

/** A take from nothing. */
export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => createTake(db, await readJson(request, isNewTakeRequest, BODY_LIMITS.name)));
}
