import { describe, expect, it } from "vitest";
import type { Grid } from "../../../core/time/index.ts";
import { pocketOn } from "./grid-fit.ts";

const EIGHTHS: Grid = { family: "straight", denominator: 8 };
const TRIPLETS: Grid = { family: "triplet", denominator: 8 };
const fits = [
  { grid: EIGHTHS, share: 0.9, meanDriftMs: 6.04 },
  { grid: TRIPLETS, share: 0.7, meanDriftMs: -3 },
];

describe("where a voice sits", () => {
  it("is found again on another grid, without what is taken off as latency", () => {
    expect(pocketOn(fits, { grid: EIGHTHS, pocketMs: 6, latencyMs: 0 }, TRIPLETS)).toBe(-3);
    expect(pocketOn(fits, { grid: EIGHTHS, pocketMs: 2, latencyMs: 4 }, TRIPLETS)).toBe(-7);
    expect(pocketOn(fits, { grid: TRIPLETS, pocketMs: -3, latencyMs: 0 }, EIGHTHS)).toBe(6);
  });

  it("stays where a hand has put it, and where nothing is known of the grids", () => {
    expect(pocketOn(fits, { grid: EIGHTHS, pocketMs: 9, latencyMs: 0 }, TRIPLETS)).toBeNull();
    expect(pocketOn([], { grid: EIGHTHS, pocketMs: 6, latencyMs: 0 }, TRIPLETS)).toBeNull();
  });
});
