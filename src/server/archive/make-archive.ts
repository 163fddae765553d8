import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { ArchiveWish } from "../../api/archive-schemas.ts";
import { LEFT_OUT_HEADER } from "../../api/wire.ts";
import type { Db } from "../storage/database.ts";
import { downloadOf } from "../storage/download.ts";
import { damagedProjectFault } from "../storage/storage-fault.ts";
import { givenUp, sharedTasks, type TaskHandle } from "../task-queue.ts";
import { writeArchive } from "./write-archive.ts";

/**
 * An archive as an answer, which says how many projects could not be read.
 * @param name without its ending
 * @throws StorageFault if projects were asked for by name and one is damaged; ProblemError 499 if it was given up
 */
export async function makeArchive(db: Db, wish: ArchiveWish, name: string, handle: TaskHandle): Promise<Response> {
  const folder = mkdtempSync(join(tmpdir(), "marten-archive-"));
  const path = join(folder, "archive.zip");
  try {
    const { leftOut } = await sharedTasks().run(handle, (tell) =>
      writeArchive(db, wish, path, (done, of) => {
        if (handle.signal?.aborted) throw givenUp();
        tell(done, of);
      }),
    );
    if (wish.projectIds !== null && leftOut.length > 0) throw damagedProjectFault();
    const answer = downloadOf(path, `${name}.marten.zip`, folder, "application/zip");
    answer.headers.set(LEFT_OUT_HEADER, String(leftOut.length));
    return answer;
  } catch (error) {
    rmSync(folder, { recursive: true, force: true });
    throw error;
  }
}
