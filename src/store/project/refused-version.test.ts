import { BroadcastChannel } from "node:worker_threads";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { VersionRequest } from "../../api/wire.ts";
import { changeVelocityBy } from "../../core/commands/index.ts";
import type { LogEntry } from "../../core/document/index.ts";
import { hitAt, patternOf } from "../../core/testing/patterns.ts";
import type { SaveState } from "./autosave.ts";
import { SavedTake, type SaveNotice } from "./saved-take.ts";
import { forgetRefused, refusedVersions } from "./unsaved.ts";

// A conflicted version that the server will not have is still somebody's work.

const take = patternOf([hitAt(0, { id: "a" }), hitAt(480, { id: "b" })]);
const entry = (id: string, hitId: string, by: number): LogEntry => {
  const hit = take.hits.find((one) => one.id === hitId)!;
  return { id, kind: "do", label: `Louder ${id}`, edit: changeVelocityBy([hit], by) };
};
/** What a closed window left: made on a revision that is not there, and on a loudness that is none. */
const leftBehind = (baseRevision: number) => ({
  version: 1,
  baseRevision,
  entries: [
    {
      ...entry("lost", "a", 5),
      edit: { kind: "setVelocity", changes: [{ hitId: "a", fromVelocity: 9, toVelocity: 14 }] },
    },
  ],
  conflicts: [],
});

let kept: Map<string, string>;
let room: number;
let isRefusing: boolean;
let sent: VersionRequest[];
let state: SaveState;
let notices: SaveNotice[];
let open: SavedTake;

const refusal = { code: "version.unsaved", message: "What should be kept is not there.", remedy: "" };

beforeEach(() => {
  kept = new Map();
  room = Number.POSITIVE_INFINITY;
  isRefusing = true;
  [sent, notices] = [[], []];
  state = { kind: "saved" };
  vi.stubGlobal("BroadcastChannel", BroadcastChannel);
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => {
      if (key.includes("refused") && room === 0) throw new DOMException("full", "QuotaExceededError");
      kept.set(key, value);
    },
    removeItem: (key: string) => kept.delete(key),
    get length() {
      return kept.size;
    },
    key: (index: number) => [...kept.keys()][index] ?? null,
  });
  vi.stubGlobal("fetch", async (_path: string, init: RequestInit) => {
    const request = JSON.parse(String(init.body)) as VersionRequest;
    sent.push(request);
    if (isRefusing) return Response.json({ ok: false, problem: refusal }, { status: 400 });
    return Response.json({ ok: true, value: { ...request, id: "v", madeAt: new Date().toISOString() } });
  });
  let turn = 0;
  const project = { id: "p", pattern: take, revision: 0, isPlanned: true } as ConstructorParameters<
    typeof SavedTake
  >[0];
  open = new SavedTake(project, () => `n${turn++}`, {
    onTake: () => {},
    onState: (now) => {
      state = now;
    },
    onNotice: (notice) => notices.push(notice),
    onWindows: () => {},
  });
});
afterEach(async () => {
  isRefusing = false;
  await open.close();
});

const settled = (kind: SaveState["kind"]) =>
  vi.waitFor(() => expect([sent.length > 0, state.kind]).toEqual([true, kind]), { timeout: 20_000, interval: 5 });

describe("a conflicted version that the server refuses", () => {
  it("stays in the browser with its reason, is said, and is forgotten only when it is let go", async () => {
    kept.set("marten.unsaved.p.gone", JSON.stringify(leftBehind(0)));
    await open.takeLog([]);
    await settled("saved");
    const [version] = refusedVersions("p");
    expect(version).toMatchObject({ revision: 0, reason: refusal.message, entries: [{ id: "lost" }] });
    expect(notices.at(-1)).toMatchObject({ kind: "conflict", message: expect.stringContaining(refusal.message) });
    expect(refusedVersions("other")).toEqual([]);
    forgetRefused(version!);
    expect(refusedVersions("p")).toEqual([]);
  });

  it("is held, and tried again, where the browser has no room for it", async () => {
    room = 0;
    kept.set("marten.unsaved.p.gone", JSON.stringify(leftBehind(0)));
    await open.takeLog([]);
    await settled("notSaving");
    expect(open.hasUnsaved).toBe(true);
    isRefusing = false;
    open.retryNow();
    await settled("saved");
    expect(sent.at(-1)).toMatchObject({ entries: [{ id: "lost" }] });
  });

  it("is of a revision that is there, where a restored backup no longer has the one that it was made on", async () => {
    kept.set("marten.unsaved.p.gone", JSON.stringify(leftBehind(7)));
    await open.takeLog([]);
    await settled("saved");
    expect(sent).toMatchObject([{ revision: 0 }]);
  });

  it("is found as it was kept by an earlier version, and what is no version is left alone", () => {
    kept.set(
      "marten.refused-version.p.old",
      JSON.stringify({ name: "Conflicted version, 3:14", revision: 2, entries: [entry("old", "b", 3)] }),
    );
    kept.set("marten.refused-version.p.broken", "{");
    expect(refusedVersions("p")).toMatchObject([{ name: "Conflicted version, 3:14", reason: "" }]);
  });
});
