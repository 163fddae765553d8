import { respond } from "../../../../../src/server/http.ts";
import { findBackup } from "../../../../../src/server/storage/backups.ts";
import { dataFolder } from "../../../../../src/server/storage/data-folder.ts";
import { downloadOf } from "../../../../../src/server/storage/download.ts";
import { restoreShared } from "../../../../../src/server/storage/shared-database.ts";

type Context = { params: Promise<{ name: string }> };

/** The backup as a file. */
export function GET(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => {
    const { name } = await params;
    return downloadOf(findBackup(dataFolder(), name), name);
  });
}

/** Goes back to it. What is there now is kept among the backups. */
export function POST(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => {
    restoreShared(findBackup(dataFolder(), (await params).name));
    return null;
  });
}
