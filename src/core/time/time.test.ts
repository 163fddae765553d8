import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  barAt,
  barBeatToTick,
  barByIndex,
  bpmAt,
  buildMeterMap,
  buildTempoMap,
  formatBarBeat,
  formatGrid,
  GRID_CHOICES,
  gridName,
  gridStepTicks,
  msToTick,
  nearestSlots,
  nextBarLine,
  parseGrid,
  slotStepsAway,
  slotsOfBar,
  tickAfterMs,
  ticksAfterMs,
  ticksToMs,
  tickToBarBeat,
  tickToMs,
} from "./index.ts";

const PPQ = 480;
const meters = (...list: [tick: number, numerator: number, denominator: number][]) =>
  buildMeterMap(
    PPQ,
    list.map(([tick, numerator, denominator]) => ({ tick, numerator, denominator })),
  );

describe("meter map", () => {
  it("is 4/4 until the file says otherwise", () => {
    expect(barAt(meters(), 1920)).toMatchObject({ barIndex: 1, startTick: 1920, endTick: 3840 });
  });

  it.each([
    [
      [4, 4],
      [0, 480, 960, 1440],
    ],
    [
      [3, 4],
      [0, 480, 960],
    ],
    [
      [6, 8],
      [0, 720],
    ],
    [
      [9, 8],
      [0, 720, 1440],
    ],
    [
      [12, 8],
      [0, 720, 1440, 2160],
    ],
    [
      [7, 8],
      [0, 480, 960],
    ],
    [
      [5, 8],
      [0, 480],
    ],
    [
      [3, 8],
      [0, 240, 480],
    ],
    [
      [2, 2],
      [0, 960],
    ],
    [
      [5, 4],
      [0, 480, 960, 1440, 1920],
    ],
  ] as [[number, number], number[]][])("counts the pulses of %j", ([numerator, denominator], pulses) => {
    expect(barAt(meters([0, numerator, denominator]), 0).pulseTicks).toEqual(pulses);
  });

  it("starts a new bar where the meter changes inside one", () => {
    const map = meters([0, 4, 4], [2400, 3, 4]);
    expect(barAt(map, 2000)).toMatchObject({ barIndex: 1, startTick: 1920, endTick: 2400 });
    expect(barAt(map, 2400)).toMatchObject({ barIndex: 2, startTick: 2400, endTick: 3840 });
    expect(barByIndex(map, 2).startTick).toBe(2400);
    expect(nextBarLine(map, 1921)).toBe(2400);
  });

  it("says places as a person counts them", () => {
    expect(formatBarBeat(meters([0, 7, 8]), 1680 + 960 + 12)).toBe("2:3:12");
    expect(formatBarBeat(meters([0, 6, 8]), 719)).toBe("1:1:719");
  });

  const anyMeters = fc.array(
    fc.record({
      tick: fc.integer({ min: 0, max: 40_000 }),
      numerator: fc.integer({ min: 1, max: 16 }),
      denominator: fc.constantFrom(2, 4, 8, 16),
    }),
    { maxLength: 6 },
  );

  it("finds every tick again from its bar and beat", () => {
    fc.assert(
      fc.property(anyMeters, fc.integer({ min: 0, max: 90_000 }), (list, tick) => {
        const map = buildMeterMap(PPQ, list);
        expect(barBeatToTick(map, tickToBarBeat(map, tick))).toBe(tick);
      }),
    );
  });

  it("has no gap and no overlap between bars", () => {
    fc.assert(
      fc.property(anyMeters, (list) => {
        const map = buildMeterMap(PPQ, list);
        let bar = barAt(map, 0);
        for (let index = 0; index < 40; index++) {
          const next = barAt(map, bar.endTick);
          expect(next.startTick).toBe(bar.endTick);
          expect(next.barIndex).toBe(bar.barIndex + 1);
          expect(barByIndex(map, bar.barIndex).startTick).toBe(bar.startTick);
          bar = next;
        }
      }),
    );
  });
});

describe("tempo map", () => {
  it("is 120 bpm until the file says otherwise", () => {
    expect(tickToMs(buildTempoMap(PPQ, []), 960)).toBeCloseTo(1000, 9);
  });

  it("adds up through tempo changes", () => {
    // One quarter at 120 bpm, one at 60 bpm, then half a quarter at 240 bpm.
    const map = buildTempoMap(PPQ, [
      { tick: 480, usPerQuarter: 1_000_000 },
      { tick: 960, usPerQuarter: 250_000 },
    ]);
    expect(tickToMs(map, 1200)).toBeCloseTo(500 + 1000 + 125, 9);
    expect(bpmAt(map, 500)).toBeCloseTo(60, 9);
  });

  it("is exact in both directions through any tempos", () => {
    const tempos = fc.array(
      fc.record({ tick: fc.integer({ min: 0, max: 100_000 }), usPerQuarter: fc.integer({ min: 20, max: 16_777_215 }) }),
      { maxLength: 12 },
    );
    fc.assert(
      fc.property(tempos, fc.integer({ min: 0, max: 200_000 }), (list, tick) => {
        const map = buildTempoMap(PPQ, list);
        // Days at one quarter in a minute leave few digits for quarters of 20 µs.
        expect(msToTick(map, tickToMs(map, tick))).toBeCloseTo(tick, 4);
      }),
    );
  });

  it("converts columns as it does single ticks, in whatever order they are", () => {
    const tempos = fc.array(
      fc.record({ tick: fc.integer({ min: 0, max: 9000 }), usPerQuarter: fc.integer({ min: 20, max: 16_777_215 }) }),
      { maxLength: 8 },
    );
    const column = fc.array(fc.integer({ min: -100, max: 12_000 }), { maxLength: 30 });
    fc.assert(
      fc.property(tempos, column, fc.integer({ min: -50, max: 50 }), (list, ticks, ms) => {
        const map = buildTempoMap(PPQ, list);
        const given = Float64Array.from(ticks);
        expect([...ticksToMs(map, given)]).toEqual(ticks.map((tick) => tickToMs(map, tick)));
        expect([...ticksAfterMs(map, given, ms)]).toEqual(ticks.map((tick) => tickAfterMs(map, tick, ms)));
      }),
    );
  });

  it("never runs backwards", () => {
    const map = buildTempoMap(96, [
      { tick: 10, usPerQuarter: 0 },
      { tick: 20, usPerQuarter: 1 },
    ]);
    expect(tickToMs(map, 21)).toBeGreaterThan(tickToMs(map, 20));
  });
});

