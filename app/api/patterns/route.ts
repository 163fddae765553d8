import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { isPatternMark } from "../../../src/api/schemas.ts";
import { readJson, respond, respondToChange } from "../../../src/server/http.ts";
import { listMarks, setMark } from "../../../src/server/pattern-marks.ts";
import { database } from "../../../src/server/storage/shared-database.ts";

/** What was said of patterns. */
export function GET(): Promise<Response> {
  return respond(() => listMarks(database()));
}

export function PUT(request: Request): Promise<Response> {
  return respondToChange(async (db) => setMark(db, await readJson(request, isPatternMark, BODY_LIMITS.patternMark)));
}
