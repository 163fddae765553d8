import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../../standin/random.ts";
import { findRoleBorders, roleOf } from "./index.ts";

const around = (means: readonly number[], spread = 6) => {
  const random = createRandom(3);
  return means.flatMap((mean) =>
    Array.from({ length: 60 }, () => Math.max(1, Math.min(127, Math.round(mean + random.bell(spread))))),
  );
};

describe("roles", () => {
  it("are found where a voice has ghosts, strokes and accents", () => {
    const borders = findRoleBorders(around([32, 80, 115]));
    expect(roleOf(36, borders)).toBe("ghost");
    expect(roleOf(80, borders)).toBe("stroke");
    expect(roleOf(118, borders)).toBe("accent");
  });

  it("are ghosts and strokes, or strokes and accents, in a voice of two loudnesses", () => {
    const ghostly = findRoleBorders([30, 90, 30, 30, 90]);
    expect([30, 90].map((velocity) => roleOf(velocity, ghostly))).toEqual(["ghost", "stroke"]);
    const hardBackBeat = findRoleBorders([30, 116, 30, 30, 116]);
    expect([30, 116].map((velocity) => roleOf(velocity, hardBackBeat))).toEqual(["ghost", "accent"]);
    const strong = findRoleBorders([80, 118, 80, 80]);
    expect([80, 118].map((velocity) => roleOf(velocity, strong))).toEqual(["stroke", "accent"]);
    expect(findRoleBorders([80, 90, 80, 80])).toEqual({ ghostTop: 0, accentBottom: 128 });
  });

  it("are all strokes in a voice of one loudness", () => {
    expect(findRoleBorders(around([84], 7))).toEqual({ ghostTop: 0, accentBottom: 128 });
    expect(findRoleBorders([100, 100, 100])).toEqual({ ghostTop: 0, accentBottom: 128 });
    expect(findRoleBorders([])).toEqual({ ghostTop: 0, accentBottom: 128 });
  });

  it("rise with velocity in any voice", () => {
    const order = { ghost: 0, stroke: 1, accent: 2 };
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 127 }), { minLength: 1, maxLength: 80 }), (velocities) => {
        const borders = findRoleBorders(velocities);
        for (let velocity = 2; velocity < 128; velocity++) {
          expect(order[roleOf(velocity, borders)]).toBeGreaterThanOrEqual(order[roleOf(velocity - 1, borders)]);
        }
      }),
    );
  });
});
