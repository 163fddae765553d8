import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { OpenProject, SaveRequest } from "../../api/wire.ts";
import { changeTiming, changeVelocityBy, moveHitsBy } from "../../core/commands/index.ts";
import { applyEdit, type Pattern } from "../../core/document/index.ts";
import { hitAt, patternOf } from "../../core/testing/patterns.ts";
import { type Bench, undo } from "./bench-context.ts";
import { isAudible, pickedHits } from "./bench-selectors.ts";
import { type BenchStore, createBenchStore } from "./bench-store.ts";
import { deriveLanes } from "./lane-view.ts";
import { fitViewport, limitViewport, tickToX, xToTick, zoomAround } from "./viewport.ts";

const pattern = patternOf([
  hitAt(0),
  hitAt(130),
  hitAt(250),
  hitAt(480, { voiceId: "kick", articulationId: "main", note: 36 }),
]);
const project: OpenProject = {
  id: "p",
  name: "Test",
  book: "",
  fileName: "t.mid",
  notices: [],
  revision: 0,
  isPlanned: true,
  pattern,
};

/** A server that keeps what it is sent, as the real one does. */
class FakeServer {
  revision = 0;
  pattern: Pattern = pattern;
  requests: SaveRequest[] = [];
  isDown = false;
  answer = async (_path: string, init?: RequestInit) => {
    if (this.isDown) throw new TypeError("refused");
    if (!init?.body) return Response.json({ ok: true, value: [] });
    const request: SaveRequest = JSON.parse(String(init?.body));
    this.requests.push(request);
    for (const entry of request.entries) this.pattern = applyEdit(this.pattern, entry.edit);
    this.revision += request.entries.length;
    return Response.json({ ok: true, value: { revision: this.revision } });
  };
}

let server: FakeServer;
let store: BenchStore;
let stored: Map<string, string>;

/** Stores go on trying to save; one that is left open would do so during the next test. */
const opened: BenchStore[] = [];
const openStore: typeof createBenchStore = (...given) => {
  const made = createBenchStore(...given);
  opened.push(made);
  return made;
};
afterEach(() => {
  for (const one of opened.splice(0)) one.close();
});

beforeEach(() => {
  server = new FakeServer();
  stored = new Map();
  vi.stubGlobal("fetch", (path: string, init?: RequestInit) => server.answer(path, init));
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => stored.set(key, value),
    removeItem: (key: string) => stored.delete(key),
    length: 0,
    key: () => null,
  });
  let turn = 0;
  store = openStore(project, () => `entry ${turn++}`);
});

const second = () => {
  const lane = store.getState().lanes.find(({ voiceId }) => voiceId === "snare")!;
  return [{ hit: lane.hits[1]!, tick: lane.cleaned.ticks[1]! }];
};
const nudge = (delta: number) => moveHitsBy(store.getState().pattern, second(), delta);
const saved = () => vi.waitFor(() => expect(store.getState().saveState.kind).toBe("saved"));

