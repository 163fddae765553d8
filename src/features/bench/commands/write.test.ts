import { beforeEach, describe, expect, it, vi } from "vitest";
import { hitAt, laneOf, patternOf } from "../../../core/testing/patterns.ts";
import type { Grid } from "../../../core/time/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { createBenchStore } from "../../../store/bench/bench-store.ts";
import { clipboard, keepClip } from "../../../store/bench/clipboard.ts";
import type { Playback } from "../../../store/playback/playback.ts";
import { Recording } from "../../../store/playin/recording.ts";
import { readEdits } from "../sheets/ExactSheet.tsx";
import { COMMANDS } from "./commands.ts";
import { meantStretch, strokeOfLane } from "./write-actions.ts";

const EIGHTHS: Grid = { family: "straight", denominator: 8 };
let bench: Bench;

beforeEach(() => {
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal("fetch", async () => Response.json({ ok: true, value: { revision: 1 } }));
  const hits = [
    hitAt(0, { id: "k", voiceId: "kick", articulationId: "main", note: 36 }),
    hitAt(480, { id: "a", recordedVelocity: 60 }),
    hitAt(1440, { id: "b", recordedVelocity: 100 }),
    hitAt(2400, { id: "c", recordedVelocity: 62 }),
  ];
  const pattern = patternOf(hits, { lengthTicks: 7680, lanes: [laneOf("snare"), laneOf("kick")] });
  let turn = 0;
  const store = createBenchStore(
    { id: "p", name: "Take", book: "", fileName: "", notices: [], revision: 0, isPlanned: true, pattern },
    () => `id ${turn++}`,
  );
  store.setWidth(800);
  const playback = { audition: async () => {}, seek: () => {} } as unknown as Playback;
  bench = { store, playback, recording: new Recording(store, playback), pointerTick: null };
});

const state = () => bench.store.getState();
const run = (id: string) => COMMANDS.find((command) => command.id === id)!.run(bench);
const pick = (...ids: string[]) => bench.store.pick(new Set(ids));
const snare = () => state().lanes.find((lane) => lane.voiceId === "snare")!;
const ticks = () => [...snare().cleaned.ticks];

