// Run before the server starts: brings the database up to date, looks it over, makes the copy of the day, and puts the demo on the
// shelf, once. What is wrong is said here and on the page, which offers the way back; so the server starts all the same.
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { runImport } from "./midi-task.ts";
import { findFact, insertFact } from "./projects.ts";
import { backUpOfTheDay, damagesOf } from "./storage/backups.ts";
import { dataFolder } from "./storage/data-folder.ts";
import { closeDatabase, type Db, openDatabase } from "./storage/database.ts";
import { storageFaultOf } from "./storage/storage-fault.ts";
import { storeImport } from "./use-cases.ts";

const BOOK = "The Night Ferry";
/** The first on the shelf is the last put there. */
const DEMO_FILES = ["slack-water-deck-kit", "slack-water", "moth-parade", "kettle-row", "tin-orchard", "ferry-lights"];

try {
  await prepare(dataFolder());
} catch (error) {
  const fault = storageFaultOf(error);
  if (!fault) throw error;
  console.error(`${fault.problem.message}\n${fault.problem.remedy}`);
}

async function prepare(folder: string): Promise<void> {
  const db = openDatabase(folder);
  try {
    if (!isWhole(db)) return;
    if (findFact(db, "demo") === null) seed(db);
    await backUpOfTheDay(db, folder, new Date());
  } finally {
    closeDatabase(db);
  }
}

/** A damaged index is made anew from its table. Damaged tables are left as they are: what is whole in them still opens. */
function isWhole(db: Db): boolean {
  if (damagesOf(db).length === 0) return true;
  try {
    db.exec("REINDEX");
  } catch (error) {
    if (!storageFaultOf(error)) throw error;
  }
  const damages = damagesOf(db);
  if (damages.length === 0) return true;
  console.error(`The database is damaged:\n  ${damages.join("\n  ")}`);
  console.error("What is not damaged still opens. To go back to a backup: npm run restore, or Backups on the Shelf.");
  return false;
}

function seed(db: Db): void {
  db.transaction(() => {
    for (const slug of DEMO_FILES) {
      const bytes = new Uint8Array(readFileSync(join(process.cwd(), "demo", `${slug}.mid`)));
      const capitals = slug.replace(
        /(^|-)(\w)/g,
        (_, dash: string, letter: string) => (dash ? " " : "") + letter.toUpperCase(),
      );
      const name = capitals.replace(" Deck Kit", ", deck kit");
      storeImport(db, { fileName: `${name}.mid`, book: BOOK }, bytes, runImport(bytes));
    }
    insertFact(db, "demo", new Date().toISOString());
  })();
  console.log(`Put ${BOOK} on the shelf.`);
}
