import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { importUnplanned } from "../src/core/file/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { summarizePattern, thumbnailOf } from "../src/core/overview/index.ts";
import { readMidiFile } from "../src/core/smf/index.ts";
import { recordOf, unplannedImport } from "../src/server/midi-task.ts";
import { openDatabase } from "../src/server/storage/database.ts";
import { storeImport } from "../src/server/use-cases.ts";
import { denseTake } from "./dense-take.ts";

const db = openDatabase(mkdtempSync(join(tmpdir(), "marten-bench-")));
const { bytes } = denseTake(20_000);
const t = (n: string, f: () => unknown) => {
  const xs = [];
  for (let i = 0; i < 15; i++) {
    const s = performance.now();
    f();
    xs.push(performance.now() - s);
  }
  xs.sort((a, b) => a - b);
  console.log(n, xs[0]!.toFixed(2), xs[7]!.toFixed(2));
};
const { pattern } = importUnplanned(bytes, GENERAL_MIDI);
const rec = unplannedImport(bytes);
t("decode", () => readMidiFile(bytes));
t("importUnplanned", () => importUnplanned(bytes, GENERAL_MIDI));
t("recordOf", () => recordOf(pattern));
t("stringify hits", () => JSON.stringify(pattern.hits));
t("summary", () => summarizePattern(pattern));
t("thumb", () => thumbnailOf(pattern));
t("store", () => storeImport(db, { fileName: "D.mid", book: "" }, bytes, rec));
t("all", () => storeImport(db, { fileName: "D.mid", book: "" }, bytes, unplannedImport(bytes)));
