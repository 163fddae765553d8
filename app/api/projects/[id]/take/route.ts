import { database } from "../../../../../src/server/database.ts";
import { respond } from "../../../../../src/server/http.ts";
import { readTake } from "../../../../../src/server/use-cases.ts";

/** The file as it was imported, for the list of its messages. */
export function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => {
    const bytes = readTake(database(), (await params).id);
    // The bytes never change, so a browser may keep them.
    const headers = { "content-type": "audio/midi", "cache-control": "private, max-age=31536000, immutable" };
    return new Response(bytes as Uint8Array<ArrayBuffer>, { headers });
  });
}
