import { describe, expect, it } from "vitest";
import { changeTreatments, pinHits, takeOffLatency, toggleMuted } from "../../../core/commands/index.ts";
import { openABench } from "../testing/a-bench.ts";
import { hitWords } from "./hit-words.ts";

describe("a hit read out", () => {
  it("says drum, stroke, place, loudness, role and drift", () => {
    const { store } = openABench();
    const snare = store.getState().lanes.find(({ voiceId }) => voiceId === "snare")!;
    expect(hitWords(snare, 2, "recorded")).toBe("Snare, bar 2 beat 2, velocity 62, ghost, on the slot");
    const kick = store.getState().lanes.find(({ voiceId }) => voiceId === "kick")!;
    expect(hitWords(kick, 0, "recorded")).toMatch(/velocity \d+, normal, /);
  });

  it("says what the grid and a groove have moved it by, each for itself", () => {
    const { store } = openABench();
    const slots = Array.from({ length: 16 }, () => ({ offset: 0.1, accent: 1, hitCount: 1, spread: 0 }));
    const grid = { family: "straight", denominator: 16 } as const;
    const groove = { id: "late", name: "Late", lengthQuarters: 4, grid, layers: [{ family: null, slots }] };
    const feel = { isOn: true, groove, timingPercent: 100, accentPercent: 0 };
    const lay = changeTreatments(store.getState().pattern, new Set(["snare"]), (one) => ({ ...one, feel }));
    store.commit("Lay", lay);
    const snare = store.getState().lanes.find(({ voiceId }) => voiceId === "snare")!;
    // A tenth of a sixteenth at 120 bpm.
    expect(hitWords(snare, 2, "cleaned")).toMatch(/13 ms late, grid ± 0 ms, groove 13 ms later$/);
    expect(hitWords(snare, 2, "recorded")).not.toContain("groove");
    store.commit("Latency", takeOffLatency(store.getState().pattern, 20));
    const onTime = store.getState().lanes.find(({ voiceId }) => voiceId === "snare")!;
    expect(hitWords(onTime, 2, "cleaned")).toMatch(/latency 20 ms earlier, grid ± 0 ms, groove 13 ms later$/);
  });

  it("says what a hand did to it", () => {
    const { store } = openABench();
    const hit = store.getState().pattern.hits.find(({ id }) => id === "k")!;
    store.commit("Pin", pinHits(store.getState().pattern, [{ hit, tick: 10 }]));
    store.commit("Mute", toggleMuted([store.getState().pattern.hits.find(({ id }) => id === "k")!]));
    const kick = store.getState().lanes.find(({ voiceId }) => voiceId === "kick")!;
    expect(hitWords(kick, 0, "cleaned")).toMatch(/^Kick, bar 1 beat 1, .*10 ms late, pinned, muted$/);
    expect(hitWords(kick, 0, "recorded")).toMatch(/on the slot, muted$/);
  });
});
