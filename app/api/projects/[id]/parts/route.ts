import { isPart } from "../../../../../src/api/schemas.ts";
import { database } from "../../../../../src/server/database.ts";
import { readJson, respond } from "../../../../../src/server/http.ts";
import { takeOutPart } from "../../../../../src/server/use-cases.ts";

/** Makes a project of one voice of this one. */
export function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => takeOutPart(database(), (await params).id, await readJson(request, isPart)));
}
