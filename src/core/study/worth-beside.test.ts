import { describe, expect, it } from "vitest";
import type { Grid } from "../time/index.ts";
import { isPlayedByAll, worthBeside } from "./worth-beside.ts";

const SIXTEENTHS: Grid = { family: "straight", denominator: 16 };
const SWUNG: Grid = { ...SIXTEENTHS, swingPercent: 54 };
const TRIPLETS: Grid = { family: "triplet", denominator: 16 };
const EIGHTHS: Grid = { family: "straight", denominator: 8 };

describe("a swing that voices play", () => {
  /** What a voice gains by it, before it pays for a swing of its own. */
  const gaining = (gain: number, more: { eighths?: number } = {}) => [
    { grid: SIXTEENTHS, score: -100 },
    { grid: EIGHTHS, score: more.eighths ?? -200 },
    { grid: SWUNG, score: -100 + gain - (0.5 * Math.log(101) + 2) },
  ];
  const isPlayed = (...voices: ReturnType<typeof gaining>[]) =>
    isPlayedByAll(
      SWUNG,
      voices,
      voices.map(() => 100),
    );

  it("is shown by all of them together, each a little, and paid for once", () => {
    expect(isPlayed(gaining(3))).toBe(false);
    expect(isPlayed(gaining(3), gaining(2))).toBe(true);
    expect(isPlayed(gaining(3), gaining(2), gaining(-3))).toBe(false);
  });

  it("is no business of a voice that plays between its steps", () => {
    expect(isPlayed(gaining(3), gaining(2), gaining(-30, { eighths: -60 }))).toBe(true);
  });
});

describe("what a grid is worth beside others", () => {
  const voice = (grid: Grid, hitCount: number) => ({ grid, hitCount, isPoor: false });

  it("is more where others are on it, and a swing that is known costs nothing again", () => {
    const worth = worthBeside([voice(SWUNG, 100), voice(TRIPLETS, 40), { ...voice(EIGHTHS, 50), isPoor: true }], 30);
    expect(worth(SWUNG)).toBeGreaterThan(worth(TRIPLETS));
    expect(worth(TRIPLETS)).toBeGreaterThan(0);
    expect([worth(SIXTEENTHS), worth(EIGHTHS)]).toEqual([0, 0]);
  });

  it("is nothing to straight steps where the larger part of the take swings", () => {
    expect(worthBeside([voice(SWUNG, 100), voice(SIXTEENTHS, 40)], 30)(SIXTEENTHS)).toBe(0);
    expect(worthBeside([voice(SWUNG, 40), voice(SIXTEENTHS, 100)], 30)(SIXTEENTHS)).toBeGreaterThan(0);
  });
});
