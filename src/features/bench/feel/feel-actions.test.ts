import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { GROOVES } from "../../../core/groove/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { openABench } from "../testing/a-bench.ts";
import { feelEdit, giveFeel, layersFrom, slotsPerQuarter, type TakeSetting } from "./feel-actions.ts";

let bench: Bench;
const state = () => bench.store.getState();
const SETTING: TakeSetting = {
  source: "voice",
  side: "recorded",
  grid: { family: "straight", denominator: 16 },
  lengthQuarters: 4,
  isByFamily: false,
};
const hitCountOf = (setting: Partial<TakeSetting>) =>
  layersFrom(state(), "snare", { ...SETTING, ...setting })
    .flatMap(({ slots }) => slots)
    .reduce((sum, { hitCount }) => sum + hitCount, 0);

beforeEach(() => {
  bench = openABench();
});
afterEach(() => bench.store.close());

describe("the feel of a lane", () => {
  it("is taken from a voice, from what is picked, from the loop, or from all drums, family by family", () => {
    expect(hitCountOf({})).toBe(3);
    expect(hitCountOf({ source: "all" })).toBe(6);
    bench.store.pick(new Set(["k", "b"]));
    expect(hitCountOf({ source: "picked" })).toBe(2);
    bench.store.setLoop({ startTick: 0, endTick: 960 });
    expect(hitCountOf({ source: "loop" })).toBe(4);
    const families = layersFrom(state(), "snare", { ...SETTING, source: "all", isByFamily: true });
    expect(families.map(({ family }) => family)).toEqual(["hats", "snare", "kick"]);
    bench.store.pick(new Set());
    expect(layersFrom(state(), "snare", { ...SETTING, source: "picked" })).toEqual([]);
  });

  it("is laid on one voice or on all, as one step, and taken off", () => {
    const feel = { isOn: true, groove: GROOVES[0]!, timingPercent: 100, accentPercent: 0 };
    bench.store.commit("Lay it", feelEdit(state(), new Set(["hat"]), feel));
    const laid = () => state().lanes.flatMap(({ voiceId, treatment }) => (treatment.feel ? [voiceId] : []));
    expect(laid()).toEqual(["hat"]);
    expect(giveFeel(bench, feel)).toBe("“Light swell” is used for all 3 voices. One undo takes it back.");
    expect(laid()).toHaveLength(3);
    bench.store.undo();
    bench.store.commit("Take it off", feelEdit(state(), new Set(["hat"]), null));
    expect(laid()).toEqual([]);
  });

  it("knows how many places a quarter has", () => {
    expect(slotsPerQuarter(SETTING)).toBe(4);
    expect(slotsPerQuarter({ lengthQuarters: 3, grid: { family: "triplet", denominator: 8 } })).toBe(3);
  });
});
