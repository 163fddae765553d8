import { isNewChore } from "../../../src/api/chore-schemas.ts";
import { CHORE_SORT } from "../../../src/server/chores.ts";
import { database } from "../../../src/server/database.ts";
import { readJson, respond } from "../../../src/server/http.ts";
import { keep, listKept } from "../../../src/server/kept.ts";

export function GET(): Promise<Response> {
  return respond(() => listKept(database(), CHORE_SORT));
}

export function POST(request: Request): Promise<Response> {
  return respond(async () => keep(database(), CHORE_SORT, await readJson(request, isNewChore)));
}
