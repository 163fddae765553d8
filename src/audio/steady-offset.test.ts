import { describe, expect, it } from "vitest";
import { SteadyOffset } from "./steady-offset.ts";

describe("the clock of a device that plays by itself", () => {
  it("is not shaken by a reading that is late, nor by a hiccup that stays", () => {
    const offset = new SteadyOffset(1000, 0);
    const heard = Array.from({ length: 120 }, (_, at) => {
      const readMs = at === 20 ? 1030 : at > 60 ? 1026.5 : 1000;
      return offset.follow(readMs, at * 25);
    });
    for (const ms of heard) expect(Math.abs(ms - 1000)).toBeLessThan(0.6);
  });

  it("goes with clocks that drift apart, and comes to what a hiccup left", () => {
    const offset = new SteadyOffset(0, 0);
    for (let ms = 25; ms <= 600_000; ms += 25) {
      const drifted = ms * 80e-6;
      expect(Math.abs(offset.follow(drifted, ms) - drifted)).toBeLessThan(0.1);
    }
    for (let ms = 600_025; ms <= 900_000; ms += 25) offset.follow(70, ms);
    expect(offset.follow(70, 900_025)).toBeCloseTo(70, 1);
  });

  it("goes at once where sound stood still for longer", () => {
    const offset = new SteadyOffset(0, 0);
    expect(offset.follow(400, 25)).toBe(400);
  });
});
