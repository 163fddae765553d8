import { isVersionRequest } from "../../../../../src/api/schemas.ts";
import { database } from "../../../../../src/server/database.ts";
import { readJson, respond } from "../../../../../src/server/http.ts";
import { keepVersion, listVersions } from "../../../../../src/server/versions.ts";

type Context = { params: Promise<{ id: string }> };

export function GET(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => listVersions(database(), (await params).id));
}

export function POST(request: Request, { params }: Context): Promise<Response> {
  return respond(async () => keepVersion(database(), (await params).id, await readJson(request, isVersionRequest)));
}
