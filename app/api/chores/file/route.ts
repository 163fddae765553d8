import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { keepChoreFile } from "../../../../src/server/chores.ts";
import { readBody, respondToChange } from "../../../../src/server/http.ts";

/** Keeps all the chores of a file, or none of them. */
export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => keepChoreFile(db, await readBody(request, BODY_LIMITS.chore)));
}
