import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeEach, describe, expect, it } from "vitest";
import { BODY_LIMITS } from "../api/limits.ts";
import {
  isProjectChange,
  isRecipe,
  isSaveRequest,
  isVersionRequest,
  problemOf,
  readExportChoice,
} from "../api/schemas.ts";
import {
  addLane,
  changeTiming,
  insertBars,
  moveHitsBy,
  nameNote,
  removeBarsOf,
  retime,
  writeStrokes,
} from "../core/commands/index.ts";
import { applyEdit, type Edit, invertEdit, type LogEntry, type Pattern } from "../core/document/index.ts";
import { DEFAULT_TREATMENT } from "../core/document/treatment.ts";
import { thumbnailOf } from "../core/overview/index.ts";
import { RECIPES, recipeOf } from "../core/recipe.ts";
import { readBody, readJson, respond } from "./http.ts";
import { keep, listKept, setKeptRemoved } from "./kept.ts";
import { runImport, runMidiTask, unplannedImport } from "./midi-task.ts";
import { readLog, readPattern } from "./patterns.ts";
import { ProblemError } from "./problem-error.ts";
import { listProjects, listRemovedProjects, readTakeBytes } from "./projects.ts";
import { RECIPE_SORT } from "./recipes.ts";
import { listBackups } from "./storage/backups.ts";
import { type Db, openDatabase } from "./storage/database.ts";
import {
  changeProject,
  leavePlan,
  openProject,
  plannedLanes,
  plannedShare,
  saveEdits,
  storeImport,
} from "./use-cases.ts";
import { forgetVersion, keepVersion, listVersions } from "./versions.ts";

const bytes = new Uint8Array(readFileSync("demo/kettle-row.mid"));
let folder: string;
let db: Db;
let id: string;

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "marten-db-"));
  db = openDatabase(folder);
  id = storeImport(db, { fileName: "Kettle Row.mid", book: "A book" }, bytes, runImport(bytes)).id;
});

let turn = 0;
const entryOf = (edit: LogEntry["edit"], kind: LogEntry["kind"] = "do"): LogEntry => ({
  id: `entry ${turn++}`,
  kind,
  label: "A step",
  edit,
});
const nudge = (pattern: Pattern, row: number, delta: number) => {
  const hit = pattern.hits[row]!;
  return moveHitsBy(pattern, [{ hit, tick: hit.pinnedTick ?? hit.recordedTick ?? 0 }], delta);
};

describe("the database", () => {
  it("is set up for safety, with strict tables", () => {
    expect(db.pragma("journal_mode", { simple: true })).toBe("wal");
    expect(db.pragma("foreign_keys", { simple: true })).toBe(1);
    expect(db.pragma("synchronous", { simple: true })).toBe(2);
    const loose = db.prepare("SELECT name FROM sqlite_master WHERE type = 'table' AND sql NOT LIKE '%STRICT%'").all();
    expect(loose).toEqual([]);
  });

  it("keeps a copy of itself before a migration, and everything that was in it", () => {
    const before = openProject(db, id);
    // As it was at first.
    db.exec(
      "DROP TABLE versions; DROP TABLE recipes; DROP TABLE chores; DROP TABLE grooves; ALTER TABLE takes DROP COLUMN sha256; ALTER TABLE patterns DROP COLUMN is_planned",
    );
    db.exec("DROP TABLE pattern_marks; DROP TABLE pattern_files");
    db.pragma("user_version = 1");
    db.close();
    const migrated = openDatabase(folder);
    expect(openProject(migrated, id)).toEqual(before);
    expect(listVersions(migrated, id)).toEqual([]);
    expect(listKept(migrated, RECIPE_SORT)).toHaveLength(RECIPES.length);
    migrated.close();
    expect(listBackups(folder)).toMatchObject([{ reason: "before-migration" }]);
  });
});

