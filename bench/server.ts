import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { changeVelocityBy } from "../src/core/commands/index.ts";
import { readMidiFile } from "../src/core/smf/index.ts";
import { runImport, unplannedImport } from "../src/server/midi-task.ts";
import { openDatabase } from "../src/server/storage/database.ts";
import { openProject, saveEdits, storeImport } from "../src/server/use-cases.ts";
import { denseTake } from "./dense-take.ts";
import { type Finding, percentile, ratio } from "./measure.ts";

/** Importing a take and putting its edits on disk. */
export function benchServer(): Finding[] {
  const db = openDatabase(mkdtempSync(join(tmpdir(), "marten-bench-")));
  const { bytes } = denseTake(20_000);
  const about = { fileName: "Dense.mid", book: "" };
  const importRatio = ratio(
    () => storeImport(db, about, bytes, unplannedImport(bytes)),
    () => readMidiFile(bytes),
    4,
  );
  const { id } = storeImport(db, about, bytes, runImport(bytes));
  let { pattern } = openProject(db, id);
  const takenMs: number[] = [];
  for (let turn = 0; turn < 60; turn++) {
    const edit = changeVelocityBy([pattern.hits[turn * 37]!], 1);
    const start = performance.now();
    saveEdits(db, id, { baseRevision: turn, entries: [{ id: `${turn}`, kind: "do", label: "Louder", edit }] });
    takenMs.push(performance.now() - start);
    pattern = openProject(db, id).pattern;
  }
  const saveMs = percentile(takenMs, 95);
  return [
    {
      what: "import (decode, map, store) of 20,000 hits, before its grids are sought",
      budget: "at most 25 × decoding",
      measured: `${importRatio.toFixed(1)} ×`,
      isHeld: importRatio <= 25,
    },
    {
      what: "an edit of a 20,000-hit take on disk, 95th percentile",
      budget: "150 ms",
      measured: `${saveMs.toFixed(0)} ms`,
      isHeld: saveMs <= 150,
    },
  ];
}
