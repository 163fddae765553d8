import { isArchiveWish } from "../../../../src/api/archive-schemas.ts";
import { BODY_LIMITS } from "../../../../src/api/limits.ts";
import { makeArchive } from "../../../../src/server/archive/make-archive.ts";
import { readJson, respond, taskOf } from "../../../../src/server/http.ts";
import { database } from "../../../../src/server/storage/shared-database.ts";

/** Writes what is wished for into one file: projects, and what else is on the shelf. */
export function POST(request: Request): Promise<Response> {
  return respond(async () => {
    const wish = await readJson(request, isArchiveWish, BODY_LIMITS.archiveWish);
    const day = new Date().toISOString().slice(0, 10);
    return makeArchive(database(), wish, `Idle Marten ${day}`, taskOf(request));
  });
}
