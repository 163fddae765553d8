import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { readBody, respond } from "../../../../src/server/http.ts";
import { readMapFile } from "../../../../src/server/read-map-file.ts";

/** Reads a file that holds a note map. Nothing is kept. */
export function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const fileName = new URL(request.url).searchParams.get("name")?.slice(0, 200) || "The file";
    return readMapFile(fileName, await readBody(request, BODY_LIMITS.noteMap));
  });
}
