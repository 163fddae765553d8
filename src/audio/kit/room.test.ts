import { describe, expect, it } from "vitest";
import { soundAt } from "./hat-degrees.ts";
import { RECIPES } from "./recipes.ts";
import { roomAnswer } from "./room.ts";

const RATE = 44_100;
const energy = (samples: Float32Array, from: number, to: number) =>
  samples.slice(from * RATE, to * RATE).reduce((sum, sample) => sum + sample * sample, 0);

describe("the room", () => {
  it("is small: its answer is over within a third of a second, most of it in the first tenth", () => {
    for (const ear of roomAnswer(RATE)) {
      expect(ear.length / RATE).toBeLessThan(1 / 3);
      expect(energy(ear, 0, 0.1) / energy(ear, 0, 1)).toBeGreaterThan(0.9);
      expect(energy(ear, 0.25, 0.32)).toBeLessThan(0.001 * energy(ear, 0, 0.1));
    }
  });

  it("answers each ear otherwise, and the same every time", () => {
    const [left, right] = roomAnswer(RATE);
    expect(left).not.toEqual(right);
    expect(roomAnswer(RATE)).toEqual([left, right]);
  });
});

describe("hats", () => {
  it("open by degrees, as far as the pedal says; other strokes sound as they are", () => {
    expect([0, 40, 60, 90].map((pedal) => soundAt("hat/open", pedal))).toEqual([
      "hat/open",
      "hat/nearly-open",
      "hat/half-open",
      "hat/loose",
    ]);
    expect(soundAt("hat/closed", 10)).toBe("hat/closed");
    expect(soundAt("hat/open", undefined)).toBe("hat/open");
    const rings = ["hat/closed", "hat/loose", "hat/half-open", "hat/nearly-open", "hat/open"].map(
      (sound) => RECIPES[sound]!.noise!.decayS,
    );
    expect(rings).toEqual(rings.toSorted((a, b) => a - b));
  });
});
