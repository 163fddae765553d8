import { database } from "../../../../../src/server/database.ts";
import { respond } from "../../../../../src/server/http.ts";
import { readLog } from "../../../../../src/server/patterns.ts";

export function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => readLog(database(), (await params).id, 0));
}
