import { isChoreRequest } from "../../../../src/api/chore-schemas.ts";
import { runOnProjects } from "../../../../src/server/chores.ts";
import { database } from "../../../../src/server/database.ts";
import { readJson, respond } from "../../../../src/server/http.ts";

/** Runs a chore on whole projects, or only says what it would change. */
export function POST(request: Request): Promise<Response> {
  return respond(async () => runOnProjects(database(), await readJson(request, isChoreRequest)));
}
