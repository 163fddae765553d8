import { database } from "../../../src/server/database.ts";
import { respond } from "../../../src/server/http.ts";
import { listProjects } from "../../../src/server/projects.ts";

export function GET(): Promise<Response> {
  return respond(() => listProjects(database()));
}
