import { isNoteMap } from "../../../src/api/schemas.ts";
import { database } from "../../../src/server/database.ts";
import { readJson, respond } from "../../../src/server/http.ts";
import { keepMap, listMaps } from "../../../src/server/note-maps.ts";

export function GET(): Promise<Response> {
  return respond(() => listMaps(database()));
}

export function POST(request: Request): Promise<Response> {
  return respond(async () => keepMap(database(), await readJson(request, isNoteMap)));
}
