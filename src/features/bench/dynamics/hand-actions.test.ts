import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { USUAL_DYNAMICS } from "../../../core/document/treatment.ts";
import { hitAt, laneOf, patternOf } from "../../../core/testing/patterns.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { changeLoudness, level } from "../commands/actions.ts";
import { openABench, openBenchOn } from "../testing/a-bench.ts";
import { copyShape, handEdit, layShape, leadByHand, meantHits, moveMean } from "./hand-actions.ts";
import { alikeHits, spreadAlike } from "./loudness-actions.ts";

let bench: Bench;
const state = () => bench.store.getState();
const pinned = (...ids: readonly string[]) =>
  ids.map((id) => state().pattern.hits.find((hit) => hit.id === id)!.pinnedVelocity);
const STRAIGHT = { contour: "straight", from: 40, to: 100, span: "once" } as const;

beforeEach(() => {
  bench = openABench();
});
afterEach(() => bench.store.close());

describe("loudness by hand", () => {
  it("leads what is picked, or the open lane in the loop, along a curve", () => {
    bench.store.setLoop({ startTick: 0, endTick: 1920 });
    expect(meantHits(state()).map(({ hit }) => hit.id)).toEqual(["a", "b"]);
    expect(leadByHand(bench, STRAIGHT)).toBeNull();
    expect(pinned("a", "b", "c")).toEqual([40, 100, null]);
    bench.store.pick(new Set(["h1", "h2", "k"]));
    leadByHand(bench, STRAIGHT);
    expect(pinned("k", "h1", "h2")).toEqual([40, 60, 100]);
    expect(state().history.done.at(-1)?.label).toBe("Lead 3 hits 40→100, straight");
  });

  it("says what is missing if nothing is meant", () => {
    bench.store.openLane(null);
    for (const words of [leadByHand(bench, STRAIGHT), moveMean(bench, 60), copyShape(bench)]) {
      expect(words).toMatch(/^Select some hits first/);
    }
    expect(handEdit(state(), STRAIGHT)).toEqual({ kind: "setVelocity", changes: [] });
  });

  it("moves the mean and keeps the shape, and copies a shape from one drum to another", () => {
    bench.store.pick(new Set(["a", "b"]));
    moveMean(bench, 40);
    expect(pinned("a", "b")).toEqual([30, 50]);
    expect(copyShape(bench)).toMatch(/^Copied the shape of 2 hits/);
    bench.store.pick(new Set(["h1", "h2"]));
    expect(layShape(bench, false)).toBe("Laid the shape on 2 hits.");
    // The second hat lies a quarter of the way from the first snare to the second.
    expect(pinned("h1", "h2")).toEqual([30, 35]);
  });

  it("starts from how hits sound, and not from how they were recorded", () => {
    const treatment = {
      ...laneOf("snare").treatment,
      dynamics: { ...USUAL_DYNAMICS, isOn: true, loudnessPercent: 50 },
    };
    bench.store.close();
    bench = openBenchOn(
      patternOf([hitAt(0, { id: "x" }), hitAt(480, { id: "y", recordedVelocity: 60 })], {
        lanes: [{ voiceId: "snare", treatment }],
      }),
    );
    bench.store.pick(new Set(["x", "y"]));
    changeLoudness(bench, 4);
    expect(pinned("x", "y")).toEqual([49, 34]);
    bench.store.undo();
    level(bench);
    expect(pinned("x", "y")).toEqual([38, 38]);
  });

  it("spreads hits in a row that are exactly alike, each within its role", () => {
    bench.store.close();
    const rows = Array.from({ length: 12 }, (_, index) => hitAt(index * 120, { id: `${index}`, recordedVelocity: 80 }));
    bench = openBenchOn(patternOf(rows));
    const lane = () => state().lanes[0]!;
    expect(alikeHits(lane())).toHaveLength(12);
    expect(spreadAlike(bench, lane())).toMatch(/^Spread 12 hits by up to 5/);
    const velocities = [...lane().cleaned.velocities];
    expect(new Set(velocities).size).toBeGreaterThan(4);
    expect(velocities.every((velocity) => velocity >= 75 && velocity <= 85)).toBe(true);
    expect(alikeHits(lane()).length).toBeLessThan(12);
  });
});