describe("a take whose grids are not found yet", () => {
  it("stays on the usual one when somebody does not want to wait, and is not asked for them again", async () => {
    const { pattern: _, ...read } = unplannedImport(bytes);
    const { id: late } = storeImport(db, { fileName: "Late.mid", book: "" }, bytes, read);
    expect(plannedShare(db, late)).toBe(0);
    leavePlan(db, late);
    expect(plannedShare(db, late)).toBe(1);
    const { lanes } = await plannedLanes(db, late);
    expect(lanes.map(({ treatment }) => treatment)).toEqual(lanes.map(() => DEFAULT_TREATMENT));
    // What somebody has done meanwhile stays.
    const { id: busy } = storeImport(db, { fileName: "Busy.mid", book: "" }, bytes, read);
    const { pattern } = openProject(db, busy);
    saveEdits(db, busy, { baseRevision: 0, entries: [entryOf(nudge(pattern, 0, 5))] });
    leavePlan(db, busy);
    expect(openProject(db, busy).revision).toBe(1);
  });

  it("tells how far it has come, from nothing to all, while they are sought", () => {
    const { pattern } = unplannedImport(bytes);
    const shares: number[] = [];
    runMidiTask({ kind: "plan", pattern }, (share) => shares.push(share));
    expect(shares.length).toBeGreaterThan(4);
    expect(shares).toEqual(shares.toSorted((one, other) => one - other));
    expect(shares.every((share) => share >= 0 && share <= 1)).toBe(true);
  });
});

describe("versions", () => {
  it("are revisions with a name, the newest first, and can be forgotten", () => {
    const first = keepVersion(db, id, { name: "As recorded", revision: 0 });
    const { pattern } = openProject(db, id);
    saveEdits(db, id, { baseRevision: 0, entries: [entryOf(nudge(pattern, 0, 5))] });
    const second = keepVersion(db, id, { name: "Nudged", revision: 1 });
    expect(listVersions(db, id)).toEqual([second, first]);
    expect(readLog(db, id, first.revision)).toHaveLength(1);
    forgetVersion(db, id, second.id);
    expect(listVersions(db, id)).toEqual([first]);
    expect(openProject(db, id).revision).toBe(1);
  });

  it("are refused for what is not on disk, and for what is not there", () => {
    expect(() => keepVersion(db, id, { name: "Too early", revision: 7 })).toThrow(ProblemError);
    expect(() => listVersions(db, "nothing")).toThrow(ProblemError);
    expect(() => forgetVersion(db, id, "nothing")).toThrow(ProblemError);
    expect(isVersionRequest({ name: "", revision: 0 })).toBe(false);
    expect(isVersionRequest({ name: "x", revision: -1 })).toBe(false);
    expect(isVersionRequest({ name: "x", revision: 0 })).toBe(true);
  });
});

describe("recipes", () => {
  const timing = recipeOf({ ...DEFAULT_TREATMENT.timing, strengthPercent: 61, pushTicks: -7 });

  it("are those of the application, then those of the house by name, which can be taken off and put back", () => {
    const wheel = keep(db, RECIPE_SORT, { name: "Wheelhouse", timing });
    keep(db, RECIPE_SORT, { name: "Aft deck", timing });
    const kept = () => listKept(db, RECIPE_SORT).slice(RECIPES.length);
    expect(listKept(db, RECIPE_SORT)[0]).toMatchObject({ name: RECIPES[0]!.name, isBuiltIn: true });
    expect(kept().map(({ name }) => name)).toEqual(["Aft deck", "Wheelhouse"]);
    expect(kept()[1]).toEqual({ ...wheel, timing });
    setKeptRemoved(db, RECIPE_SORT, wheel.id, true);
    expect(kept()).toHaveLength(1);
    setKeptRemoved(db, RECIPE_SORT, wheel.id, false);
    expect(kept()).toHaveLength(2);
    expect(() => setKeptRemoved(db, RECIPE_SORT, RECIPES[0]!.id, true)).toThrow(ProblemError);
  });

  it("hold what can be carried, and nothing else", () => {
    expect(isRecipe({ name: "x", timing })).toBe(true);
    expect(isRecipe({ name: "", timing })).toBe(false);
    expect(isRecipe({ name: "x", timing: { ...timing, pocketMs: 4 } })).toBe(false);
    expect(isRecipe({ name: "x", timing: { ...timing, strengthPercent: 140 } })).toBe(false);
    for (const recipe of RECIPES) expect(isRecipe({ name: recipe.name, timing: recipe.timing })).toBe(true);
  });
});

