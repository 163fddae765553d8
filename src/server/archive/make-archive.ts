import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { ArchiveWish } from "../../api/archive-schemas.ts";
import type { Db } from "../storage/database.ts";
import { downloadOf } from "../storage/download.ts";
import { sharedTasks, type TaskHandle } from "../task-queue.ts";
import { writeArchive } from "./write-archive.ts";

/** An archive as an answer. @param name without its ending */
export async function makeArchive(db: Db, wish: ArchiveWish, name: string, handle: TaskHandle): Promise<Response> {
  const folder = mkdtempSync(join(tmpdir(), "marten-archive-"));
  const path = join(folder, "archive.zip");
  await sharedTasks().run(handle, (tell) => writeArchive(db, wish, path, tell));
  return downloadOf(path, `${name}.marten.zip`, folder, "application/zip");
}
