import { isSaveRequest } from "../../../../../src/api/schemas.ts";
import { database } from "../../../../../src/server/database.ts";
import { readJson, respond } from "../../../../../src/server/http.ts";
import { saveEdits } from "../../../../../src/server/use-cases.ts";

export function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => {
    const saved = saveEdits(database(), (await params).id, await readJson(request, isSaveRequest));
    return "problem" in saved ? Response.json(saved, { status: 409 }) : saved;
  });
}
