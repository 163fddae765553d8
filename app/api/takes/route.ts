import { LARGEST_UPLOAD_BYTES } from "../../../src/api/wire.ts";
import { database } from "../../../src/server/database.ts";
import { readBody, respond } from "../../../src/server/http.ts";
import { importRecording } from "../../../src/server/use-cases.ts";

export function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const fileName = new URL(request.url).searchParams.get("name")?.slice(0, 200) || "Untitled take.mid";
    return importRecording(database(), fileName, await readBody(request, LARGEST_UPLOAD_BYTES));
  });
}