describe("commands that write", () => {
  it("have keys that no other command has", () => {
    const keys = COMMANDS.flatMap((command) => command.keys);
    expect(new Set(keys).size).toBe(keys.length);
    expect(new Set(COMMANDS.map(({ id }) => id)).size).toBe(COMMANDS.length);
  });

  it("copy, cut and paste into the bar of the playhead or at its place, on the same drum or on the open one", () => {
    bench.store.wish("pasteWish", { where: "bar", how: "beside", times: 1 });
    expect(run("paste")).toBe("Nothing is copied yet.");
    expect(run("copy")).toMatch(/^Select some hits first/);
    pick("b", "k");
    expect(run("copy")).toBe("Copied 2 hits.");
    bench.store.setPlayhead(4000);
    run("paste");
    expect(ticks()).toEqual([480, 1440, 2400, 3840 + 1440]);
    expect(state().picked.size).toBe(2);
    bench.store.undo();
    expect(ticks()).toEqual([480, 1440, 2400]);
    pick("k");
    run("cut");
    expect(state().pattern.hits).toHaveLength(3);
    run("pasteOnto");
    expect(ticks()).toEqual([480, 1440, 2400, 3840]);
    bench.store.setPlayhead(7600);
    pick("c");
    run("copy");
    const { clip } = clipboard.getState();
    keepClip({ ...clip!, strokes: [{ ...clip!.strokes[0]!, tick: 90_000 }] });
    expect(run("paste")).toMatch(/The take goes on to bar \d+ now/);
  });

  it("repeat, split, glue, and halve or double the time", () => {
    pick("a");
    run("repeat");
    expect(ticks()).toEqual([480, 960, 1440, 2400]);
    bench.store.undo();
    pick("a");
    run("split");
    expect(ticks()).toEqual([480, 540, 1440, 2400]);
    pick("a", "b");
    expect(run("glue")).toBe("Made 1 hit of 2.");
    expect(snare().cleaned.velocities[0]).toBe(100);
    bench.store.undo();
    bench.store.undo();
    pick("a", "b", "c");
    run("double");
    expect(ticks()).toEqual([480, 960, 1440]);
    run("half");
    expect(ticks()).toEqual([480, 1440, 2400]);
    pick("c");
    expect(run("glue")).toBe("Select at least two hits of one drum.");
  });

  it("clear the loop except the open lane", () => {
    expect(run("clearLoop")).toBe("Loop the stretch to clear first.");
    bench.store.setLoop({ startTick: 0, endTick: 1920 });
    bench.store.openLane("snare");
    expect(run("clearLoop")).toBe("Cleared 1 hit; Snare is left.");
    expect(state().pattern.hits.map((hit) => hit.id)).toEqual(["a", "b", "c"]);
    expect(run("clearLoop")).toBe("There is nothing to clear in the loop.");
  });

  it("fill every nth slot of the loop, and burst into its end", () => {
    bench.store.setLoop({ startTick: 0, endTick: 1920 });
    bench.store.openLane("snare");
    bench.store.wish("fill", { where: "meant", grid: EIGHTHS, every: 2, from: 1, velocity: 50 });
    expect(run("fill")).toBe("Wrote 2 hits on eighths.");
    expect(ticks()).toEqual([0, 480, 960, 1440, 2400]);
    expect(run("fill")).toBe("Every slot that was meant has a hit already.");
    bench.store.undo();
    const setting = {
      where: "into" as const,
      count: 4,
      grid: EIGHTHS,
      fromVelocity: 40,
      toVelocity: 100,
      curve: "even" as const,
    };
    bench.store.wish("burst", setting);
    run("burst");
    const written = snare().hits.filter((hit) => hit.recordedTick === null);
    expect(written.map((hit) => [hit.pinnedTick, hit.pinnedVelocity])).toEqual([
      [960, 40],
      [1200, 60],
      [1440, 80],
      [1680, 100],
    ]);
    bench.store.wish("burst", { count: 60 });
    expect(run("burst")).toContain("would begin before the take");
  });

  it("fill from the first to the last selected hit, and say so when there is nothing between", () => {
    bench.store.openLane("snare");
    bench.store.wish("fill", { where: "picked", grid: EIGHTHS, every: 1, from: 1, velocity: 50 });
    pick("a");
    expect(run("fill")).toBe("Select the hits to write between, at least two.");
    pick("a", "b");
    expect(run("fill")).toBe("Wrote 3 hits on eighths.");
    expect(ticks()).toEqual([480, 720, 960, 1200, 1440, 2400]);
  });

  it("burst between picked hits or through the loop, in even steps around what is there", () => {
    const setting = { count: 4, grid: EIGHTHS, fromVelocity: 40, toVelocity: 100, curve: "even" as const };
    bench.store.openLane("snare");
    bench.store.wish("burst", { ...setting, where: "picked" });
    expect(run("burst")).toBe("Select the hits to write between, at least two.");
    pick("a", "b");
    expect(run("burst")).toBe("Wrote 3 hits between the selected hits.");
    expect(ticks()).toEqual([480, 720, 960, 1200, 1440, 2400]);
    // The hit that it starts from counts as the first of the ramp.
    expect([...snare().cleaned.velocities].slice(1, 4)).toEqual([60, 80, 100]);
    bench.store.undo();
    bench.store.wish("burst", { where: "loop" });
    expect(run("burst")).toBe("Loop a stretch first.");
    bench.store.setLoop({ startTick: 2400, endTick: 2400 + 700 });
    expect(run("burst")).toBe("Wrote 2 hits through the loop.");
    expect(ticks().slice(2)).toEqual([2400, 2633, 2867]);
    expect(run("burst")).toBe("Every place of the roll has a hit already.");
  });

  it("fill on the grid that the lane is drawn on, unless another is said", () => {
    bench.store.setLoop({ startTick: 0, endTick: 960 });
    bench.store.openLane("snare");
    bench.store.setDrawGrids(new Map([["snare", { family: "quintuplet", denominator: 8 }]]));
    bench.store.wish("fill", { where: "meant", grid: null, every: 1, from: 1, velocity: 70 });
    expect(run("fill")).toBe("Wrote 5 hits on eighth quintuplets.");
    expect(ticks().slice(0, 5)).toEqual([0, 192, 384, 480, 576]);
  });

  it("mean the bars in view where nothing is looped", () => {
    const { startTick, endTick } = meantStretch(state());
    expect([startTick, endTick % 1920]).toEqual([0, 0]);
    expect(strokeOfLane(snare(), new Set(["a"]))).toEqual({ articulationId: "centre", velocity: 60 });
  });
});

