import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { readBody, respondToChange, taskOf } from "../../../src/server/http.ts";
import { importRecording } from "../../../src/server/use-cases.ts";

export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => {
    const fileName = new URL(request.url).searchParams.get("name")?.slice(0, 200) || "Untitled take.mid";
    return importRecording(db, fileName, await readBody(request, BODY_LIMITS.take), taskOf(request));
  });
}
