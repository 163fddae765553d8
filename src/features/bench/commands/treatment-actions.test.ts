import { beforeEach, describe, expect, it, vi } from "vitest";
import { DEFAULT_TREATMENT, type TimingTreatment } from "../../../core/document/treatment.ts";
import type { FoundGrid } from "../../../core/study/index.ts";
import { hitAt, laneOf, patternOf } from "../../../core/testing/patterns.ts";
import { tickAfterMs } from "../../../core/time/index.ts";
import { openBenchOn } from "../testing/a-bench.ts";
import {
  bakeInScope,
  copySettings,
  correctLatency,
  giveSettings,
  isOffTheCount,
  latencyOf,
  leaveOpening,
  openingOf,
  otherReading,
  pasteSettings,
} from "./treatment-actions.ts";

const lane = (voiceId: string, timing: Partial<TimingTreatment> = {}) => ({
  ...laneOf(voiceId),
  treatment: { timing: { ...DEFAULT_TREATMENT.timing, ...timing } },
});
const found = (meanDriftMs: number) => ({ meanDriftMs, spreadMs: 6, isPoor: false }) as FoundGrid;
let stored: Map<string, string>;

function benchWith(timing: Partial<TimingTreatment>) {
  const hits = [
    hitAt(10, { id: "a" }),
    hitAt(490, { id: "b" }),
    hitAt(2000, { id: "c" }),
    hitAt(9, { id: "k", voiceId: "kick", articulationId: "main" }),
    hitAt(11, { id: "h", voiceId: "hat", articulationId: "closed" }),
  ];
  const lanes = [lane("hat"), lane("snare", timing), lane("kick", { pocketMs: 7 })];
  return openBenchOn(patternOf(hits, { lengthTicks: 3840, lanes }));
}

beforeEach(() => {
  stored = new Map();
  vi.stubGlobal("localStorage", {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => stored.set(key, value),
    removeItem: (key: string) => stored.delete(key),
  });
});

const timingOf = (bench: ReturnType<typeof benchWith>, voiceId: string) =>
  bench.store.getState().pattern.lanes.find((one) => one.voiceId === voiceId)!.treatment.timing;

describe("settings as a whole", () => {
  it("are given to other voices, which keep their own grid and pocket", () => {
    const bench = benchWith({
      isOn: true,
      strengthPercent: 55,
      pushMs: 3,
      grid: { family: "triplet", denominator: 8 },
    });
    bench.store.openLane("snare");
    expect(giveSettings(bench, new Set(["kick"]))).toBe("Kick is treated like Snare now, each on its own grid.");
    expect(timingOf(bench, "kick")).toEqual({
      ...DEFAULT_TREATMENT.timing,
      isOn: true,
      strengthPercent: 55,
      pushMs: 3,
      pocketMs: 7,
    });
    expect(timingOf(bench, "hat")).toEqual(DEFAULT_TREATMENT.timing);
    bench.store.undo();
    expect(timingOf(bench, "kick").isOn).toBe(false);
  });

  it("are copied from one project and put on a lane of another", () => {
    const bench = benchWith({ strengthPercent: 33 });
    bench.store.openLane("kick");
    expect(pasteSettings(bench)).toBe("No settings are copied yet.");
    bench.store.openLane("snare");
    expect(copySettings(bench)).toMatch(/^Copied the settings of Snare/);
    const other = benchWith({});
    other.store.openLane("kick");
    expect(pasteSettings(other)).toMatch(/^Kick has the copied settings now/);
    expect(timingOf(other, "kick")).toMatchObject({ strengthPercent: 33, pocketMs: 7, isOn: true });
  });

  it("ask for an open lane", () => {
    const bench = benchWith({});
    bench.store.openLane(null);
    for (const words of [copySettings(bench), pasteSettings(bench), giveSettings(bench, new Set(["kick"]))]) {
      expect(words).toBe("Open a lane first.");
    }
  });
});

describe("baking in", () => {
  it("says what it did, for a voice, a stretch and all", () => {
    const bench = benchWith({ isOn: true, strengthPercent: 100 });
    bench.store.openLane("kick");
    expect(bakeInScope(bench, "voice")).toMatch(/^Nothing is treated there/);
    bench.store.openLane("snare");
    bench.store.setLoop({ startTick: 0, endTick: 480 });
    expect(bakeInScope(bench, "stretch")).toBe("Baked 1 hit of Snare in the loop in.");
    expect(timingOf(bench, "snare").isOn).toBe(true);
    expect(bakeInScope(bench, "voice")).toBe(
      "Baked 2 hits of Snare in. Its steps are off: what they did is in the hits.",
    );
    expect(timingOf(bench, "snare").isOn).toBe(false);
    expect(bakeInScope(bench, "all")).toMatch(/^Nothing is treated there/);
    const ticks = bench.store.getState().lanes.find(({ voiceId }) => voiceId === "snare")!.cleaned.ticks;
    expect([...ticks]).toEqual([0, 480, 2040]);
  });
});

