import { respond, respondToChange } from "../../../../../src/server/http.ts";
import { database } from "../../../../../src/server/storage/shared-database.ts";
import { leavePlan, plannedLanes, plannedShare } from "../../../../../src/server/use-cases.ts";

interface Context {
  readonly params: Promise<{ id: string }>;
}

/** The lanes on the grids that were found; waits while they are sought. With `?share`, how much of them is found. */
export function GET(request: Request, { params }: Context): Promise<Response> {
  const asksShare = new URL(request.url).searchParams.has("share");
  return respond(async () => {
    const { id } = await params;
    return asksShare ? plannedShare(database(), id) : plannedLanes(database(), id);
  });
}

/** Gives up seeking the grids. */
export function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) => {
    leavePlan(db, (await params).id);
    return null;
  });
}
