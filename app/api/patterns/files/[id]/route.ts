import { respondToChange } from "../../../../../src/server/http.ts";
import { setPatternFileRemoved } from "../../../../../src/server/pattern-files.ts";

type Context = { params: Promise<{ id: string }> };

export function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => setPatternFileRemoved(db, (await params).id, true));
}

/** Puts a file back that was taken off the shelf. */
export function POST(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => setPatternFileRemoved(db, (await params).id, false));
}
