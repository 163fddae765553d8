import { beforeEach, describe, expect, it, vi } from "vitest";
import type { FoundGrid } from "../../../core/study/index.ts";
import { hitAt, laneOf, patternOf } from "../../../core/testing/patterns.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { createBenchStore } from "../../../store/bench/bench-store.ts";
import type { Playback } from "../../../store/playback/playback.ts";
import { Recording } from "../../../store/playin/recording.ts";
import { looksOf } from "../steps/worth-a-look.ts";
import { flipSide, tightenAll } from "./actions.ts";
import { COMMANDS } from "./commands.ts";
import { correctLatency } from "./treatment-actions.ts";

const hits = [
  hitAt(10),
  hitAt(130),
  hitAt(371),
  hitAt(2000),
  hitAt(0, { id: "k", voiceId: "kick", articulationId: "main", note: 36 }),
];
const heard: [voiceId: string, velocity: number][] = [];
let bench: Bench;

beforeEach(() => {
  vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal("fetch", async () => Response.json({ ok: true, value: { revision: 1 } }));
  heard.length = 0;
  const pattern = patternOf(hits, { lengthTicks: 7680, lanes: [laneOf("snare"), laneOf("kick")] });
  let turn = 0;
  const store = createBenchStore(
    { id: "p", name: "", book: "", fileName: "", notices: [], revision: 0, isPlanned: true, pattern },
    () => `${turn++}`,
  );
  store.setWidth(800);
  const playback = {
    audition: async (voiceId: string, _articulation: string, velocity: number) => void heard.push([voiceId, velocity]),
    toggle: async () => {},
    seek: (tick: number) => store.setPlayhead(tick),
  } as unknown as Playback;
  bench = { store, playback, recording: new Recording(store, playback), pointerTick: null };
});

const run = (id: string) => COMMANDS.find((command) => command.id === id)!.run(bench);
const state = () => bench.store.getState();
const pick = (...ids: string[]) => bench.store.pick(new Set(ids));
const snareTicks = () => [...state().lanes.find(({ voiceId }) => voiceId === "snare")!.cleaned.ticks];

