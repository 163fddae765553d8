import { BODY_LIMITS } from "../../../../../src/api/limits.ts";
import { isPart } from "../../../../../src/api/schemas.ts";
import { readJson, respondToChange, taskOf } from "../../../../../src/server/http.ts";
import { takeOutPart } from "../../../../../src/server/use-cases.ts";

/** Makes a project of one voice of this one. */
export function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respondToChange(async (db) =>
    takeOutPart(db, (await params).id, await readJson(request, isPart, BODY_LIMITS.name), taskOf(request)),
  );
}
