import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Edit, Hit } from "../document/index.ts";
import { hitAt } from "../testing/patterns.ts";
import { levelVelocities, lineAt, meanVelocity, scaleAround, scaleVelocities, setVelocities } from "./index.ts";

const hitsOf = (velocities: readonly number[]): readonly Hit[] =>
  velocities.map((velocity, index) => hitAt(index * 120, { recordedVelocity: velocity }));
const valuesOf = (edit: Edit) => (edit.kind === "setVelocity" ? edit.changes.map(({ toVelocity }) => toVelocity) : []);

describe("shaping by hand", () => {
  it("keeps the proportions when it scales, and the middle when it spreads", () => {
    expect(valuesOf(scaleVelocities(hitsOf([20, 40, 80]), 1.5))).toEqual([30, 60, 120]);
    expect(valuesOf(scaleAround(hitsOf([40, 60, 80]), 60, 2))).toEqual([20, 60, 100]);
    expect(valuesOf(scaleAround(hitsOf([40, 60, 80]), 60, 0.5))).toEqual([50, 60, 70]);
  });

  it("never turns a shape over", () => {
    expect(valuesOf(scaleAround(hitsOf([40, 60, 80]), 60, -3))).toEqual([60, 60, 60]);
    expect(valuesOf(scaleVelocities(hitsOf([40, 80]), -1))).toEqual([1, 1]);
  });

  it("levels at the mean", () => {
    expect(meanVelocity(hitsOf([10, 20, 60]))).toBe(30);
    expect(valuesOf(levelVelocities(hitsOf([10, 20, 60])))).toEqual([30, 30, 30]);
  });

  it("never writes a velocity outside of 1 to 127, whatever it is asked for", () => {
    const anything = fc.double({ noNaN: true, min: -1e6, max: 1e6 });
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 127 }), { minLength: 1 }), anything, anything, (list, a, b) => {
        const hits = hitsOf(list);
        const edits = [scaleVelocities(hits, a), scaleAround(hits, b, a), setVelocities(hits, () => a)];
        for (const value of edits.flatMap(valuesOf)) {
          expect(value).toBeGreaterThanOrEqual(1);
          expect(value).toBeLessThanOrEqual(127);
          expect(Number.isInteger(value)).toBe(true);
        }
      }),
    );
  });

  it("draws a straight line between two places, in whatever order they were drawn", () => {
    const a = { tick: 100, velocity: 20 };
    const b = { tick: 200, velocity: 120 };
    expect(lineAt(a, b, 150)).toBe(70);
    expect(lineAt(b, a, 125)).toBe(45);
    expect(lineAt(a, b, 0)).toBe(20);
    expect(lineAt(a, b, 999)).toBe(120);
    expect(lineAt(a, { ...b, tick: 100 }, 100)).toBe(20);
  });
});
