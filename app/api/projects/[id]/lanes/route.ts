import { respond } from "../../../../../src/server/http.ts";
import { database } from "../../../../../src/server/storage/shared-database.ts";
import { plannedLanes } from "../../../../../src/server/use-cases.ts";

/** The lanes on the grids that were found; waits while they are sought. */
export function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => plannedLanes(database(), (await params).id));
}