describe("projects", () => {
  it("keep the file's bytes for ever, and open as they were imported", () => {
    expect(readTakeBytes(db, id)).toEqual(bytes);
    const project = openProject(db, id);
    expect(project).toMatchObject({ name: "Kettle Row", book: "A book", fileName: "Kettle Row.mid", revision: 0 });
    expect(project.pattern.hits).toHaveLength(523);
  });

  it("lie on the shelf with what is left to do, and come back when put back", () => {
    expect(listProjects(db)).toMatchObject([{ id, treatedVoiceCount: 0, summary: { hitCount: 523, barCount: 36 } }]);
    changeProject(db, id, { isRemoved: true });
    expect(listProjects(db)).toEqual([]);
    expect(listRemovedProjects(db)).toMatchObject([{ id, removedAt: expect.stringMatching(/^\d{4}-/) }]);
    changeProject(db, id, { isRemoved: false, name: "Renamed" });
    expect(listProjects(db)).toMatchObject([{ id, name: "Renamed" }]);
  });

  it("that do not exist are refused", () => {
    expect(() => openProject(db, "nothing")).toThrow(ProblemError);
    expect(() => changeProject(db, "nothing", { name: "x" })).toThrow("no such project");
  });
});

describe("saving edits", () => {
  it("writes each edit and its revision, and reads the same pattern back from disk", () => {
    const { pattern } = openProject(db, id);
    const move = nudge(pattern, 5, 33);
    const timing = changeTiming(pattern, new Set(["snare"]), (old) => ({ ...old, isOn: true }));
    const removal = { kind: "removeHits" as const, hits: [pattern.hits[9]!] };
    expect(
      saveEdits(db, id, { baseRevision: 0, entries: [move, timing, removal].map((edit) => entryOf(edit)) }),
    ).toEqual({ revision: 3 });
    const fresh = readPattern(openDatabase(folder), id)!;
    expect(fresh.revision).toBe(3);
    expect(fresh.pattern).toEqual(openProject(db, id).pattern);
    expect(fresh.pattern.hits).toHaveLength(522);
    expect(fresh.pattern.hits[5]!.pinnedTick).toBe(pattern.hits[5]!.recordedTick! + 33);
    expect(listProjects(db)).toMatchObject([{ treatedVoiceCount: 1, summary: { hitCount: 522 } }]);
    expect(readLog(db, id, 1)).toHaveLength(2);
  });

  it("shows the part on the shelf as it is now, also on another time", () => {
    const { pattern } = openProject(db, id);
    const [before] = listProjects(db);
    const found = { playedTempos: [{ tick: 0, usPerQuarter: 750_000 }], startMs: 0, meters: pattern.meters };
    saveEdits(db, id, { baseRevision: 0, entries: [entryOf(retime(pattern, found, null))] });
    const [after] = listProjects(db);
    expect(after!.thumbnail).toEqual(thumbnailOf(openProject(db, id).pattern));
    expect(after!.thumbnail).not.toEqual(before!.thumbnail);
  });

  it("takes an edit back to exactly what was there", () => {
    const { pattern } = openProject(db, id);
    const removal = { kind: "removeHits" as const, hits: pattern.hits.slice(3, 8) };
    saveEdits(db, id, { baseRevision: 0, entries: [entryOf(removal), entryOf(invertEdit(removal), "undo")] });
    expect(readPattern(openDatabase(folder), id)!.pattern).toEqual(pattern);
  });

  it("keeps bars that are put in with hits of their own, and those that go, and takes both back", () => {
    const { pattern } = openProject(db, id);
    const bar = { startTick: 0, endTick: 4 * pattern.ppq };
    const stored = () => readPattern(db, id)?.pattern;
    const step = (before: Pattern, edits: readonly Edit[]) => {
      const edit: Edit = {
        kind: "together",
        edits: edits.flatMap((one) => (one.kind === "together" ? one.edits : [one])),
      };
      const after = applyEdit(before, edit);
      const { revision } = openProject(db, id);
      saveEdits(db, id, { baseRevision: revision, entries: [entryOf(edit)] });
      expect(stored()).toEqual(after);
      saveEdits(db, id, { baseRevision: revision + 1, entries: [entryOf(invertEdit(edit), "undo")] });
      expect(stored()).toEqual(before);
    };
    const insertion = insertBars(pattern, bar.endTick, bar);
    const stroke = { voiceId: pattern.lanes[0]!.voiceId, articulationId: "main", tick: bar.endTick + 10, velocity: 90 };
    step(pattern, [insertion, writeStrokes(applyEdit(pattern, insertion), [stroke], () => "new")]);
    step(pattern, [removeBarsOf(pattern, bar)]);
  });

  it("does not save twice what it has, though its answer was lost", () => {
    const { pattern } = openProject(db, id);
    const first = entryOf(nudge(pattern, 1, 5));
    saveEdits(db, id, { baseRevision: 0, entries: [first] });
    const second = entryOf(nudge(openProject(db, id).pattern, 2, 5));
    expect(saveEdits(db, id, { baseRevision: 0, entries: [first, second] })).toEqual({ revision: 2 });
    expect(readLog(db, id, 0).map((entry) => entry.id)).toEqual([first.id, second.id]);
  });

  it("refuses edits made on an older pattern, and answers what is newer", () => {
    const { pattern } = openProject(db, id);
    const theirs = entryOf(nudge(pattern, 1, 5));
    saveEdits(db, id, { baseRevision: 0, entries: [theirs] });
    const answer = saveEdits(db, id, { baseRevision: 0, entries: [entryOf(nudge(pattern, 2, 9))] });
    expect(answer).toMatchObject({
      ok: false,
      problem: { code: "edits.stale" },
      revision: 1,
      newer: [{ id: theirs.id }],
    });
  });

  it("keeps nothing of a request whose last edit does not fit", () => {
    const { pattern } = openProject(db, id);
    const move = nudge(pattern, 1, 5);
    const answer = saveEdits(db, id, { baseRevision: 0, entries: [entryOf(move), entryOf(move)] });
    expect(answer).toMatchObject({ ok: false });
    expect(readPattern(openDatabase(folder), id)).toEqual({ revision: 0, pattern });
    expect(openProject(db, id).pattern).toEqual(pattern);
  });
});

