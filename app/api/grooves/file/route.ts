import { database } from "../../../../src/server/database.ts";
import { keepGrooveFile, LARGEST_GROOVE_BYTES } from "../../../../src/server/grooves.ts";
import { readBody, respond } from "../../../../src/server/http.ts";

/** Keeps the groove of a file: one that was saved here, or what is played in a Standard MIDI File. */
export function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const fileName = new URL(request.url).searchParams.get("name")?.slice(0, 200) || "A groove";
    return keepGrooveFile(database(), fileName, await readBody(request, LARGEST_GROOVE_BYTES));
  });
}
