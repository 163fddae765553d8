import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, invertEdit, isEmptyEdit } from "../document/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { changePartBy, PART_FIELDS, PART_LIMITS } from "./index.ts";

const part = patternOf([hitAt(0), hitAt(240, { voiceId: "hat" }), hitAt(480, { voiceId: "kick" })], {
  lanes: [
    laneOf("hat", { isOn: true, strengthPercent: 60, pushMs: -4 }),
    laneOf("snare", { isOn: true, strengthPercent: 85 }),
    laneOf("kick"),
  ],
});
const all = new Set(["hat", "snare", "kick"]);
const timings = (edit: ReturnType<typeof changePartBy>) =>
  applyEdit(part, edit).lanes.map(({ treatment: { timing } }) => timing);

describe("a setting of the whole part", () => {
  it("changes each voice by the same, and keeps what they differ in", () => {
    expect(timings(changePartBy(part, all, "strengthPercent", 10)).map((one) => one.strengthPercent)).toEqual([
      70, 95, 80,
    ]);
    expect(timings(changePartBy(part, all, "strengthPercent", 30)).map((one) => one.strengthPercent)).toEqual([
      90, 100, 80,
    ]);
    expect(timings(changePartBy(part, new Set(["hat"]), "pushMs", 6)).map((one) => one.pushMs)).toEqual([2, 0, 0]);
    const swung = timings(changePartBy(part, all, "swingPercent", 8));
    expect(swung.map(({ grid }) => grid.swingPercent)).toEqual([58, 58, undefined]);
  });

  it("quantizes nothing that was not quantized: a push alone pulls to no grid", () => {
    expect(timings(changePartBy(part, all, "strengthPercent", 10))[2]).toMatchObject({ isOn: false });
    expect(timings(changePartBy(part, all, "pushMs", 6))[2]).toMatchObject({
      isOn: true,
      strengthPercent: 0,
      pushMs: 6,
    });
    const shaped = applyEdit(part, changePartBy(part, all, "rangePercent", 20));
    expect(shaped.lanes.map(({ treatment }) => treatment.dynamics?.rangePercent)).toEqual([120, 120, 120]);
  });

  it("stays within its limits, can be taken back, and by nothing is no step", () => {
    fc.assert(
      fc.property(fc.constantFrom(...PART_FIELDS), fc.integer({ min: -500, max: 500 }), (field, by) => {
        const edit = changePartBy(part, all, field, by);
        const after = applyEdit(part, edit);
        expect(applyEdit(after, invertEdit(edit))).toEqual(part);
        const { min, max } = PART_LIMITS[field];
        for (const { treatment } of after.lanes) {
          const { timing, dynamics } = treatment;
          const values = { ...timing, ...dynamics, swingPercent: timing.grid.swingPercent ?? 50 } as Record<
            string,
            unknown
          >;
          const value = values[field];
          if (typeof value === "number") expect(value >= min && value <= max).toBe(true);
        }
        if (by === 0) expect(isEmptyEdit(edit)).toBe(true);
      }),
    );
  });
});
