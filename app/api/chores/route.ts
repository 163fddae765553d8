import { isNewChore } from "../../../src/api/chore-schemas.ts";
import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { CHORE_SORT } from "../../../src/server/chores.ts";
import { readJson, respond, respondToChange } from "../../../src/server/http.ts";
import { keep, listKept } from "../../../src/server/kept.ts";
import { database } from "../../../src/server/storage/shared-database.ts";

export function GET(): Promise<Response> {
  return respond(() => listKept(database(), CHORE_SORT));
}

export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => keep(db, CHORE_SORT, await readJson(request, isNewChore, BODY_LIMITS.chore)));
}