describe("the bench store", () => {
  it("saves an edit at once and says so", async () => {
    store.commit("Nudge", nudge(5));
    expect(store.getState().saveState.kind).toBe("saving");
    await saved();
    expect(server.pattern).toEqual(store.getState().pattern);
    expect(store.hasUnsaved()).toBe(false);
  });

  it("shows a drag without doing it, and nothing of it when it is given up", () => {
    const before = store.getState().lanes;
    const shownAt = () => [...store.getState().lanes[0]!.cleaned.ticks];
    store.previewMove(second(), 40);
    expect(shownAt()).toEqual([0, 170, 250]);
    expect(store.getState().lanes[0]!.cleanedMs[1]).toBeCloseTo((170 * 25) / 24, 6);
    expect(store.getState().lanes[1]).toBe(before[1]);
    store.preview(changeVelocityBy([pattern.hits[0]!], -30));
    // Each is laid over what was there when the drag began.
    expect(shownAt()).toEqual([0, 130, 250]);
    expect([...store.getState().lanes[0]!.cleaned.velocities]).toEqual([60, 90, 90]);
    expect(store.getState().pattern).toBe(pattern);
    store.endPreview();
    expect(store.getState().lanes).toBe(before);
    store.commit("Nothing", moveHitsBy(pattern, [], 5));
    expect(store.getState().history.done).toEqual([]);
  });

  it("lays a drag over the lanes alone, not over what was shown before it", () => {
    const before = store.getState().lanes;
    const { pattern: taken } = store.getState();
    store.preview({ kind: "addHits", hits: [{ ...taken.hits[0]!, id: "copy", pinnedTick: 40 }] });
    expect(store.getState().lanes[0]!.hits).toHaveLength(before[0]!.hits.length + 1);
    store.previewMove(second(), 0);
    expect(store.getState().lanes.map(({ hits }) => hits.length)).toEqual(before.map(({ hits }) => hits.length));
    store.endPreview();
    expect(store.getState().isPreviewing).toBe(false);
    expect(store.getState().shown).toBe(taken);
  });

  it("lays a drag over the lanes as treating them anew would have it, if nothing else moves", () => {
    const [placed, near] = [second(), nudge(25)];
    store.previewMove(placed, 40);
    store.previewMove(placed, 25);
    const laid = store.getState().lanes.map(({ cleaned, cleanedMs }) => [cleaned.ticks, cleaned.slotTicks, cleanedMs]);
    store.commit("Nudge", near);
    const treated = store
      .getState()
      .lanes.map(({ cleaned, cleanedMs }) => [cleaned.ticks, cleaned.slotTicks, cleanedMs]);
    expect(treated).toEqual(laid);
    store.preview(changeTiming(store.getState().pattern, new Set(["snare"]), (timing) => ({ ...timing, isOn: true })));
    expect(store.getState().shown.lanes[0]!.treatment.timing.isOn).toBe(true);
    store.endPreview();
    expect(store.getState().shown).toBe(store.getState().pattern);
  });

  it("is not in a drag any more, even if it changed nothing", () => {
    store.preview(changeTiming(store.getState().pattern, new Set(["snare"]), (timing) => timing));
    store.endPreview();
    expect(store.getState().isPreviewing).toBe(false);
  });

  it("undoes and redoes, and says what", async () => {
    store.commit("Nudge later", nudge(5));
    expect(store.undo()).toBe("Nudge later");
    expect(store.getState().pattern).toEqual(pattern);
    expect(store.redo()).toBe("Nudge later");
    expect(store.redo()).toBeNull();
    expect(store.getState().pattern.hits[1]!.pinnedTick).toBe(135);
    await saved();
    expect(server.requests.flatMap((request) => request.entries.map((entry) => entry.kind))).toEqual([
      "do",
      "undo",
      "redo",
    ]);
    expect(server.pattern).toEqual(store.getState().pattern);
  });

  it("drops picks of hits that an undo takes away", () => {
    store.commit("Add", {
      kind: "addHits",
      hits: [
        hitAt(900, { id: "new", recordedTick: null, recordedVelocity: null, pinnedTick: 900, pinnedVelocity: 70 }),
      ],
    });
    store.pick(new Set(["new", "0:0"]));
    expect(pickedHits(store.getState()).map(({ hit }) => hit.id)).toEqual(["0:0", "new"]);
    store.undo();
    expect([...store.getState().picked]).toEqual(["0:0"]);
  });

  it("knows its history once, though edits were made and saved while the log was on its way", async () => {
    store.commit("Early", nudge(5));
    await saved();
    const [early] = server.requests[0]!.entries;
    store.commit("Later", nudge(6));
    await store.takeLog([{ ...early!, id: "before", label: "Long ago", edit: { kind: "addHits", hits: [] } }, early!]);
    expect(store.getState().history.done.map((step) => step.label)).toEqual(["Long ago", "Early", "Later"]);
    await saved();
    expect(server.requests.flatMap((request) => request.entries)).toHaveLength(2);
  });

  it("takes the last step back once its history is read, however early the key, unless something is done first", async () => {
    store.commit("Early", nudge(5));
    await saved();
    const reopened = async (act: (again: BenchStore) => void) => {
      const again = openStore(
        { ...project, pattern: server.pattern, revision: server.revision },
        () => `again ${turn++}`,
      );
      const bench = { store: again } as Bench;
      expect(undo(bench)).toBe("What was done before is still being read. The last step is undone in a moment.");
      act(again);
      await again.takeLog(server.requests.flatMap(({ entries }) => entries));
      return bench;
    };
    let turn = 0;
    const louder = (again: BenchStore) => changeVelocityBy(again.getState().pattern.hits.slice(3), 5);
    const busy = await reopened((again) => again.commit("Other", louder(again)));
    expect(busy.store.getState().history.done.map(({ label }) => label)).toEqual(["Early", "Other"]);
    await busy.store.saved();
    const quick = await reopened(() => {});
    expect(quick.store.getState().history.done.map(({ label }) => label)).toEqual(["Early"]);
    expect(quick.store.getState().history.undone.map(({ label }) => label)).toEqual(["Other"]);
  });

  it("waits with an export until everything is saved, but not for ever", async () => {
    store.commit("Nudge", nudge(5));
    expect(store.hasUnsaved()).toBe(true);
    expect(await store.saved()).toBe(true);
    expect(server.requests).toHaveLength(1);
    server.isDown = true;
    store.commit("Nudge", nudge(5));
    expect(await store.saved(120)).toBe(false);
  });

  it("puts its edits on top of another window's, if they fit", async () => {
    const theirs = {
      id: "theirs",
      kind: "do" as const,
      label: "Theirs",
      edit: changeTiming(pattern, new Set(["kick"]), (timing) => ({ ...timing, isOn: true })),
    };
    const real = server.answer;
    let isFirst = true;
    server.answer = async (path, init) => {
      if (!isFirst) return real(path, init);
      isFirst = false;
      server.pattern = applyEdit(server.pattern, theirs.edit);
      server.revision = 1;
      return Response.json({
        ok: false,
        problem: { code: "edits.stale", message: "", remedy: "" },
        revision: 1,
        newer: [theirs],
      });
    };
    store.commit("Nudge", nudge(5));
    await saved();
    expect(store.getState().pattern).toEqual(server.pattern);
    expect(store.getState().lanes.find(({ voiceId }) => voiceId === "kick")!.treatment.timing.isOn).toBe(true);
    expect(server.requests.at(-1)!.baseRevision).toBe(1);
  });

  it("derives only the lanes that an edit touches", () => {
    const before = store.getState().lanes;
    store.commit("Nudge", nudge(5));
    const after = store.getState().lanes;
    expect(after.find(({ voiceId }) => voiceId === "kick")).toBe(before.find(({ voiceId }) => voiceId === "kick"));
    expect(after.find(({ voiceId }) => voiceId === "snare")).not.toBe(
      before.find(({ voiceId }) => voiceId === "snare"),
    );
    expect(deriveLanes(store.getState().pattern, after, store.getState().maps)).toEqual(after);
  });

  it("lets solo win over mute", () => {
    const hears = (muted: string[], soloed: string[], voiceId: string) =>
      isAudible({ muted: new Set(muted), soloed: new Set(soloed) }, voiceId);
    expect(hears([], [], "kick")).toBe(true);
    expect(hears(["kick"], [], "kick")).toBe(false);
    expect(hears(["kick"], ["kick"], "kick")).toBe(true);
    expect(hears([], ["snare"], "kick")).toBe(false);
  });
});