describe("the note map of a pattern", () => {
  const cowbell = { voiceId: "cowbell", articulationId: "strike" };

  it("is saved with the edit that changes it, and taken back", () => {
    const { pattern } = openProject(db, id);
    const naming = nameNote(pattern, 38, cowbell);
    saveEdits(db, id, { baseRevision: 0, entries: [entryOf(naming)] });
    const named = readPattern(openDatabase(folder), id)!.pattern;
    expect(named.noteMap.entries).toContainEqual({ note: 38, channel: null, pedal: null, ...cowbell });
    expect(named.hits.filter((hit) => hit.voiceId === "snare")).toEqual([]);
    expect(named).toEqual(openProject(db, id).pattern);
    saveEdits(db, id, { baseRevision: 1, entries: [entryOf(invertEdit(naming), "undo")] });
    expect(readPattern(openDatabase(folder), id)!.pattern).toEqual(pattern);
  });

  it("crosses the wire as an edit of the core, and no other shape does", () => {
    const naming = nameNote(openProject(db, id).pattern, 38, cowbell);
    expect(isSaveRequest({ baseRevision: 0, entries: [entryOf(naming)] })).toBe(true);
    const odd = { ...naming, noteMaps: { from: {}, to: {} } } as unknown as LogEntry["edit"];
    expect(isSaveRequest({ baseRevision: 0, entries: [entryOf(odd)] })).toBe(false);
  });

  it("takes any unknown layout of an export for that of the recording", () => {
    const read = (query: string) => readExportChoice(new URLSearchParams(query));
    expect(read("layout=perVoice")).toEqual({ layout: "perVoice", only: null, range: null });
    expect(read("from=0&to=1920").range).toEqual({ startTick: 0, endTick: 1920 });
    expect(read("from=1920&to=1920").range).toBeNull();
    expect(read("from=-1&to=x").range).toBeNull();
    expect(read("layout=sideways").layout).toBe("asRecorded");
    expect(read("voice=snare").only).toEqual({ voiceId: "snare", articulationId: null });
    expect(read("voice=snare&stroke=rim-shot").only).toEqual({ voiceId: "snare", articulationId: "rim-shot" });
  });
});

describe("the parts of a pattern that edits change", () => {
  it("are all on disk, also when several change in one step", () => {
    const { pattern } = openProject(db, id);
    const { meters } = pattern;
    const tempos = [{ tick: 0, usPerQuarter: 700_000 }];
    const times = { from: { meters, tempos: pattern.tempos }, to: { meters, tempos } };
    const edit: Edit = {
      kind: "together",
      edits: [
        nudge(pattern, 0, 7),
        { kind: "setOutgoingMap", from: null, to: pattern.noteMap },
        { kind: "changeMessages", changes: [{ messageId: "1:0", to: { tick: 3, bytes: [1, 2] } }], times },
        addLane(pattern, "cowbell"),
      ],
    };
    saveEdits(db, id, { baseRevision: 0, entries: [entryOf(edit)] });
    const stored = readPattern(openDatabase(folder), id)!.pattern;
    expect(stored).toEqual(openProject(db, id).pattern);
    expect(stored).toMatchObject({ tempos, changedMessages: { "1:0": { tick: 3, bytes: [1, 2] } } });
    expect(stored.outgoingMap).toEqual(pattern.noteMap);
    expect(stored.lanes.map((lane) => lane.voiceId)).toContain("cowbell");
    saveEdits(db, id, { baseRevision: 1, entries: [entryOf(invertEdit(edit), "undo")] });
    expect(readPattern(openDatabase(folder), id)!.pattern).toEqual(pattern);
  });
});

