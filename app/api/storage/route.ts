import { respond } from "../../../src/server/http.ts";
import { storageState } from "../../../src/server/storage/storage-state.ts";

/** How the data on the disk is, and which backups there are. */
export function GET(): Promise<Response> {
  return respond(storageState);
}
