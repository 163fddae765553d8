import { describe, expect, it } from "vitest";
import { pinHits, toggleMuted } from "../../core/part/index.ts";
import { hitWords } from "./hit-words.ts";
import { openABench } from "./testing/a-bench.ts";

describe("a hit read out", () => {
  it("says drum, stroke, place, loudness, role and drift", () => {
    const { store } = openABench();
    const snare = store.getState().lanes.find(({ voiceId }) => voiceId === "snare")!;
    expect(hitWords(snare, 2, "recorded")).toBe("Snare, bar 2 beat 2, velocity 62, ghost, on the slot");
  });

  it("says what a hand did to it", () => {
    const { store } = openABench();
    const hit = store.getState().pattern.hits.find(({ id }) => id === "k")!;
    store.commit("Pin", pinHits([{ hit, tick: 10 }]));
    store.commit("Mute", toggleMuted([store.getState().pattern.hits.find(({ id }) => id === "k")!]));
    const kick = store.getState().lanes.find(({ voiceId }) => voiceId === "kick")!;
    expect(hitWords(kick, 0, "cleaned")).toMatch(/^Kick, bar 1 beat 1, .*10 ms late, pinned, muted$/);
    expect(hitWords(kick, 0, "recorded")).toMatch(/on the slot, muted$/);
  });
});
