import { BODY_LIMITS } from "../../../../../src/api/limits.ts";
import { isVersionRequest } from "../../../../../src/api/schemas.ts";
import { readJson, respond, respondToChange } from "../../../../../src/server/http.ts";
import { database } from "../../../../../src/server/storage/shared-database.ts";
import { keepVersion, listVersions } from "../../../../../src/server/versions.ts";

type Context = { params: Promise<{ id: string }> };

export function GET(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => listVersions(database(), (await params).id));
}

export function POST(request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) =>
    keepVersion(db, (await params).id, await readJson(request, isVersionRequest, BODY_LIMITS.edits)),
  );
}
