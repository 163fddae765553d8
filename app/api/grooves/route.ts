import { isNewGroove } from "../../../src/api/schemas.ts";
import { database } from "../../../src/server/database.ts";
import { GROOVE_SORT } from "../../../src/server/grooves.ts";
import { readJson, respond } from "../../../src/server/http.ts";
import { keep, listKept } from "../../../src/server/kept.ts";

export function GET(): Promise<Response> {
  return respond(() => listKept(database(), GROOVE_SORT));
}

export function POST(request: Request): Promise<Response> {
  return respond(async () => keep(database(), GROOVE_SORT, await readJson(request, isNewGroove)));
}
