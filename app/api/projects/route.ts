import { respond } from "../../../src/server/http.ts";
import { listProjects } from "../../../src/server/projects.ts";
import { database } from "../../../src/server/storage/shared-database.ts";

export function GET(): Promise<Response> {
  return respond(() => listProjects(database()));
}
