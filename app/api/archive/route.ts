import { BODY_LIMITS } from "../../../src/api/limits.ts";
import { bringIn } from "../../../src/server/archive/bring-in.ts";
import { readBody, respondToChange, taskOf } from "../../../src/server/http.ts";
import { runInProcess } from "../../../src/server/midi-process.ts";

/** Brings in what an archive holds, beside what is there. */
export function POST(request: Request): Promise<Response> {
  return respondToChange(async (db) => {
    const handle = taskOf(request);
    const bytes = await readBody(request, BODY_LIMITS.archive);
    return bringIn(db, await runInProcess({ kind: "archive", bytes }, handle));
  });
}
