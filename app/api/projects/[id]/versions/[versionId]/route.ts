import { database } from "../../../../../../src/server/database.ts";
import { respond } from "../../../../../../src/server/http.ts";
import { forgetVersion } from "../../../../../../src/server/versions.ts";

export function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string; versionId: string }> },
): Promise<Response> {
  return respond(async () => {
    const { id, versionId } = await params;
    return forgetVersion(database(), id, versionId);
  });
}
