import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { isNoteMap } from "../../../src/api/schemas.ts";
import { readJson, respond, respondToChange } from "../../../src/server/http.ts";
import { keepMap, listMaps } from "../../../src/server/note-maps.ts";
import { database } from "../../../src/server/storage/shared-database.ts";

export function GET(): Promise<Response> {
  return respond(() => listMaps(database()));
}

export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => keepMap(db, await readJson(request, isNoteMap, BODY_LIMITS.noteMap)));
}
