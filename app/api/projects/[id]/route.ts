import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { isProjectChange } from "../../../../src/api/schemas.ts";
import { BYTES_HEADER } from "../../../../src/api/wire.ts";
import { readJson, respond, respondToChange } from "../../../../src/server/http.ts";
import { database } from "../../../../src/server/storage/shared-database.ts";
import { changeProject, openAsJson } from "../../../../src/server/use-cases.ts";

type Context = { params: Promise<{ id: string }> };

export function GET(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => {
    const project = await openAsJson(database(), (await params).id);
    const body = Buffer.concat([Buffer.from('{"ok":true,"value":'), ...project, Buffer.from("}")]);
    return new Response(body, {
      headers: { "content-type": "application/json", [BYTES_HEADER]: String(body.length) },
    });
  });
}

export function PATCH(request: Request, { params }: Context): Promise<Response> {
  return respondToChange(async (db) =>
    changeProject(db, (await params).id, await readJson(request, isProjectChange, BODY_LIMITS.name)),
  );
}
