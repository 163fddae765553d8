import { isChoreRequest } from "../../../../src/api/chore-schemas.ts";
import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { runOnProjects } from "../../../../src/server/chores.ts";
import { readJson, respondToChange } from "../../../../src/server/http.ts";

/** Runs a chore on whole projects, or only says what it would change. */
export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) =>
    runOnProjects(db, await readJson(request, isChoreRequest, BODY_LIMITS.choreRun)),
  );
}
