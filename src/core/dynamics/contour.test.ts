import { describe, expect, it } from "vitest";
import { patternOf } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import { alongContour, CONTOURS, contourAt, copyContour, layContour } from "./index.ts";

const { meterMap } = buildTimeMaps(patternOf([]));
const places = (...list: (readonly [tick: number, velocity: number])[]) =>
  list.map(([tick, velocity]) => ({ tick, velocity }));
const rounded = (values: readonly number[]) => values.map(Math.round);

describe("contours", () => {
  it("begin and end where they should, and never leave what lies between", () => {
    for (const contour of CONTOURS) {
      for (let share = 0; share <= 1; share += 0.05) {
        const value = contourAt(contour, share);
        expect(value >= -1e-9 && value <= 1 + 1e-9).toBe(true);
      }
    }
    expect(
      ["straight", "slow start", "slow end", "slow at both ends"].map((name) => contourAt(name as never, 1)),
    ).toEqual([1, 1, 1, 1]);
    expect([contourAt("swell", 0.5), contourAt("sag", 0.5)]).toEqual([1, 0]);
    expect(contourAt("slow at both ends", 0.5)).toBe(0.5);
  });

  it("lie over hits by when they sound, once, over every beat or over every bar", () => {
    const hits = places([0, 9], [480, 9], [960, 9], [1920, 9]);
    const from40 = { contour: "straight", from: 40, to: 120 } as const;
    expect(rounded(alongContour(hits, { ...from40, span: "once" }, meterMap))).toEqual([40, 60, 80, 120]);
    expect(rounded(alongContour(hits, { ...from40, span: "every bar" }, meterMap))).toEqual([40, 60, 80, 40]);
    const sixteenths = places([480, 9], [600, 9], [720, 9], [960, 9]);
    expect(rounded(alongContour(sixteenths, { ...from40, span: "every beat" }, meterMap))).toEqual([40, 60, 80, 40]);
    expect(alongContour([], { ...from40, span: "once" }, meterMap)).toEqual([]);
    expect(alongContour(places([7, 9]), { ...from40, span: "once" }, meterMap)).toEqual([120]);
  });

  it("are copied from one bar and laid on others, around their own mean or as loud", () => {
    const copied = copyContour(places([0, 100], [480, 50], [960, 100], [1440, 50]), meterMap)!;
    expect([copied.lengthTicks, copied.meanVelocity]).toEqual([1920, 75]);
    const target = places([1920, 60], [2400, 60], [3840, 60], [4320, 60]);
    expect(rounded(layContour(target, copied, meterMap, true))).toEqual([80, 40, 80, 40]);
    expect(rounded(layContour(target, copied, meterMap, false))).toEqual([100, 50, 100, 50]);
    // Between two places that it was copied from it goes straight.
    expect(rounded(layContour(places([240, 60]), copied, meterMap, false))).toEqual([75]);
    expect(copyContour([], meterMap)).toBeNull();
    expect(layContour([], copied, meterMap, true)).toEqual([]);
  });
});