describe("what crosses the wire", () => {
  const edit = { kind: "moveHits", moves: [{ hitId: "a", fromTick: null, toTick: 5 }] };
  const request = (changed: object) => ({
    baseRevision: 0,
    entries: [{ id: "1", kind: "do", label: "x", edit: { ...edit, ...changed } }],
  });

  it("is checked, field by field", () => {
    expect(isSaveRequest(request({}))).toBe(true);
    expect(isSaveRequest(request({ moves: [{ hitId: "a", fromTick: null, toTick: -1 }] }))).toBe(false);
    expect(problemOf(isSaveRequest)).toMatchObject({ code: "request.shape", where: "/entries/0/edit/moves/0/toTick" });
    expect(isSaveRequest(request({ kind: "dropTables" }))).toBe(false);
    expect(isSaveRequest(request({ more: 1 }))).toBe(false);
    expect(isSaveRequest({ baseRevision: 0, entries: [] })).toBe(false);
    expect(isProjectChange({ name: "" })).toBe(false);
    expect(isProjectChange({ isRemoved: true })).toBe(true);
  });

  it("is what the edits of the core are", () => {
    const { pattern } = openProject(db, id);
    const timing = changeTiming(pattern, new Set(["snare"]), (old) => ({ ...old, isOn: true }));
    const stream = { streamIndex: 0, toIsDrums: false, hits: pattern.hits, fromLanes: pattern.lanes, toLanes: [] };
    const { meters, tempos } = pattern;
    const times = { from: { meters, tempos }, to: { meters, tempos } };
    const edits: Edit[] = [
      nudge(pattern, 0, 1),
      timing,
      { kind: "setDrumStream", change: stream },
      { kind: "setOutgoingMap", from: null, to: pattern.noteMap },
      { kind: "changeMessages", changes: [{ messageId: "1:3", to: null }], times },
      { kind: "together", edits: [nudge(pattern, 0, 1), nudge(pattern, 1, 1)] },
      addLane(pattern, "cowbell"),
    ];
    for (const one of edits) {
      expect(isSaveRequest({ baseRevision: 0, entries: [entryOf(one)] })).toBe(true);
    }
  });

  it("lets no edit nest in another without end", () => {
    const inner = { kind: "together", edits: [edit] };
    expect(isSaveRequest({ ...request({}), entries: [{ id: "1", kind: "do", label: "x", edit: inner }] })).toBe(true);
    const deep = { kind: "together", edits: [inner] };
    expect(isSaveRequest({ ...request({}), entries: [{ id: "1", kind: "do", label: "x", edit: deep }] })).toBe(false);
  });

  it("is refused when it is too large, by its header or as it comes", async () => {
    const post = (body: string, headers = {}) => new Request("http://localhost/", { method: "POST", body, headers });
    await expect(readBody(post("x", { "content-length": "99" }), 10)).rejects.toMatchObject({ status: 413 });
    await expect(readBody(post("0123456789abc"), 10)).rejects.toThrow("larger than");
    expect(await readBody(post("0123456789"), 10)).toHaveLength(10);
    await expect(readBody(post("01234", { "content-length": "9" }), 10)).rejects.toThrow("Only 5 of 9 bytes");
    await expect(
      readJson(post("{oh", { "content-type": "application/json" }), isProjectChange, BODY_LIMITS.name),
    ).rejects.toMatchObject({
      status: 400,
      problem: { code: "request.json" },
    });
  });

  it("says nothing of unknown faults but that they happened", async () => {
    const answer = await respond(() => {
      throw new ProblemError(404, { code: "x", message: "y", remedy: "z" });
    });
    expect([answer.status, await answer.json()]).toEqual([
      404,
      { ok: false, problem: { code: "x", message: "y", remedy: "z" } },
    ]);
  });
});
