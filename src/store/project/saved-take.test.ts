import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { BroadcastChannel } from "node:worker_threads";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { BODY_LIMITS } from "../../api/limits.ts";
import { isSaveRequest, isVersionRequest } from "../../api/schemas.ts";
import { changeTiming, changeVelocityBy } from "../../core/commands/index.ts";
import { applyEdit, type Edit, type Pattern } from "../../core/document/index.ts";
import { DEFAULT_TREATMENT } from "../../core/document/treatment.ts";
import { readJson, respond } from "../../server/http.ts";
import { runImport } from "../../server/midi-task.ts";
import { readLog } from "../../server/patterns.ts";
import { type Db, openDatabase } from "../../server/storage/database.ts";
import { openProject, saveEdits, storeImport } from "../../server/use-cases.ts";
import { keepVersion, listVersions } from "../../server/versions.ts";
import type { SaveState } from "./autosave.ts";
import { SavedTake, type SaveNotice } from "./saved-take.ts";

// Windows of one project against the server's own use cases: what one does is never lost, whatever the others and the server do.

const bytes = new Uint8Array(readFileSync("demo/slack-water.mid"));
let db: Db;
let id: string;
let kept: Map<string, string>;
/** What the server answers instead, if anything. */
let outage: ((path: string) => Response | null) | null;
let room: number;
const windows: Window[] = [];

/** One window with the project open. */
class Window {
  readonly notices: SaveNotice[] = [];
  state: SaveState = { kind: "saved" };
  readonly take: SavedTake;
  steps: readonly string[] = [];
  constructor() {
    let turn = 0;
    const name = `window ${windows.length}`;
    this.take = new SavedTake(openProject(db, id), () => `${name} ${turn++}`, {
      onTake: (_take, { done }) => {
        this.steps = done.map(({ label }) => label);
      },
      onState: (state) => {
        this.state = state;
      },
      onNotice: (notice) => this.notices.push(notice),
      onWindows: () => {},
    });
    windows.push(this);
  }
  do(label: string, make: (take: Pattern) => Edit): boolean {
    return this.take.do("do", label, make(this.take.take));
  }
  saved(): Promise<void> {
    return vi.waitFor(() => expect(this.state.kind).toBe("saved"), { timeout: 20_000, interval: 5 });
  }
  /** As when a tab is closed while nothing can be sent. */
  async leave(): Promise<void> {
    await this.take.close();
  }
}

it("puts the lanes on their grids when these are found, and changes nothing before", () => {
  let take: Pattern | null = null;
  const notices: SaveNotice[] = [];
  const stored = openProject(db, id);
  const lanes = stored.pattern.lanes.map((lane) => ({ ...lane, treatment: DEFAULT_TREATMENT }));
  const unplanned = { ...stored, isPlanned: false, pattern: { ...stored.pattern, lanes } };
  const window = new SavedTake(unplanned, () => "w", {
    onTake: (now) => {
      take = now;
    },
    onState: () => {},
    onNotice: (notice) => notices.push(notice),
    onWindows: () => {},
  });
  const push = () => changeTiming(window.take, new Set(["ride"]), (timing) => ({ ...timing, isOn: true }));
  expect(window.do("do", "Push", push())).toBe(false);
  expect(notices).toEqual([expect.objectContaining({ kind: "wait", message: expect.stringContaining("“Push”") })]);
  expect(take).toBe(null);
  window.takePlan({ revision: 0, lanes: stored.pattern.lanes });
  expect(take).toEqual(stored.pattern);
  expect(window.do("do", "Push", push())).toBe(true);
  return window.close();
});

const answer = async (path: string, init: RequestInit = {}): Promise<Response> => {
  const instead = outage?.(path);
  if (instead) return instead;
  const request = new Request(`http://localhost${path}`, init);
  return respond(async () => {
    if (path.endsWith("/edits")) {
      const saved = saveEdits(db, id, await readJson(request, isSaveRequest, BODY_LIMITS.edits));
      return "problem" in saved ? Response.json(saved, { status: 409 }) : saved;
    }
    if (path.endsWith("/versions"))
      return keepVersion(db, id, await readJson(request, isVersionRequest, BODY_LIMITS.edits));
    if (path.includes("/log")) return readLog(db, id, Number(new URL(request.url).searchParams.get("after")));
    return openProject(db, id);
  });
};