describe("commands", () => {
  it("say what they need when nothing is picked", async () => {
    await bench.store.takeLog([]);
    for (const id of ["earlier", "stepOn", "louder", "pin", "unpin", "remove"])
      expect(run(id)).toMatch(/^Select some hits first/);
    expect(run("undo")).toBe("There is nothing to undo.");
    bench.store.openLane(null);
    expect(run("mute")).toBe("Open a lane first.");
    expect(run("timing")).toBe("Open a lane first.");
  });

  it("nudge by ms, at the tempo of the place", () => {
    pick("0:130");
    run("later");
    expect(snareTicks()).toEqual([10, 132, 371, 2000]); // 2 ms at 120 bpm are 1.92 ticks
    run("earlier");
    expect(snareTicks()).toEqual([10, 130, 371, 2000]);
  });

  it("nudge by single ticks", () => {
    bench.store.pick(new Set([hits[1]!.id]));
    run("tickLater");
    run("tickLater");
    run("tickEarlier");
    expect(state().pattern.hits.find(({ id }) => id === hits[1]!.id)?.pinnedTick).toBe(131);
  });

  it("move by steps of the lane's grid, keeping what is off it", () => {
    pick("0:130", "0:371");
    run("stepOn");
    expect(snareTicks()).toEqual([10, 250, 491, 2000]);
    run("stepBack");
    expect(snareTicks()).toEqual([10, 130, 371, 2000]);
  });

  it("shape loudness, and sound it", () => {
    pick("0:10");
    run("louder");
    expect(heard).toEqual([["snare", 94]]);
    run("softer");
    expect(state().history.done.map((step) => step.label)).toEqual(["Velocity of 1 hit +4", "Velocity of 1 hit −4"]);
  });

  it("that do the same again and again are undone and redone as one, named by the sum", () => {
    pick("0:10");
    for (let press = 0; press < 6; press++) run("louder");
    expect(run("undo")).toBe("Undone: Velocity of 1 hit +24.");
    expect(state().pattern.hits.find(({ id }) => id === "0:10")?.pinnedVelocity).toBeNull();
    expect(run("redo")).toBe("Redone: Velocity of 1 hit +24.");
    expect(state().pattern.hits.find(({ id }) => id === "0:10")?.pinnedVelocity).toBe(114);
  });

  it("pin where a hit sounds, and unpin", () => {
    run("timing");
    expect(snareTicks()[0]).toBe(2); // 80 % of the way from 10 to 0
    pick("0:10");
    run("pin");
    run("timing");
    expect(snareTicks()[0]).toBe(2);
    run("unpin");
    expect(snareTicks()[0]).toBe(10);
  });

  it("remove, say so, and undo", () => {
    pick("0:10", "k");
    expect(run("remove")).toBe("Removed 2 hits.");
    expect(state().pattern.hits).toHaveLength(3);
    expect(run("undo")).toBe("Undone: Remove 2 hits.");
    expect(state().pattern.hits).toHaveLength(5);
    expect(run("redo")).toBe("Redone: Remove 2 hits.");
  });

  it("walk through the hits of the open lane, from where the view is, and stay at its end", () => {
    run("next");
    expect([...state().picked]).toEqual(["0:10"]);
    run("next");
    run("next");
    run("before");
    expect([...state().picked]).toEqual(["0:130"]);
    run("all");
    expect(state().picked.size).toBe(4);
    run("next");
    expect(state().picked.size).toBe(4);
    run("none");
    expect(state().picked.size).toBe(0);
  });

  it("walk through the hits that are worth a look", () => {
    expect(run("worth")).toBe("No doubtful hits in this lane.");
    const fence = hitAt(61, { id: "fence", recordedVelocity: 85 });
    bench.store.commit("Add", { kind: "addHits", hits: [fence] });
    run("timing");
    expect(looksOf(state(), state().lanes[0]!).length).toBeGreaterThan(0);
    run("worth");
    expect([...state().picked]).toContain("fence");
  });

  it("bring a lane to the front: hits of the others are out of reach until it goes back", () => {
    pick("0:10", "k");
    expect(run("front")).toMatch(/^Snare is in front/);
    expect([...state().picked]).toEqual(["0:10"]);
    pick("k", "0:130");
    expect([...state().picked]).toEqual(["0:130"]);
    run("laneDown");
    expect(state().frontVoiceId).toBe("kick");
    expect(state().picked.size).toBe(0);
    expect(run("front")).toBe("All lanes are level again.");
    pick("k", "0:130");
    expect(state().picked.size).toBe(2);
  });

  it("tighten every voice at once, as one step", () => {
    expect(tightenAll(bench)).toBe("Quantized 2 voices, each on its own grid.");
    expect(state().lanes.every((lane) => lane.treatment.timing.isOn)).toBe(true);
    expect(tightenAll(bench)).toBe("Every voice is quantized already.");
    run("undo");
    expect(state().lanes.some((lane) => lane.treatment.timing.isOn)).toBe(false);
  });

  it("tighten what came in late around its own habit, and switch it off and on without being late again", () => {
    const grid = { family: "straight", denominator: 8 } as const;
    const found = { grid, stretches: [], meanDriftMs: 42, isPoor: false } as unknown as FoundGrid;
    const summary = { voiceId: "snare", name: "Snare", notes: [], hitCount: 3, found, fits: [], faults: [] };
    bench.store.takeFindings({ summaries: new Map([["snare", summary]]) });
    correctLatency(bench, 35);
    const snare = () => state().pattern.lanes.find(({ voiceId }) => voiceId === "snare")!.treatment.timing;
    tightenAll(bench);
    expect(snare()).toMatchObject({ isOn: true, latencyMs: 35, pocketMs: 7 });
    bench.store.openLane("snare");
    run("timing");
    expect(snare()).toMatchObject({ isOn: false, latencyMs: 35, latencyStays: true });
    run("timing");
    expect(snare()).toMatchObject({ isOn: true, latencyMs: 35, pocketMs: 7 });
  });

  it("loop the bars of what is picked, else the bars in view, else nothing", () => {
    pick("0:2000");
    run("loop");
    expect(state().loop).toEqual({ startTick: 1920, endTick: 3840 });
    run("loop");
    expect(state().loop).toBeNull();
    pick();
    run("loop");
    expect(state().loop).toEqual({ startTick: 0, endTick: 7680 });
  });

  it("mute, solo, click, flip, open neighbours and travel", () => {
    run("mute");
    run("solo");
    expect([[...state().muted], [...state().soloed]]).toEqual([["snare"], ["snare"]]);
    run("mute");
    expect(state().muted.size).toBe(0);
    run("click");
    expect(state().click.isOn).toBe(false);
    flipSide(bench);
    expect(state().side).toBe("recorded");
    run("laneDown");
    expect(state().openVoiceId).toBe("kick");
    run("laneDown");
    expect(state().openVoiceId).toBe("kick");
    run("laneUp");
    expect(state().openVoiceId).toBe("snare");
    const before = state().viewport.ticksPerPx;
    run("nearer");
    expect(state().viewport.ticksPerPx).toBeLessThan(before);
    run("fit");
    expect(state().viewport.ticksPerPx).toBeCloseTo(7680 / 772, 6);
    bench.store.setPlayhead(500);
    run("start");
    expect(state().playheadTick).toBe(0);
  });
});
