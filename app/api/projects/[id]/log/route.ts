import { respond } from "../../../../../src/server/http.ts";
import { readLogText } from "../../../../../src/server/patterns.ts";
import { database } from "../../../../../src/server/storage/shared-database.ts";

/** The saved edits, or those after a revision that the address names. */
export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => {
    const after = Number(new URL(request.url).searchParams.get("after") ?? 0);
    const log = readLogText(database(), (await params).id, Number.isSafeInteger(after) ? after : 0);
    return new Response(`{"ok":true,"value":${log}}`, { headers: { "content-type": "application/json" } });
  });
}