beforeEach(() => {
  db = openDatabase(mkdtempSync(join(tmpdir(), "marten-windows-")));
  id = storeImport(db, { fileName: "Slack Water.mid", book: "" }, bytes, runImport(bytes)).id;
  kept = new Map();
  outage = null;
  room = Number.POSITIVE_INFINITY;
  vi.stubGlobal("BroadcastChannel", BroadcastChannel);
  vi.stubGlobal("fetch", answer);
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => {
      if (value.length > room) throw new DOMException("full", "QuotaExceededError");
      kept.set(key, value);
    },
    removeItem: (key: string) => kept.delete(key),
    get length() {
      return kept.size;
    },
    key: (index: number) => [...kept.keys()][index] ?? null,
  });
});
afterEach(async () => {
  outage = null;
  for (const one of windows.splice(0)) await one.leave();
  db.close();
});

const louder =
  (row: number, by = 1) =>
  (take: Pattern) =>
    changeVelocityBy([take.hits[row]!], by);
const strength = (percent: number) => (take: Pattern) =>
  changeTiming(take, new Set(["ride"]), (timing) => ({ ...timing, strengthPercent: percent }));
const onDisk = () => openProject(db, id).pattern;
const unsavedKeys = () => [...kept.keys()].filter((key) => key.startsWith("marten.unsaved"));
const down = () => {
  throw new TypeError("refused");
};
const failing = (status: number, code: string) => () =>
  Response.json({ ok: false, problem: { code, message: code, remedy: "" } }, { status });

describe("a change", () => {
  it("that the server's schema would refuse is not done, and what follows is saved", async () => {
    const window = new Window();
    const before = window.take.take;
    const tooFar = (take: Pattern) => changeTiming(take, new Set(["ride"]), (timing) => ({ ...timing, pushMs: 163 }));
    expect(window.do("Push", tooFar)).toBe(false);
    expect(window.notices[0]?.message).toBe(
      "“Push” was not done: pushMs is 163, and must be 100 or less. Nothing was changed.",
    );
    expect(window.take.take).toBe(before);
    expect(window.do("Louder: velocity up", louder(0))).toBe(true);
    await window.saved();
    expect(onDisk()).toEqual(window.take.take);
  });

  it("with a label as long as a book is saved under a shorter one", async () => {
    const window = new Window();
    window.do("x".repeat(5000), louder(0));
    await window.saved();
    expect(readLog(db, id, 0)[0]?.label).toHaveLength(200);
  });

  it("that the server refuses all the same is taken back alone: what came before and after it is saved", async () => {
    const window = new Window();
    outage = down;
    for (const [label, row] of [
      ["One", 0],
      ["Bad", 1],
      ["Three", 2],
    ] as const)
      window.do(label, louder(row));
    const before = onDisk().hits[1];
    outage = (path) => (path.endsWith("/edits") ? refuseBad() : null);
    let last = "";
    vi.stubGlobal("fetch", (path: string, init?: RequestInit) => {
      last = String(init?.body ?? "");
      return answer(path, init);
    });
    const refuseBad = () => (last.includes('"Bad"') ? failing(400, "request.shape")() : null);
    window.take.retryNow();
    await window.saved();
    expect(readLog(db, id, 0).map(({ label }) => label)).toEqual(["One", "Three"]);
    expect(window.notices).toMatchObject([
      { kind: "refused", message: expect.stringContaining("“Bad” could not be saved") },
    ]);
    expect(window.take.take.hits[1]).toEqual(before);
    expect(window.steps).toEqual(["One", "Three"]);
    expect(onDisk()).toEqual(window.take.take);
    expect(unsavedKeys()).toEqual([]);
  });
});