describe("grids", () => {
  const sixteenths = { family: "straight", denominator: 16 } as const;

  it("divides a bar of any meter from its bar line", () => {
    expect(slotsOfBar({ family: "straight", denominator: 4 }, barAt(meters([0, 7, 8]), 1680), PPQ)).toEqual([
      1680, 2160, 2640, 3120,
    ]);
    expect(slotsOfBar({ family: "triplet", denominator: 8 }, barAt(meters([0, 2, 4]), 0), PPQ)).toEqual([
      0, 160, 320, 480, 640, 800,
    ]);
    expect(slotsOfBar({ family: "dotted", denominator: 8 }, barAt(meters([0, 4, 4]), 0), PPQ)).toEqual([
      0, 360, 720, 1080, 1440, 1800,
    ]);
    // Five sixteenths in the time of four.
    expect(slotsOfBar({ family: "quintuplet", denominator: 16 }, barAt(meters([0, 1, 4]), 0), PPQ)).toEqual([
      0, 96, 192, 288, 384,
    ]);
  });

  it("takes the bar line for a slot, also where the last step is cut short", () => {
    const map = meters([0, 7, 8]);
    expect(nearestSlots({ family: "straight", denominator: 4 }, map, 1600)).toEqual({
      slotTick: 1680,
      secondSlotTick: 1440,
    });
  });

  it("gives a tick between two slots to the later one", () => {
    expect(nearestSlots(sixteenths, meters(), 60).slotTick).toBe(120);
    expect(nearestSlots(sixteenths, meters(), 59).slotTick).toBe(0);
  });

  it("is never farther from a tick than half a step", () => {
    fc.assert(
      fc.property(fc.constantFrom(...GRID_CHOICES), fc.integer({ min: 0, max: 50_000 }), (grid, tick) => {
        const map = meters([0, 4, 4], [7777, 7, 8]);
        const { slotTick, secondSlotTick } = nearestSlots(grid, map, tick);
        expect(Math.abs(slotTick - tick)).toBeLessThanOrEqual(gridStepTicks(grid, PPQ) / 2 + 1e-6);
        expect(Math.abs(secondSlotTick - tick)).toBeGreaterThanOrEqual(Math.abs(slotTick - tick) - 1e-6);
      }),
    );
  });

  it("finds the nearest of swung slots, which are those of the bars and the bar lines", () => {
    const map = meters([0, 4, 4], [7777, 7, 8]);
    fc.assert(
      fc.property(
        fc.constantFrom(...GRID_CHOICES),
        fc.integer({ min: 50, max: 75 }),
        fc.integer({ min: 0, max: 20_000 }),
        (even, swingPercent, tick) => {
          const grid = { ...even, swingPercent };
          const bar = barAt(map, tick);
          const slots = [...slotsOfBar(grid, bar, PPQ), bar.endTick];
          const distances = slots.map((slot) => Math.abs(slot - tick)).sort((a, b) => a - b);
          const { slotTick, secondSlotTick } = nearestSlots(grid, map, tick);
          expect(Math.abs(slotTick - tick)).toBeCloseTo(distances[0]!, 6);
          expect(slots.some((slot) => Math.abs(slot - secondSlotTick) < 1e-6)).toBe(true);
        },
      ),
      { numRuns: 500 },
    );
  });

  it("places the second slot of each pair by its swing, and says so", () => {
    const swung = { family: "straight", denominator: 8, swingPercent: 200 / 3 } as const;
    const triplets = { family: "triplet", denominator: 8 } as const;
    const bar = barAt(meters(), 0);
    const inTriplets = slotsOfBar(triplets, bar, PPQ).map(Math.round);
    for (const slot of slotsOfBar(swung, bar, PPQ)) expect(inTriplets).toContain(Math.round(slot));
    expect(gridName({ family: "straight", denominator: 16, swingPercent: 58 })).toBe("sixteenths swung 58 %");
  });

  it("steps on and back over bar lines, and not before the start", () => {
    expect(slotStepsAway(sixteenths, meters(), 1805, 2)).toBe(2040);
    expect(slotStepsAway(sixteenths, meters(), 1925, -1)).toBe(1800);
    expect(slotStepsAway(sixteenths, meters(), 130, -5)).toBe(0);
  });

  it("is typed and said as musicians do", () => {
    for (const grid of GRID_CHOICES) expect(parseGrid(formatGrid(grid))).toEqual(grid);
    expect(parseGrid("1/5")).toBeNull();
    expect(parseGrid("1/16-swung")).toBeNull();
    expect(gridName({ family: "triplet", denominator: 8 })).toBe("eighth triplets");
    expect(gridName({ family: "dotted", denominator: 4 })).toBe("dotted quarters");
    expect(gridName({ family: "quintuplet", denominator: 16 })).toBe("sixteenth quintuplets");
    expect(parseGrid("1/16-quintuplet")).toEqual({ family: "quintuplet", denominator: 16 });
  });
});
