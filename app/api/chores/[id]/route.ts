import { CHORE_SORT } from "../../../../src/server/chores.ts";
import { respondToChange } from "../../../../src/server/http.ts";
import { setKeptRemoved } from "../../../../src/server/kept.ts";

type Context = { params: Promise<{ id: string }> };

export function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => setKeptRemoved(db, CHORE_SORT, (await params).id, true));
}

/** Puts a chore back that was taken off the shelf. */
export function POST(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => setKeptRemoved(db, CHORE_SORT, (await params).id, false));
}
