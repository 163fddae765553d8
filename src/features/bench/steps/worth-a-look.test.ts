import { beforeEach, describe, expect, it } from "vitest";
import { changeTiming, withLatency } from "../../../core/commands/index.ts";
import type { Fault } from "../../../core/study/index.ts";
import { hitAt, patternOf } from "../../../core/testing/patterns.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { commandById } from "../commands/commands.ts";
import { openABench, openBenchOn } from "../testing/a-bench.ts";
import { looksOf, otherSlot, reasonsOfLook, repairLane, unrepairLane } from "./worth-a-look.ts";

let bench: Bench;
const state = () => bench.store.getState();
const snare = () => state().lanes.find(({ voiceId }) => voiceId === "snare")!;
const run = (id: string) => commandById(id)!.run(bench);
const looked = () => looksOf(state(), snare()).map(({ hitId }) => hitId);

const echo: Fault = {
  kind: "double",
  hitId: "echo",
  voiceId: "snare",
  causeId: "a",
  causeVoiceId: "snare",
  afterMs: 25,
  loudness: 0.3,
};

beforeEach(() => {
  bench = openABench();
  const { store } = bench;
  store.commit("Record", {
    kind: "addHits",
    hits: [
      hitAt(504, { id: "echo", recordedVelocity: 18 }),
      // Half-way between two sixteenths, and one a little beside its slot.
      hitAt(1020, { id: "fence", recordedVelocity: 80 }),
      hitAt(1925, { id: "near", recordedVelocity: 80 }),
    ],
  });
  const summary = { voiceId: "snare", name: "Snare", notes: [38], hitCount: 6, found: null, fits: [], faults: [echo] };
  store.takeFindings({ summaries: new Map([["snare", summary]]) });
  store.openLane("snare");
});

const tighten = () => {
  const edit = changeTiming(state().pattern, new Set(["snare"]), (timing) => ({
    ...timing,
    isOn: true,
    strengthPercent: 100,
  }));
  bench.store.commit("Tighten", edit);
};

describe("hearing a place", () => {
  it("loops the bar of what is picked, or all bars of it, to the end of the take at the most", () => {
    expect(run("hearAround")).toMatch(/^Select some hits first/);
    bench.store.pick(new Set(["fence"]));
    run("hearAround");
    expect(state().loop).toEqual({ startTick: 0, endTick: 1920 });
    bench.store.pick(new Set(["fence", "near"]));
    run("hearAround");
    expect(state().loop).toEqual({ startTick: 0, endTick: 3840 });
  });
});

describe("what is worth a look", () => {
  it("is what nobody played, and with the timing on what could go either way, each with its reason", () => {
    expect(looked()).toEqual(["echo"]);
    tighten();
    const looks = looksOf(state(), snare());
    expect(looks.map(({ hitId }) => hitId)).toEqual(["echo", "fence"]);
    expect(reasonsOfLook(snare(), looks[0]!)[0]).toBe(
      "Snare, 30 % as loud as its stroke 25 ms before: it triggered twice.",
    );
    expect(reasonsOfLook(snare(), looks[1]!)).toEqual(["It lies half-way between two slots.", "It moves far."]);
  });

  it("is all of a drum that has few hits and fits its grid badly, with that as its reason", () => {
    const hits = Array.from({ length: 6 }, (_, step) => hitAt(step * 480 + 40, { id: `${step}` }));
    const { store: small } = openBenchOn(patternOf(hits));
    small.commit(
      "Tighten",
      changeTiming(small.getState().pattern, new Set(["snare"]), (timing) => ({ ...timing, isOn: true })),
    );
    small.openLane("snare");
    const lane = small.getState().lanes.find(({ voiceId }) => voiceId === "snare")!;
    const looks = looksOf(small.getState(), lane);
    expect(looks).toHaveLength(6);
    expect(reasonsOfLook(lane, looks[1]!)).toContain("This drum has few hits, and they lie badly on its grid.");
  });

  it("is walked through in order, and shorter for each that is taken as it is", () => {
    tighten();
    run("worth");
    expect(state().picked).toEqual(new Set(["echo"]));
    run("acceptLook");
    expect(looked()).toEqual(["fence"]);
    expect(state().picked).toEqual(new Set(["fence"]));
    run("acceptLook");
    expect(run("worth")).toBe("No doubtful hits in this lane.");
  });

  it("goes to the other slot or stays as recorded, pinned, and is asked about no longer", () => {
    tighten();
    const tickOf = (id: string) => state().pattern.hits.find((hit) => hit.id === id)!.pinnedTick;
    expect(otherSlot(snare(), hitAt(1020))).toBe(960);
    // Of a take that came in late slots are sought from where it was meant. 480 ticks are 500 ms.
    const { treatment } = snare();
    const late = { ...treatment, timing: { ...treatment.timing, latencyMs: 50, latencyStays: true } } as const;
    expect(otherSlot({ ...snare(), treatment: late }, hitAt(1020 + 48))).toBe(960);
    expect(otherSlot({ ...snare(), treatment: late }, hitAt(1020, { pass: 1 }))).toBe(960);
    bench.store.pick(new Set(["fence"]));
    run("otherSlot");
    expect(tickOf("fence")).toBe(960);
    expect(looked()).toEqual(["echo"]);
    bench.store.undo();
    run("leave");
    expect(tickOf("fence")).toBe(1020);
    expect(looked()).toEqual(["echo"]);
    bench.store.undo();
    bench.store.commit(
      "Latency",
      changeTiming(state().pattern, new Set(["snare"]), (timing) => withLatency(timing, 50)),
    );
    run("leave");
    expect(tickOf("fence")).toBe(1020 - 48);
  });

  it("is left out where nobody played it, as a standing step that can be taken back", () => {
    expect(repairLane(bench, snare())).toMatch(/^Muted 1 hit\./);
    expect(snare().treatment.repair).toEqual({ leftOut: ["echo"] });
    expect(looked()).toEqual([]);
    unrepairLane(bench, snare());
    expect(snare().treatment.repair).toBeUndefined();
    expect(looked()).toEqual(["echo"]);
    bench.store.undo();
    bench.store.undo();
    expect(looked()).toEqual(["echo"]);
  });

  it("is left out one by one, and sounds again when it is unmuted", () => {
    bench.store.pick(new Set(["echo", "fence"]));
    run("leaveOut");
    expect(snare().treatment.repair).toEqual({ leftOut: ["echo", "fence"] });
    bench.store.pick(new Set(["fence"]));
    run("muteHits");
    expect(snare().treatment.repair).toEqual({ leftOut: ["echo"] });
    expect(state().pattern.hits.some(({ isMuted }) => isMuted)).toBe(false);
    // What a person keeps is not left out when the step is switched on.
    unrepairLane(bench, snare());
    bench.store.pick(new Set(["echo"]));
    run("acceptLook");
    repairLane(bench, snare());
    expect(snare().treatment.repair).toBeUndefined();
  });
});
