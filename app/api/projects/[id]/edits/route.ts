import { BODY_LIMITS } from "../../../../../src/api/limits.ts";
import { isSaveRequest } from "../../../../../src/api/schemas.ts";
import { readJson, respondToChange } from "../../../../../src/server/http.ts";
import { saveEdits } from "../../../../../src/server/use-cases.ts";

export function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respondToChange(async (db) => {
    const saved = saveEdits(db, (await params).id, await readJson(request, isSaveRequest, BODY_LIMITS.edits));
    return "problem" in saved ? Response.json(saved, { status: 409 }) : saved;
  });
}
