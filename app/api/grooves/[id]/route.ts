import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { isNewGroove } from "../../../../src/api/schemas.ts";
import { GROOVE_SORT } from "../../../../src/server/grooves.ts";
import { readJson, respondToChange } from "../../../../src/server/http.ts";
import { changeKept, setKeptRemoved } from "../../../../src/server/kept.ts";

type Context = { params: Promise<{ id: string }> };

export function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => setKeptRemoved(db, GROOVE_SORT, (await params).id, true));
}

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) =>
    changeKept(db, GROOVE_SORT, (await params).id, await readJson(request, isNewGroove, BODY_LIMITS.groove)),
  );
}

/** Puts a groove back that was taken off the shelf. */
export function POST(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => setKeptRemoved(db, GROOVE_SORT, (await params).id, false));
}
