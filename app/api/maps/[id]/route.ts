import { isNoteMap } from "../../../../src/api/schemas.ts";
import { database } from "../../../../src/server/database.ts";
import { readJson, respond } from "../../../../src/server/http.ts";
import { changeMap, setMapRemoved } from "../../../../src/server/note-maps.ts";

type Context = { params: Promise<{ id: string }> };

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return respond(async () => changeMap(database(), (await params).id, await readJson(request, isNoteMap)));
}

export function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => setMapRemoved(database(), (await params).id, true));
}

/** Puts a map back that was taken off the shelf. */
export function POST(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => setMapRemoved(database(), (await params).id, false));
}