describe("commands that pick", () => {
  it("go from a hit to those like it, and to all others", () => {
    expect(run("likePlaces")).toBe("Select a hit first, to find others like it.");
    pick("a");
    run("likeLoudness");
    expect([...state().picked]).toEqual(["a", "c"]);
    run("others");
    expect([...state().picked]).toEqual(["b"]);
    pick("a");
    run("likePlaces");
    expect([...state().picked]).toEqual(["a", "c"]);
    run("likeStrokes");
    expect([...state().picked]).toEqual(["a", "b", "c"]);
    expect(run("inLoop")).toBe("Loop a stretch first.");
    bench.store.setLoop({ startTick: 0, endTick: 1920 });
    run("inLoop");
    expect([...state().picked]).toEqual(["a", "b"]);
  });
});

describe("commands that travel", () => {
  const shown = () => {
    const { startTick, ticksPerPx, widthPx } = state().viewport;
    return [startTick, startTick + ticksPerPx * widthPx];
  };

  it("show the loop, what is picked, everything, and what was shown before", () => {
    const first = shown();
    expect(run("showBefore")).toBe("There was no other view yet.");
    expect(run("showLoop")).toBe("Loop a stretch first.");
    expect(run("showPicked")).toMatch(/^Select some hits first/);
    bench.store.setLoop({ startTick: 3840, endTick: 5760 });
    run("showLoop");
    expect(shown()[0]).toBeLessThan(3840);
    expect(shown()[0]).toBeGreaterThan(3600);
    expect(shown()[1]).toBeGreaterThan(5760);
    pick("c");
    run("showPicked");
    expect(shown()[0]).toBeGreaterThan(1700);
    expect(shown()[1]).toBeLessThan(4000);
    run("fit");
    expect(shown()[1]).toBeGreaterThanOrEqual(7680);
    run("showBefore");
    expect(shown()[0]).toBeGreaterThan(1700);
    run("showBefore");
    expect(shown()[1]).toBeGreaterThanOrEqual(7680);
    expect(first[0]).toBeLessThanOrEqual(0);
  });

  it("go from bar line to bar line, and make all lanes slim", () => {
    const places: number[] = [];
    bench = {
      ...bench,
      playback: {
        placeTick: () => null,
        seek: (tick: number) => {
          places.push(tick);
          bench.store.setPlayhead(tick);
        },
      } as unknown as Playback,
    };
    run("barOn");
    run("barOn");
    run("barBack");
    bench.store.setPlayhead(2500);
    run("barBack");
    run("barBack");
    run("barBack");
    expect(places).toEqual([1920, 3840, 1920, 1920, 0, 0]);
    run("slim");
    expect(state().openVoiceId).toBeNull();
  });
});

describe("what is typed", () => {
  const typed = (place: string, velocity: string) => {
    const edits = readEdits(state(), place, velocity);
    if (typeof edits === "string") return edits;
    bench.store.commit("Type", { kind: "together", edits });
    return [ticks(), [...snare().cleaned.velocities]];
  };

  it("puts the first hit to a place and takes the others along, and changes loudness by an amount", () => {
    pick("b", "c");
    expect(typed("1:1:0", "")).toEqual([
      [0, 480, 960],
      [100, 60, 62],
    ]);
    expect(typed("+10", "+5")).toEqual([
      [10, 480, 970],
      [105, 60, 67],
    ]);
    expect(typed("-5 ms", "")).toEqual([
      [5, 480, 965],
      [105, 60, 67],
    ]);
  });

  it("is refused when it is no place, no amount, or behind the end", () => {
    pick("a");
    expect(typed("soon", "")).toContain("Type a place");
    expect(typed("99", "")).toContain("past the end");
    expect(typed("", "loud")).toContain("Type a velocity");
    pick();
    expect(typed("1:1:0", "")).toBe("Nothing is selected.");
  });
});
