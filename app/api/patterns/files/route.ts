import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { readBody, respond, respondToChange } from "../../../../src/server/http.ts";
import { addPatternFile, listPatternFiles } from "../../../../src/server/pattern-files.ts";
import { database } from "../../../../src/server/storage/shared-database.ts";

const param = (request: Request, name: string) => new URL(request.url).searchParams.get(name)?.slice(0, 200) ?? "";

/** Files whose patterns are on the shelf, those that come after `?after`. */
export function GET(request: Request): Promise<Response> {
  return respond(() => listPatternFiles(database(), param(request, "after")));
}

export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) =>
    addPatternFile(db, param(request, "path"), await readBody(request, BODY_LIMITS.patternFile)),
  );
}
