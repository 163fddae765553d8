import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { keepGrooveFile } from "../../../../src/server/grooves.ts";
import { readBody, respondToChange } from "../../../../src/server/http.ts";

/** Keeps the groove of a file: one that was saved here, or what is played in a Standard MIDI File. */
export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => {
    const fileName = new URL(request.url).searchParams.get("name")?.slice(0, 200) || "A groove";
    return keepGrooveFile(db, fileName, await readBody(request, BODY_LIMITS.groove));
  });
}
