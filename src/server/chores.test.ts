import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { writeChoreFile } from "../api/chore-file.ts";
import { isChoreRequest, isNewChore, readChoreFile } from "../api/chore-schemas.ts";
import { ACT_OFFERS, CHORES, type ChoreStep, choreSentence } from "../core/chore/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { TEST_KINDS } from "../core/sift/index.ts";
import { CHORE_SORT, keepChoreFile, runOnProjects } from "./chores.ts";
import { keep, listKept, setKeptRemoved } from "./kept.ts";
import { readLog } from "./patterns.ts";
import { ProblemError } from "./problem-error.ts";
import { type Db, openDatabase } from "./storage/database.ts";
import { importRecording, openProject } from "./use-cases.ts";

let folder: string;
let db: Db;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "marten-chores-"));
  db = openDatabase(folder);
});
afterEach(() => {
  db.close();
  rmSync(folder, { recursive: true });
});

const softer: readonly ChoreStep[] = [
  {
    sift: { clauses: [{ anyOf: [{ kind: "families", families: ["hats"] }] }] },
    acts: [{ kind: "scale", percent: 50 }],
  },
];

it("takes whatever is offered, each by its own shape", () => {
  const tests = Object.values(TEST_KINDS).map(({ first }) =>
    first.kind === "voices" ? { ...first, voiceIds: ["hat"] } : first,
  );
  const clauses = tests.map((test) => ({ anyOf: [test] }));
  for (const { act } of ACT_OFFERS) {
    const chore = { name: "Anything", steps: [{ sift: { clauses }, acts: [act] }] };
    expect(isNewChore(chore)).toBe(true);
    const [step] = chore.steps;
    expect(isNewChore({ ...chore, steps: [{ ...step, acts: [{ ...act, other: 1 }] }] })).toBe(false);
    expect(choreSentence(chore.steps, GENERAL_MIDI)).toMatch(/: \S.*\.$/);
  }
});

describe("chores on the shelf", () => {
  it("are those that come along and those that were kept, and can be taken off and put back", () => {
    const kept = keep(db, CHORE_SORT, { name: "Hats down", steps: softer });
    const own = () => listKept(db, CHORE_SORT).filter(({ isBuiltIn }) => !isBuiltIn);
    expect(listKept(db, CHORE_SORT)).toHaveLength(CHORES.length + 1);
    expect(own()).toEqual([kept]);
    setKeptRemoved(db, CHORE_SORT, kept.id, true);
    expect(own()).toEqual([]);
    setKeptRemoved(db, CHORE_SORT, kept.id, false);
    expect(own()).toEqual([kept]);
    expect(() => setKeptRemoved(db, CHORE_SORT, CHORES[0]!.id, true)).toThrow(ProblemError);
  });

  it("go to a file and come back as they were, all or none of them", () => {
    const text = writeChoreFile(CHORES);
    expect(readChoreFile(text)).toEqual(CHORES.map(({ name, steps }) => ({ name, steps })));
    expect(keepChoreFile(db, new TextEncoder().encode(text))).toHaveLength(CHORES.length);
    const bad = JSON.stringify({
      ...JSON.parse(text),
      chores: [
        { name: "Fine", steps: softer },
        { name: "Odd", steps: [{}] },
      ],
    });
    const before = listKept(db, CHORE_SORT).length;
    expect(() => keepChoreFile(db, new TextEncoder().encode(bad))).toThrow(/no chores as we know them/);
    expect(listKept(db, CHORE_SORT)).toHaveLength(before);
  });

  it("are refused with the place and the reason", () => {
    expect(readChoreFile("hello")).toMatchObject({ code: "chores.noJson" });
    const withField = JSON.stringify({
      format: "idle-marten-chores",
      version: 1,
      chores: [{ name: "A", steps: softer, bpm: 9 }],
    });
    expect(readChoreFile(withField)).toMatchObject({
      message: expect.stringContaining("/chores/0 has a field “bpm” that means nothing"),
    });
    const wide = { name: "Wide", steps: [{ sift: { clauses: [] }, acts: [{ kind: "range", percent: 10_000 }] }] };
    expect(isNewChore(wide)).toBe(false);
    expect(isNewChore({ name: "Of nothing", steps: [{ sift: { clauses: [{ anyOf: [] }] }, acts: [] }] })).toBe(false);
    expect(isChoreRequest({ name: "A", steps: softer, projectIds: [] })).toBe(false);
    for (const { name, steps } of CHORES) expect(isNewChore({ name, steps })).toBe(true);
  });
});

describe("a chore on whole projects", () => {
  it("says what it would change, does it as one step each, and takes voices out before it mutes them", async () => {
    const bytes = new Uint8Array(readFileSync("demo/slack-water.mid"));
    const [first, second] = [
      await importRecording(db, "First.mid", bytes),
      await importRecording(db, "Second.mid", bytes),
    ];
    const request = { name: "Hats down", steps: softer, projectIds: [first.id, second.id] };
    const trial = await runOnProjects(db, { ...request, isTrial: true });
    expect(trial.map(({ isDone }) => isDone)).toEqual([false, false]);
    expect(trial[0]!.changedCount).toBeGreaterThan(0);
    expect(openProject(db, first.id).revision).toBe(0);

    const done = await runOnProjects(db, request);
    expect(done.map(({ isDone, changedCount }) => [isDone, changedCount])).toEqual(
      trial.map(({ changedCount }) => [true, changedCount]),
    );
    for (const { id } of [first, second]) {
      expect(openProject(db, id).revision).toBe(1);
      expect(readLog(db, id, 0).map(({ label }) => label)).toEqual(["Hats down"]);
    }
    const none = await runOnProjects(db, {
      ...request,
      steps: [{ sift: { clauses: [{ anyOf: [{ kind: "voices", voiceIds: ["gong"] }] }] }, acts: [{ kind: "remove" }] }],
    });
    expect(none.map(({ pickedCount, isDone }) => [pickedCount, isDone])).toEqual([
      [0, false],
      [0, false],
    ]);

    const kickOut = CHORES.find(({ id }) => id === "kick-out")!;
    await runOnProjects(db, { name: kickOut.name, steps: kickOut.steps, projectIds: [first.id] });
    const kicks = openProject(db, first.id).pattern.hits.filter(({ voiceId }) => voiceId === "kick");
    expect(kicks.length).toBeGreaterThan(0);
    expect(kicks.every(({ isMuted }) => isMuted)).toBe(true);
  });
});
