import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { isNewGroove } from "../../../src/api/schemas.ts";
import { GROOVE_SORT } from "../../../src/server/grooves.ts";
import { readJson, respond, respondToChange } from "../../../src/server/http.ts";
import { keep, listKept } from "../../../src/server/kept.ts";
import { database } from "../../../src/server/storage/shared-database.ts";

export function GET(): Promise<Response> {
  return respond(() => listKept(database(), GROOVE_SORT));
}

export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => keep(db, GROOVE_SORT, await readJson(request, isNewGroove, BODY_LIMITS.groove)));
}
