import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { rowsBetween } from "./rows-between.ts";

describe("rows between two ticks", () => {
  it("are those that a look at every row finds, whether the column ascends or not", () => {
    const tick = fc.integer({ min: 0, max: 60 });
    fc.assert(
      fc.property(fc.array(tick), fc.boolean(), tick, tick, (list, isSorted, a, b) => {
        const ticks = Float64Array.from(isSorted ? list.sort((x, y) => x - y) : list);
        const [firstTick, lastTick] = [Math.min(a, b), Math.max(a, b)];
        const { first, end } = rowsBetween(ticks, firstTick, lastTick);
        const inside = [...ticks.keys()].filter((row) => ticks[row]! >= firstTick && ticks[row]! <= lastTick);
        for (const row of inside) expect(row >= first && row < end).toBe(true);
        expect(end - first).toBeGreaterThanOrEqual(inside.length);
        if (inside.length > 0) expect([first, end - 1]).toEqual([inside[0], inside.at(-1)]);
        else expect(end).toBeLessThanOrEqual(Math.max(first, 0));
      }),
    );
  });
});
