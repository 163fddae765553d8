import { describe, expect, it } from "vitest";
import { hitAt, patternOf } from "../../core/testing/patterns.ts";
import { createPlayedStore } from "./playing.ts";
import { takeScore } from "./take-score.ts";

const quarters = (count: number) => patternOf(Array.from({ length: count }, (_, index) => hitAt(index * 480)));

describe("something to play that is no project", () => {
  it("is played as a take is, and goes over into another while it plays", () => {
    const store = createPlayedStore(quarters(2));
    const heard = () => takeScore(store.getState()).eventsBetween(0, 10_000, 0).length;
    expect(heard()).toBe(2);
    store.setLoop({ startTick: 0, endTick: 480 });
    store.setPlaying(true);
    store.exchange(quarters(3));
    expect(heard()).toBe(3);
    expect(store.getState()).toMatchObject({ isPlaying: true, loop: { startTick: 0, endTick: 480 } });
    store.setVoices("muted", new Set(["snare"]));
    expect(heard()).toBe(0);
  });

  it("changes what is said of the click, and leaves the rest of it", () => {
    const store = createPlayedStore(quarters(1));
    store.setClick({ hasOffBeats: true });
    store.setClick({ isOn: false });
    expect(store.getState().click).toEqual({ isOn: false, hasOffBeats: true });
  });

  it("keeps the playhead where it is when it stops, unless it is told where it stopped", () => {
    const store = createPlayedStore(quarters(1));
    store.setPlayhead(240);
    store.setPlaying(false);
    expect(store.getState().playheadTick).toBe(240);
    store.setPlaying(false, 100);
    expect(store.getState().playheadTick).toBe(100);
  });
});
