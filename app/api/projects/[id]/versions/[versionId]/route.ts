import { respondToChange } from "../../../../../../src/server/http.ts";
import { forgetVersion } from "../../../../../../src/server/versions.ts";

export function DELETE(
  _request: Request,
  { params }: { params: Promise<{ id: string; versionId: string }> },
): Promise<Response> {
  return respondToChange(async (db) => {
    const { id, versionId } = await params;
    return forgetVersion(db, id, versionId);
  });
}