describe("the viewport", () => {
  const length = 92_160;
  const anyViewport = fc.record({
    startTick: fc.double({ min: -5000, max: 200_000, noNaN: true }),
    ticksPerPx: fc.double({ min: 0.01, max: 500, noNaN: true }),
    widthPx: fc.integer({ min: 200, max: 2000 }),
  });

  it("finds a tick again from its x", () => {
    const viewport = { startTick: 100, ticksPerPx: 2.5, widthPx: 800 };
    expect(xToTick(viewport, tickToX(viewport, 977))).toBeCloseTo(977, 9);
  });

  it("never leaves the pattern", () => {
    fc.assert(
      fc.property(anyViewport, (viewport) => {
        const limited = limitViewport(viewport, length);
        expect(tickToX(limited, 0)).toBeLessThanOrEqual(15);
        expect(limitViewport(limited, length)).toEqual(limited);
      }),
    );
  });

  it("keeps the tick under the pointer when it zooms inside the pattern", () => {
    const viewport = { startTick: 20_000, ticksPerPx: 4, widthPx: 800 };
    const nearer = zoomAround(viewport, 300, 0.5, length);
    expect(nearer.ticksPerPx).toBe(2);
    expect(xToTick(nearer, 300)).toBeCloseTo(xToTick(viewport, 300), 6);
  });

  it("fits a stretch", () => {
    const fitted = fitViewport({ startTick: 0, ticksPerPx: 1, widthPx: 828 }, 1920, 3840, length);
    expect(tickToX(fitted, 1920)).toBeCloseTo(14, 6);
    expect(tickToX(fitted, 3840)).toBeCloseTo(814, 6);
  });
});
