import { basename } from "node:path";
import { respondToChange } from "../../../../src/server/http.ts";
import { backUp } from "../../../../src/server/storage/backups.ts";
import { dataFolder } from "../../../../src/server/storage/data-folder.ts";

/** Makes a whole copy beside the data, at any moment. Answers its name. */
export function POST(): Promise<Response> {
  return respondToChange(async (db) => basename(await backUp(db, dataFolder(), "by-hand")));
}
