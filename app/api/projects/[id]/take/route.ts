import { respond } from "../../../../../src/server/http.ts";
import { database } from "../../../../../src/server/storage/shared-database.ts";
import { readTake } from "../../../../../src/server/use-cases.ts";

/** The file as it was imported, for the list of its messages. */
export function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => {
    const bytes = readTake(database(), (await params).id);
    const headers = { "content-type": "audio/midi" };
    return new Response(bytes as Uint8Array<ArrayBuffer>, { headers });
  });
}
