import { isNewGroove } from "../../../../src/api/schemas.ts";
import { database } from "../../../../src/server/database.ts";
import { GROOVE_SORT } from "../../../../src/server/grooves.ts";
import { readJson, respond } from "../../../../src/server/http.ts";
import { changeKept, setKeptRemoved } from "../../../../src/server/kept.ts";

type Context = { params: Promise<{ id: string }> };

export function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => setKeptRemoved(database(), GROOVE_SORT, (await params).id, true));
}

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return respond(async () =>
    changeKept(database(), GROOVE_SORT, (await params).id, await readJson(request, isNewGroove)),
  );
}

/** Puts a groove back that was taken off the shelf. */
export function POST(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => setKeptRemoved(database(), GROOVE_SORT, (await params).id, false));
}
