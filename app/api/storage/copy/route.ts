import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { respond } from "../../../../src/server/http.ts";
import { backUp } from "../../../../src/server/storage/backups.ts";
import { dataFolder } from "../../../../src/server/storage/data-folder.ts";
import { downloadOf } from "../../../../src/server/storage/download.ts";
import { database } from "../../../../src/server/storage/shared-database.ts";

/** A whole copy as a file, also when the data folder was taken away: the connection still holds everything. */
export function GET(): Promise<Response> {
  return respond(async () => {
    const folder = mkdtempSync(join(tmpdir(), "marten-copy-"));
    const path = await backUp(database(), dataFolder(), "by-hand", join(folder, "copy.sqlite"));
    return downloadOf(path, `Idle Marten ${new Date().toISOString().slice(0, 10)}.sqlite`, folder);
  });
}
