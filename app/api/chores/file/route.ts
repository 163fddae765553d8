import { keepChoreFile, LARGEST_CHORES_BYTES } from "../../../../src/server/chores.ts";
import { database } from "../../../../src/server/database.ts";
import { readBody, respond } from "../../../../src/server/http.ts";

/** Keeps all the chores of a file, or none of them. */
export function POST(request: Request): Promise<Response> {
  return respond(async () => keepChoreFile(database(), await readBody(request, LARGEST_CHORES_BYTES)));
}
