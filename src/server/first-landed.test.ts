import { createHash } from "node:crypto";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { gunzipSync } from "fflate";
import { beforeAll, describe, expect, it } from "vitest";
import { historyOfLog, invertEdit } from "../core/document/index.ts";
import { TRACK_LAYOUTS } from "../core/file/index.ts";
import { CHORE_SORT } from "./chores.ts";
import { GROOVE_SORT } from "./grooves.ts";
import { type KeptSort, listKept } from "./kept.ts";
import { runMidiTask } from "./midi-task.ts";
import { listMaps } from "./note-maps.ts";
import { readLog } from "./patterns.ts";
import { readTakeBytes } from "./projects.ts";
import { RECIPE_SORT } from "./recipes.ts";
import { type Db, openDatabase } from "./storage/database.ts";
import { openProject, saveEdits } from "./use-cases.ts";
import { listVersions } from "./versions.ts";

// What the first version that landed has stored opens in every later one (tests/fixtures/README.md).

const FIXTURE = "tests/fixtures/first-landed";

interface Expected {
  readonly projects: Readonly<
    Record<
      string,
      {
        readonly name: string;
        readonly revision: number;
        readonly take: string;
        readonly exports: Readonly<Record<string, string>>;
        readonly song: string | null;
        readonly hitCount: number;
        readonly versions: readonly string[];
      }
    >
  >;
  readonly recipes: readonly string[];
  readonly chores: readonly string[];
  readonly grooves: readonly string[];
  readonly maps: readonly string[];
}

const expected: Expected = JSON.parse(readFileSync(join(FIXTURE, "expected.json"), "utf8"));
const sha256 = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex");
let db: Db;

beforeAll(() => {
  const folder = mkdtempSync(join(tmpdir(), "marten-landed-"));
  writeFileSync(join(folder, "marten.sqlite"), gunzipSync(readFileSync(join(FIXTURE, "marten.sqlite.gz"))));
  db = openDatabase(folder);
  return () => db.close();
});

describe("what the first version stored", () => {
  it.each(Object.entries(expected.projects))("opens with the same take and exports, byte for byte: %s", (id, then) => {
    const { pattern, name, revision } = openProject(db, id);
    const bytes = readTakeBytes(db, id)!;
    expect({ name, revision, take: sha256(bytes), hitCount: pattern.hits.length }).toEqual({
      name: then.name,
      revision: then.revision,
      take: then.take,
      hitCount: then.hitCount,
    });
    expect(listVersions(db, id).map((version) => version.name)).toEqual(then.versions);
    for (const layout of TRACK_LAYOUTS) {
      const exported = runMidiTask({ kind: "export", bytes, pattern, choice: { layout, only: null } }) as Uint8Array;
      expect([layout, sha256(exported)]).toEqual([layout, then.exports[layout]]);
    }
    if (then.song === null) return;
    expect(sha256(runMidiTask({ kind: "song", bytes, pattern, choice: { kind: "song" } }) as Uint8Array)).toBe(
      then.song,
    );
  });

  it.each(Object.entries(expected.projects))("can be undone back to the recording: %s", (id, then) => {
    const { done } = historyOfLog(readLog(db, id, 0));
    const entries = done.toReversed().map(({ id: step, label, edit }) => ({
      id: `undo ${step}`,
      kind: "undo" as const,
      label,
      edit: invertEdit(edit),
    }));
    if (entries.length > 0)
      expect(saveEdits(db, id, { baseRevision: then.revision, entries })).not.toHaveProperty("problem");
    const bytes = readTakeBytes(db, id)!;
    const { pattern } = openProject(db, id);
    const exported = runMidiTask({ kind: "export", bytes, pattern, choice: { layout: "asRecorded", only: null } });
    expect(sha256(exported as Uint8Array)).toBe(then.take);
  });

  it("has everything else that was kept on the shelf", () => {
    const kept = <Content extends object>(sort: KeptSort<Content>) =>
      listKept(db, sort).flatMap(({ name, isBuiltIn }) => (isBuiltIn ? [] : [name]));
    expect(kept(RECIPE_SORT)).toEqual(expected.recipes);
    expect(kept(CHORE_SORT)).toEqual(expected.chores);
    expect(kept(GROOVE_SORT)).toEqual(expected.grooves);
    expect(listMaps(db).flatMap(({ map, isBuiltIn }) => (isBuiltIn ? [] : [map.name]))).toEqual(expected.maps);
  });
});