describe("two windows", () => {
  it("see what the other has saved, and go on from there", async () => {
    const [one, other] = [new Window(), new Window()];
    await Promise.all([one.take.takeLog([]), other.take.takeLog([])]);
    one.do("Louder: velocity up", louder(0));
    await vi.waitFor(() => expect(other.take.take).toEqual(one.take.take));
    expect(other.steps).toEqual(["Louder: velocity up"]);
    other.do("Again", louder(0));
    await vi.waitFor(() => expect(one.take.take).toEqual(other.take.take));
    expect(onDisk()).toEqual(one.take.take);
    expect([...one.notices, ...other.notices]).toEqual([]);
  });

  it("that make the same change have made it once", async () => {
    const [one, other] = [new Window(), new Window()];
    outage = down;
    one.do("Strength", strength(55));
    other.do("Strength", strength(55));
    other.do("Louder: velocity up", louder(3));
    outage = null;
    one.take.retryNow();
    await one.saved();
    other.take.retryNow();
    await other.saved();
    expect(readLog(db, id, 0).map(({ label }) => label)).toEqual(["Strength", "Louder: velocity up"]);
    expect(onDisk()).toEqual(other.take.take);
    expect(other.notices).toEqual([]);
  });

  it("that change one thing in two ways keep both: later work that fits is saved, the rest is a conflicted version", async () => {
    const [one, other] = [new Window(), new Window()];
    outage = down;
    one.do("Strength 55", strength(55));
    other.do("Strength 70", strength(70));
    for (let row = 0; row < 5; row++) other.do(`Louder ${row}`, louder(row));
    const ofOther = other.take.take;
    outage = null;
    one.take.retryNow();
    await one.saved();
    other.take.retryNow();
    await other.saved();
    expect(readLog(db, id, 0).map(({ label }) => label)).toEqual([
      "Strength 55",
      ...[0, 1, 2, 3, 4].map((row) => `Louder ${row}`),
    ]);
    expect(onDisk()).toEqual(other.take.take);
    const [version] = listVersions(db, id);
    expect(version?.name).toMatch(/^Conflicted version/);
    // It leads to exactly what this window had.
    const start = runImportedPattern();
    expect(version!.entries!.reduce((pattern, { edit }) => applyEdit(pattern, edit), start)).toEqual(ofOther);
    expect(other.notices).toMatchObject([{ kind: "conflict" }]);
    expect(unsavedKeys()).toEqual([]);
  });

  it("that are closed while the server is away are both found at the next opening", async () => {
    outage = down;
    const [one, other] = [new Window(), new Window()];
    one.do("One", louder(0));
    other.do("Other", louder(7));
    await Promise.all([one.leave(), other.leave()]);
    windows.length = 0;
    expect(unsavedKeys()).toHaveLength(2);
    outage = null;
    const next = new Window();
    await next.take.takeLog(readLog(db, id, 0));
    await next.saved();
    expect(
      readLog(db, id, 0)
        .map(({ label }) => label)
        .sort(),
    ).toEqual(["One", "Other"]);
    expect(onDisk()).toEqual(next.take.take);
    expect(unsavedKeys()).toEqual([]);
    expect(next.notices.map(({ kind }) => kind)).toEqual(["recovered", "recovered"]);
  });

  it("undo the step that was done last, wherever it was done", async () => {
    const [one, other] = [new Window(), new Window()];
    await Promise.all([one.take.takeLog([]), other.take.takeLog([])]);
    outage = down;
    one.do("Mine", louder(0));
    outage = null;
    other.do("Theirs", louder(1));
    await other.saved();
    one.take.retryNow();
    await one.saved();
    expect(one.steps).toEqual(["Theirs", "Mine"]);
  });
});

