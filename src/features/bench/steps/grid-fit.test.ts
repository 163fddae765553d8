import { describe, expect, it } from "vitest";
import { hitAt, laneOf } from "../../../core/testing/patterns.ts";
import type { Grid } from "../../../core/time/index.ts";
import { latencyOfVoice, pocketOn } from "./grid-fit.ts";

const EIGHTHS: Grid = { family: "straight", denominator: 8 };
const TRIPLETS: Grid = { family: "triplet", denominator: 8 };
const fits = [
  { grid: EIGHTHS, share: 0.9, meanDriftMs: 6.04 },
  { grid: TRIPLETS, share: 0.7, meanDriftMs: -3 },
];

describe("where a voice sits", () => {
  it("is found again on another grid, without what is taken off as latency", () => {
    expect(pocketOn(fits, { grid: EIGHTHS, pocketMs: 6 }, TRIPLETS, 0)).toBe(-3);
    expect(pocketOn(fits, { grid: EIGHTHS, pocketMs: 2 }, TRIPLETS, 4)).toBe(-7);
    expect(pocketOn(fits, { grid: TRIPLETS, pocketMs: -3 }, EIGHTHS, 0)).toBe(6);
  });

  it("stays where a hand has put it, and where nothing is known of the grids", () => {
    expect(pocketOn(fits, { grid: EIGHTHS, pocketMs: 9 }, TRIPLETS, 0)).toBeNull();
    expect(pocketOn([], { grid: EIGHTHS, pocketMs: 6 }, TRIPLETS, 0)).toBeNull();
  });
});

describe("what a voice is late by", () => {
  it("is what is taken off the hits of the file, and nothing of a drum that was played in here or put by hand", () => {
    const { treatment } = laneOf("snare", { latencyMs: 20 });
    const ofFile = hitAt(20);
    const playedIn = hitAt(480, { id: "p", pass: 1 });
    expect(latencyOfVoice({ hits: [playedIn, ofFile], treatment })).toBe(20);
    expect(latencyOfVoice({ hits: [playedIn, { ...hitAt(9, { id: "h" }), recordedTick: null }], treatment })).toBe(0);
  });
});
