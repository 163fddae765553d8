import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { isNoteMap } from "../../../../src/api/schemas.ts";
import { readJson, respondToChange } from "../../../../src/server/http.ts";
import { changeMap, setMapRemoved } from "../../../../src/server/note-maps.ts";

type Context = { params: Promise<{ id: string }> };

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) =>
    changeMap(db, (await params).id, await readJson(request, isNoteMap, BODY_LIMITS.noteMap)),
  );
}

export function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => setMapRemoved(db, (await params).id, true));
}

/** Puts a map back that was taken off the shelf. */
export function POST(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => setMapRemoved(db, (await params).id, false));
}
