// Run before the server starts: brings the database up to date and puts the demo on the shelf, once.
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { dataFolder, openDatabase } from "./database.ts";
import { runImport } from "./midi-task.ts";
import { findFact, insertFact } from "./projects.ts";
import { storeImport } from "./use-cases.ts";

const BOOK = "The Night Ferry";
/** The first on the shelf is the last put there. */
const DEMO_FILES = ["slack-water-deck-kit", "slack-water", "moth-parade", "kettle-row", "tin-orchard", "ferry-lights"];

const db = openDatabase(dataFolder());
if (findFact(db, "demo") === null) {
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
db.close();
