import { isProjectChange } from "../../../../src/api/schemas.ts";
import { database } from "../../../../src/server/database.ts";
import { readJson, respond } from "../../../../src/server/http.ts";
import { changeProject, openProject } from "../../../../src/server/use-cases.ts";

type Context = { params: Promise<{ id: string }> };

export function GET(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => openProject(database(), (await params).id));
}

export function PATCH(request: Request, { params }: Context): Promise<Response> {
  return respond(async () => changeProject(database(), (await params).id, await readJson(request, isProjectChange)));
}
