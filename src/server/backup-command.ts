// `npm run backup [-- FILE]` and `npm run restore [-- FILE | NAME]`, whether the application runs or not.
import { existsSync } from "node:fs";
import { basename, resolve } from "node:path";
import Database from "better-sqlite3";
import { backUp, findBackup, listBackups, restore } from "./storage/backups.ts";
import { databasePath, dataFolder, sizeOf } from "./storage/data-folder.ts";
import { lostFault, storageFaultOf } from "./storage/storage-fault.ts";

const [command, wanted] = process.argv.slice(2);
const folder = dataFolder();

try {
  if (command === "backup") await makeBackup();
  else if (command === "restore") restoreBackup();
  else throw new Error(`Unknown command: ${command}`);
} catch (error) {
  const fault = storageFaultOf(error);
  if (!fault) throw error;
  console.error(`${fault.problem.message}\n${fault.problem.remedy}`);
  process.exitCode = 1;
}

async function makeBackup(): Promise<void> {
  const path = databasePath(folder);
  if (sizeOf(path) === 0) throw lostFault(path, existsSync(path));
  if (wanted && existsSync(wanted)) {
    console.error(`${wanted} is there already. Choose another name; nothing was written.`);
    process.exitCode = 1;
    return;
  }
  const db = new Database(path, { fileMustExist: true });
  try {
    console.log(`Made a whole copy: ${await backUp(db, folder, "by-hand", wanted ? resolve(wanted) : undefined)}`);
  } finally {
    db.close();
  }
}

function restoreBackup(): void {
  const backups = listBackups(folder);
  if (!wanted) {
    const lines = backups.map(({ name, bytes }) => `  ${name}  ${(bytes / 1024 / 1024).toFixed(1)} MiB`);
    console.log(lines.length > 0 ? `Backups in ${folder}:\n${lines.join("\n")}` : `There are no backups in ${folder}.`);
    console.log("Stop the application, then: npm run restore -- NAME or FILE");
    return;
  }
  const from = existsSync(wanted) ? resolve(wanted) : findBackup(folder, wanted);
  restore(folder, from);
  console.log(`${basename(from)} is in place. What was there is kept among the backups. Start the application again.`);
}
