import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { ExceptionalSettings } from "../document/treatment.ts";
import { DEFAULT_TREATMENT, type TimingTreatment } from "../document/treatment.ts";
import { hitAt, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import { AS_RECORDED, onlyWithin, withException } from "./exceptions.ts";

const maps = buildTimeMaps(patternOf([]));
const LENGTH = 7680;
const ticksOf = (ticks: readonly number[], timing: Partial<TimingTreatment>) => [
  ...treat(
    ticks.map((tick) => hitAt(tick)),
    { timing: { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, ...timing } },
    maps,
    LENGTH,
  ).ticks,
];

describe("exceptions", () => {
  it("pull a stretch by another strength, or leave it as it was recorded, and nothing else", () => {
    const exceptions = [
      { startTick: 1920, endTick: 3840, strengthPercent: 50 },
      { startTick: 3840, endTick: 5760, ...AS_RECORDED },
    ];
    const played = [10, 1930, 3850, 5770];
    expect(ticksOf(played, { exceptions })).toEqual([0, 1925, 3850, 5760]);
    expect(ticksOf(played, { exceptions, pushMs: 10, humanizeMs: 0 })).toEqual([10, 1935, 3850, 5770]);
  });

  it("hold for a hit just ahead of the bar line that it was played for", () => {
    const exceptions = [{ startTick: 1920, endTick: 3840, ...AS_RECORDED }];
    expect(ticksOf([1905, 3825], { exceptions })).toEqual([1905, 3840]);
  });

  it("leave nothing to doubt where all stays as it was recorded", () => {
    const flagsWith = (exceptions: TimingTreatment["exceptions"]) => {
      const timing = { ...DEFAULT_TREATMENT.timing, isOn: true, ...(exceptions ? { exceptions } : {}) };
      const hits = [0, 60, 1980, 3900, 4800, 5280, 5760].map((tick) => hitAt(tick));
      return [...treat(hits, { timing }, maps, LENGTH).flags].map((flags) => flags !== 0);
    };
    expect(flagsWith(undefined)).toEqual([false, true, true, true, false, false, false]);
    expect(flagsWith([{ startTick: 0, endTick: 3840, ...AS_RECORDED }])).toEqual([
      false,
      false,
      false,
      true,
      false,
      false,
      false,
    ]);
  });

  it("leave all but one stretch alone", () => {
    const exceptions = onlyWithin(1920, 3840, LENGTH);
    expect(ticksOf([10, 1930, 3850], { exceptions })).toEqual([10, 1920, 3850]);
    expect(onlyWithin(0, 480, LENGTH)).toEqual([{ startTick: 480, endTick: LENGTH, ...AS_RECORDED }]);
    expect(onlyWithin(0, LENGTH, LENGTH)).toEqual([]);
  });

  it("hold for leave-within, reach and chance as well", () => {
    const at = (exception: object) =>
      ticksOf([30, 1950], { exceptions: [{ startTick: 1920, endTick: 3840, ...exception }] });
    expect(at({})).toEqual([0, 1920]);
    expect(at({ leaveWithinMs: 40 })).toEqual([0, 1950]);
    expect(at({ reachPercent: 20 })).toEqual([0, 1950]);
    const [first, second] = at({ humanizeMs: 30 });
    expect(first).toBe(0);
    expect(second).not.toBe(1920);
  });

  it("take the place of those that were there, and stay in order and apart", () => {
    const place = fc.tuple(fc.nat(LENGTH), fc.nat(LENGTH), fc.option(fc.record({ strengthPercent: fc.nat(100) })));
    fc.assert(
      fc.property(fc.array(place, { maxLength: 12 }), (places) => {
        let exceptions = onlyWithin(0, 0, 0);
        for (const [a, b, settings] of places) {
          const [start, end] = [Math.min(a, b), Math.max(a, b)];
          exceptions = withException<ExceptionalSettings>(exceptions, start, end, settings);
          const inside = exceptions.filter(({ startTick, endTick }) => startTick < end && endTick > start);
          expect(inside.every((one) => one.strengthPercent === settings?.strengthPercent)).toBe(true);
          if (!settings) expect(inside).toEqual([]);
        }
        for (let index = 0; index < exceptions.length; index++) {
          expect(exceptions[index]!.endTick).toBeGreaterThan(exceptions[index]!.startTick);
          if (index > 0) expect(exceptions[index]!.startTick).toBeGreaterThanOrEqual(exceptions[index - 1]!.endTick);
        }
      }),
    );
  });
});