describe("what an earlier page left", () => {
  const edit = () => louder(0)(onDisk());

  it("under the key that all windows shared is taken over", async () => {
    kept.set(`marten.unsaved.${id}`, JSON.stringify([{ id: "old", kind: "do", label: "Old", edit: edit() }]));
    const window = new Window();
    await window.take.takeLog([]);
    await window.saved();
    expect(readLog(db, id, 0).map(({ label }) => label)).toEqual(["Old"]);
    expect(unsavedKeys()).toEqual([]);
  });

  it("and does not fit any more is a conflicted version on the revision that it was made on", async () => {
    const made = edit();
    const first = new Window();
    first.do("Louder: velocity up", louder(0, 9));
    await first.saved();
    kept.set(`marten.unsaved.${id}`, JSON.stringify([{ id: "old", kind: "do", label: "Old", edit: made }]));
    const next = new Window();
    await next.take.takeLog(readLog(db, id, 0));
    await next.saved();
    expect(listVersions(db, id)).toMatchObject([{ revision: 0, entries: [{ label: "Old" }] }]);
  });

  it("stays where it is while the browser has no room for it under the window's own key, and is not done twice later", async () => {
    const made = JSON.stringify([{ id: "old", kind: "do", label: "Old", edit: edit() }]);
    kept.set(`marten.unsaved.${id}`, made);
    room = 10;
    outage = down;
    const window = new Window();
    await window.take.takeLog([]);
    expect(kept.get(`marten.unsaved.${id}`)).toBe(made);
    outage = null;
    window.take.retryNow();
    await window.saved();
    room = Number.POSITIVE_INFINITY;
    const next = new Window();
    await next.take.takeLog(readLog(db, id, 0));
    await next.saved();
    expect(readLog(db, id, 0).map(({ label }) => label)).toEqual(["Old"]);
    expect(unsavedKeys()).toEqual([]);
  });

  it("and is no JSON, or anything else, is set aside and keeps nothing from opening", async () => {
    for (const text of ["{oh", "null", "[1,2]", '{"version":1}', '"x"']) {
      kept.set(`marten.unsaved.${id}.some window`, text);
      const window = new Window();
      await window.take.takeLog([]);
      expect(unsavedKeys()).toEqual([]);
      expect(kept.get(`marten.unreadable.marten.unsaved.${id}.some window`)).toBe(text);
      expect(window.do("Louder: velocity up", louder(0))).toBe(true);
      await window.saved();
    }
  });
});

describe("saving", () => {
  it.each([
    ["a fault of the server", failing(500, "server.fault")],
    ["a full disk", failing(507, "storage.full")],
    ["no answer", down],
    ["an answer that is none", () => new Response("<html>")],
  ])("resumes by itself after %s", async (_, trouble) => {
    const window = new Window();
    outage = trouble as () => Response;
    window.do("One", louder(0));
    await vi.waitFor(() => expect(window.state.kind).toBe("notSaving"));
    window.do("Two", louder(1));
    expect(unsavedKeys()).toHaveLength(1);
    outage = null;
    await window.saved();
    expect(readLog(db, id, 0).map(({ label }) => label)).toEqual(["One", "Two"]);
    expect(unsavedKeys()).toEqual([]);
  });

  it("says when the browser has no room either", async () => {
    const window = new Window();
    room = 10;
    outage = down;
    window.do("One", louder(0));
    await vi.waitFor(() => expect(window.state).toMatchObject({ kind: "notSaving", isKeptHere: false }));
    outage = null;
    window.take.retryNow();
    await window.saved();
  });

  it("does not do twice what it has, though the answer was lost", async () => {
    const window = new Window();
    let lost = 0;
    vi.stubGlobal("fetch", async (path: string, init?: RequestInit) => {
      const real = await answer(path, init);
      if (path.endsWith("/edits") && lost++ < 2) throw new TypeError("cut");
      return real;
    });
    window.do("One", louder(0));
    window.do("Two", louder(1));
    await window.saved();
    expect(readLog(db, id, 0).map(({ label }) => label)).toEqual(["One", "Two"]);
    expect(onDisk()).toEqual(window.take.take);
  });

  it("starts over from an older state that was put in the place of the data, and keeps its own beside it", async () => {
    const window = new Window();
    await window.take.takeLog([]);
    window.do("One", louder(0));
    window.do("Two", louder(1));
    await window.saved();
    const had = window.take.take;
    // As after a backup was restored.
    db.exec("DELETE FROM edits; DELETE FROM changed_hits; UPDATE patterns SET revision = 0");
    window.do("Three", louder(2));
    await window.saved();
    expect(onDisk()).toEqual(window.take.take);
    const [version] = listVersions(db, id);
    const restored = version!.entries!.reduce((pattern, { edit }) => applyEdit(pattern, edit), onDisk());
    expect(restored.hits.slice(0, 2)).toEqual(had.hits.slice(0, 2));
  });
});

function runImportedPattern(): Pattern {
  const fresh = openDatabase(mkdtempSync(join(tmpdir(), "marten-fresh-")));
  const own = storeImport(fresh, { fileName: "Slack Water.mid", book: "" }, bytes, runImport(bytes)).id;
  return openProject(fresh, own).pattern;
}
