import { describe, expect, it } from "vitest";
import { gainOf, matchingGain } from "./loudness.ts";

const of = (...velocities: number[]) => [Uint8Array.from(velocities)];

describe("sides that are compared", () => {
  it("are heard with the same energy", () => {
    const gain = matchingGain(of(60, 60, 120), of(90, 90, 90));
    const energy = (velocities: readonly number[], factor: number) =>
      velocities.reduce((sum, velocity) => sum + (factor * gainOf(velocity)) ** 2, 0);
    expect(energy([60, 60, 120], gain)).toBeCloseTo(energy([90, 90, 90], 1), 9);
    expect(matchingGain(of(90), of(90, 90))).toBeCloseTo(1, 9);
  });

  it("stay as loud as they are where one of them is silent, and within reason", () => {
    expect(matchingGain([], of(90))).toBe(1);
    expect(matchingGain(of(1), of(127))).toBe(4);
    expect(matchingGain(of(127), of(1))).toBe(0.25);
  });
});