describe("latency", () => {
  it("is proposed once nearly all voices lag alike, and taken off all of them in one step", () => {
    const bench = benchWith({});
    expect(latencyOf(bench.store.getState())).toBeNull();
    const about = (voiceId: string, ms: number) =>
      [voiceId, { voiceId, name: voiceId, notes: [], hitCount: 1, found: found(ms), fits: [], faults: [] }] as const;
    bench.store.takeFindings({ summaries: new Map([about("hat", 12), about("snare", 11.6), about("kick", 12.4)]) });
    expect(latencyOf(bench.store.getState())).toEqual({ ms: 12, isConstant: false });
    expect(correctLatency(bench, 12)).toMatch(/^Took 12 ms off all 3 voices/);
    expect(timingOf(bench, "kick")).toMatchObject({ isOn: false, latencyMs: 12, latencyStays: true, pocketMs: -5 });
    // All are earlier by the same, and nothing else was done to them.
    const { lanes, maps } = bench.store.getState();
    for (const { cleaned, recorded } of lanes) {
      for (const [row, tick] of cleaned.ticks.entries())
        expect(tick).toBe(Math.max(0, Math.round(tickAfterMs(maps.tempoMap, recorded.ticks[row]!, -12))));
    }
    expect(latencyOf(bench.store.getState())).toBeNull();
    bench.store.undo();
    expect(timingOf(bench, "kick")).toMatchObject({ isOn: false, latencyMs: 0, pocketMs: 7 });
  });
});

describe("a free opening", () => {
  it("is proposed to be left as it was played, in every voice, until it is", () => {
    const bench = benchWith({ strengthPercent: 60 });
    expect(openingOf(bench.store.getState())).toBeNull();
    const opening = { bars: 1, endTick: 1920 };
    bench.store.takeFindings({ opening });
    expect(openingOf(bench.store.getState())).toBe(opening);
    expect(leaveOpening(bench, opening)).toMatch(/^Bars 1 to 1 stay as they were played/);
    expect(openingOf(bench.store.getState())).toBeNull();
    const left = { startTick: 0, endTick: 1920, strengthPercent: 0, pushMs: 0, humanizeMs: 0 };
    for (const voiceId of ["hat", "snare", "kick"]) expect(timingOf(bench, voiceId).exceptions).toEqual([left]);
    expect(timingOf(bench, "snare").strengthPercent).toBe(60);
    bench.store.undo();
    expect(openingOf(bench.store.getState())).toBe(opening);
  });
});

describe("what follows no beats", () => {
  const benchOf = (pass?: number) => {
    const hits = Array.from({ length: 60 }, (_, index) =>
      hitAt(100 * index, { id: `${index}`, ...(pass ? { pass } : {}) }),
    );
    const bench = openBenchOn(patternOf(hits, { lengthTicks: 7680, lanes: [lane("snare")] }));
    const poor = { ...found(0), isPoor: true };
    const summary = { voiceId: "snare", name: "Snare", notes: [], hitCount: 60, found: poor, fits: [], faults: [] };
    bench.store.takeFindings({ summaries: new Map([["snare", summary]]), opening: { bars: 2, endTick: 3840 } });
    return bench.store;
  };
  const askedOf = (store: ReturnType<typeof benchOf>) => {
    const state = store.getState();
    return { isAsked: isOffTheCount(state), isFree: openingOf(state) !== null };
  };

  it("may have been played to no click, unless it was played in here", () => {
    expect(askedOf(benchOf())).toEqual({ isAsked: true, isFree: true });
    expect(askedOf(benchOf(1))).toEqual({ isAsked: false, isFree: false });
  });

  it("is not late, nor is another reading of that near, against beats that are not those of the player", () => {
    const store = benchOf();
    const reading = { lateMs: -32, confidence: 0.6, runnerUp: { lateMs: 112, confidence: 0.4 } };
    store.takeFindings({ lateness: reading });
    expect(otherReading(store.getState())).toBeNull();
    const { summaries } = store.getState();
    const fitting = [...summaries].map(([id, one]) => [id, { ...one, found: found(0) }] as const);
    store.takeFindings({ summaries: new Map(fitting) });
    expect(otherReading(store.getState())).toEqual(reading.runnerUp);
  });
});
