import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  buildMeterMap,
  GRID_CHOICES,
  type Grid,
  type GridPlan,
  gridAt,
  nearestSlots,
  PlanFinder,
  stretchAt,
  withStretch,
} from "./index.ts";

const SIXTEENTHS: Grid = { family: "straight", denominator: 16 };
const TRIPLETS: Grid = { family: "triplet", denominator: 8 };
const map = buildMeterMap(480, []);

describe("a plan of grids", () => {
  it("has one grid, and others in stretches", () => {
    const plan: GridPlan = { grid: SIXTEENTHS, stretches: [{ startTick: 960, endTick: 1440, grid: TRIPLETS }] };
    expect(gridAt(plan, 959)).toBe(SIXTEENTHS);
    expect(gridAt(plan, 960)).toBe(TRIPLETS);
    expect(gridAt(plan, 1440)).toBe(SIXTEENTHS);
    expect(stretchAt(plan, 0)).toBeUndefined();
    const finder = new PlanFinder(plan, map);
    expect(finder.find(1130).slotTick).toBe(1120);
    expect(finder.stepTicks).toBe(160);
    expect(finder.find(1460).slotTick).toBe(1440);
    expect(finder.stepTicks).toBe(120);
    // Back again, though ticks mostly come in order.
    expect(finder.find(1130).slotTick).toBe(1120);
    expect(finder.find(130).slotTick).toBe(120);
  });

  it("puts what is a little ahead of the end of a stretch there, though its grid has no slot there", () => {
    const quarterTriplets: Grid = { family: "triplet", denominator: 4 };
    const stretches = [{ startTick: 960, endTick: 1440, grid: quarterTriplets }];
    const finder = new PlanFinder({ grid: SIXTEENTHS, stretches }, map);
    expect(finder.find(1290).slotTick).toBe(1280);
    expect(finder.find(1436).slotTick).toBe(1440);
    expect(finder.secondSlotTick).toBe(1280);
    expect(finder.find(1444).slotTick).toBe(1440);
  });

  it("is cut, joined and given back where a stretch is laid over it", () => {
    const laid = withStretch({ grid: SIXTEENTHS }, 960, 1920, TRIPLETS);
    const plan = { grid: SIXTEENTHS, stretches: laid };
    expect(withStretch(plan, 1200, 1440, null)).toEqual([
      { startTick: 960, endTick: 1200, grid: TRIPLETS },
      { startTick: 1440, endTick: 1920, grid: TRIPLETS },
    ]);
    expect(withStretch(plan, 1920, 2400, TRIPLETS)).toEqual([{ startTick: 960, endTick: 2400, grid: TRIPLETS }]);
    expect(withStretch(plan, 0, 9600, null)).toEqual([]);
  });

  it("has after any laying the wanted grid there, what was elsewhere, and stretches in order and apart", () => {
    const stretch = fc
      .tuple(fc.integer({ min: 0, max: 40 }), fc.integer({ min: 1, max: 12 }), fc.constantFrom(...GRID_CHOICES, null))
      .map(([start, length, grid]) => ({ start: start * 120, end: (start + length) * 120, grid }));
    fc.assert(
      fc.property(fc.array(stretch, { maxLength: 8 }), fc.integer({ min: 0, max: 6300 }), (laid, tick) => {
        let plan: GridPlan = { grid: SIXTEENTHS };
        let wanted: Grid = SIXTEENTHS;
        for (const { start, end, grid } of laid) {
          plan = { grid: SIXTEENTHS, stretches: withStretch(plan, start, end, grid) };
          if (tick >= start && tick < end) wanted = grid ?? SIXTEENTHS;
        }
        expect(gridAt(plan, tick)).toEqual(wanted);
        const { stretches = [] } = plan;
        for (const [index, one] of stretches.entries()) {
          expect(one.endTick).toBeGreaterThan(one.startTick);
          if (index > 0) expect(one.startTick).toBeGreaterThanOrEqual(stretches[index - 1]!.endTick);
        }
        const { slotTick } = nearestSlots(wanted, map, tick);
        const endTick = stretchAt(plan, tick)?.endTick ?? Number.POSITIVE_INFINITY;
        const isOfNext = endTick - tick < Math.abs(slotTick - tick);
        const endsOnSlot = isOfNext && nearestSlots(gridAt(plan, endTick), map, endTick).slotTick === endTick;
        expect(new PlanFinder(plan, map).find(tick).slotTick).toBe(endsOnSlot ? endTick : slotTick);
      }),
    );
  });
});
