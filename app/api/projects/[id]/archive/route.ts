import { makeArchive } from "../../../../../src/server/archive/make-archive.ts";
import { respond, taskOf } from "../../../../../src/server/http.ts";
import { noSuchProject } from "../../../../../src/server/problem-error.ts";
import { findProject } from "../../../../../src/server/projects.ts";
import { database } from "../../../../../src/server/storage/shared-database.ts";

/** The project as one file, with everything that was ever done to it. */
export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => {
    const { id } = await params;
    const project = findProject(database(), id);
    if (!project) throw noSuchProject();
    return makeArchive(database(), { projectIds: [id], sorts: [], kits: [] }, project.name, taskOf(request));
  });
}
