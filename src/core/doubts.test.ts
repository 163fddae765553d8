import { describe, expect, it } from "vitest";
import type { Hit } from "./document/index.ts";
import { DEFAULT_TREATMENT, type TimingTreatment } from "./document/treatment.ts";
import { hitAt, patternOf } from "./testing/patterns.ts";
import { buildTimeMaps, GRID_CHOICES, type GridStretch, gridStepTicks } from "./time/index.ts";
import { FLAG } from "./timing/index.ts";
import { otherReadingOf, treat } from "./treat.ts";

const maps = buildTimeMaps(patternOf([]));
const LENGTH = 7680;

function clean(hits: readonly Hit[], timing: Partial<TimingTreatment> = {}) {
  const treatment = { timing: { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, ...timing } };
  return treat(hits, treatment, maps, LENGTH);
}

describe("quantize", () => {
  it("flags hits on the fence and hits that jump far", () => {
    const { flags } = clean([hitAt(62), hitAt(240), hitAt(402)]);
    expect(flags[0]! & FLAG.fence).toBe(FLAG.fence);
    expect(flags[1]).toBe(0);
    expect(flags[2]! & FLAG.jump).toBe(FLAG.jump);
  });

  it("flags steps that a voice has in a beat only, and not those that it has often", () => {
    const fives = (late: number) => Array.from({ length: 5 }, (_, step) => hitAt(step * 96 + late));
    const grid = { family: "quintuplet", denominator: 16 } as const;
    const flagsIn = (quarters: number, late = 5) =>
      [...clean(fives(late), { stretches: [{ startTick: 0, endTick: quarters * 480, grid }] }).flags].map(
        (bits) => bits & FLAG.rareStep,
      );
    // What is on a sixteenth as well is there in any reading.
    expect(flagsIn(1)).toEqual([0, FLAG.rareStep, FLAG.rareStep, FLAG.rareStep, FLAG.rareStep]);
    expect(flagsIn(4)).toEqual([0, 0, 0, 0, 0]);
    // Typed in, they are meant.
    expect(flagsIn(1, 0)).toEqual([0, 0, 0, 0, 0]);
    const sixths = { family: "triplet", denominator: 16 } as const;
    const triplets = Array.from({ length: 6 }, (_, step) => hitAt(step * 80));
    const { flags } = clean(triplets, { stretches: [{ startTick: 0, endTick: 480, grid: sixths }] });
    expect([...flags]).toEqual([0, 0, 0, 0, 0, 0]);
  });

  it("flags all of a voice that has few hits and fits its grid badly, and none of one that has many", () => {
    const off = (count: number) => Array.from({ length: count }, (_, step) => hitAt(step * 240 + 30));
    const poor = (hits: readonly Hit[]) => [...clean(hits).flags].map((bits) => (bits & FLAG.poorFit) !== 0);
    expect(poor(off(8))).toEqual(Array(8).fill(true));
    expect(poor(off(31))).toEqual(Array(31).fill(false));
    expect(poor(off(3))).toEqual(Array(3).fill(false));
    expect(poor(Array.from({ length: 8 }, (_, step) => hitAt(step * 240 + 5)))).toEqual(Array(8).fill(false));
  });

  it("flags a beat that another grid would explain nearly as well, and none that lies where it belongs", () => {
    // Eighths, a little off to and fro, and in one beat three that hurry: triplets, or sixteenths.
    const hats = Array.from({ length: 15 }, (_, step) => hitAt(step * 240 + (step % 2 === 0 ? 12 : -12)));
    const unsure = (fill: readonly number[]) => {
      const hits = [...hats, ...fill.map((tick) => hitAt(3840 + tick))];
      const { flags } = clean(hits, { grid: { family: "straight", denominator: 16 } });
      return [...flags].slice(15).map((bits) => (bits & FLAG.closeReading) !== 0);
    };
    expect(unsure([0, 145, 290])).toEqual([false, true, true]);
    expect(unsure([0, 122, 238])).toEqual([false, false, false]);
    const hits = [...hats, hitAt(3840), hitAt(3985), hitAt(4130)];
    const readingOf = (row: number, stretches: readonly GridStretch[]) =>
      otherReadingOf(
        hits,
        { timing: { ...DEFAULT_TREATMENT.timing, grid: { family: "straight", denominator: 16 }, stretches } },
        maps,
        row,
      );
    const triplets = { startTick: 3840, endTick: 4320, grid: { family: "triplet", denominator: 8 } } as const;
    expect(readingOf(16, [])).toEqual({ ...triplets, rows: [16, 17] });
    expect(readingOf(0, [])).toBe(null);
    // Read so, what it was is the close one.
    expect(readingOf(16, [triplets])).toMatchObject({ startTick: 3840, grid: { family: "straight" } });
    // A beat that is a doubt only since what it may be instead is played elsewhere.
    const clearer = [...hats, hitAt(3840), hitAt(3978), hitAt(4116)];
    const elsewhere = { startTick: 19_200, endTick: 19_680, grid: triplets.grid };
    const sixteenths = { family: "straight", denominator: 16 } as const;
    const areClose = (stretches: readonly GridStretch[]) =>
      clean(clearer, { grid: sixteenths, stretches })
        .flags.slice(15)
        .some((bits) => (bits & FLAG.closeReading) !== 0);
    expect([areClose([]), areClose([elsewhere])]).toEqual([false, true]);
    // Dotted steps begin anew with each bar.
    for (const grid of GRID_CHOICES.filter(({ family }) => family !== "dotted")) {
      const hits = [0, 1, 2, 3, 5, 6, 8, 9, 12].map((step) => hitAt(Math.round(step * gridStepTicks(grid, 480))));
      expect(clean(hits, { grid }).flags.some((bits) => (bits & FLAG.closeReading) !== 0)).toBe(false);
    }
  });

  it("flags what is moved along with another hit and may have a slot of its own", () => {
    const along = (hits: readonly Hit[], denominator: 8 | 16) =>
      [...clean(hits, { grid: { family: "straight", denominator } }).flags].map((bits) => (bits & FLAG.along) !== 0);
    // A roll that is no roll on any step, and one that is of thirty-seconds.
    const rolled = (gaps: readonly number[]) =>
      gaps.map((_, at) => hitAt(gaps.slice(0, at + 1).reduce((a, b) => a + b)));
    expect(along(rolled([488, 60, 75, 52, 70, 58]), 8)).toEqual(Array(6).fill(true));
    expect(along(rolled([488, 60, 60, 60, 60, 60]), 8)).toEqual(Array(6).fill(false));
    // A weak stroke near a strong one is taken for its grace note; this one is as near to a sixteenth.
    const graced = (tick: number) =>
      along([hitAt(tick, { recordedVelocity: 30 }), hitAt(480, { recordedVelocity: 110 })], 16);
    expect(graced(415)).toEqual([true, false]);
    expect(graced(455)).toEqual([false, false]);
  });

  it("flags a hit that would have passed its neighbour, and keeps it in order", () => {
    // Both want slot 0. The louder takes it, past the one that a hand has pinned.
    const hits = [hitAt(100, { pinnedTick: 30, recordedVelocity: 50 }), hitAt(50, { recordedVelocity: 120 })];
    const { ticks, flags } = clean(hits, { keepsGraceNotes: false });
    expect([...flags].map((bits) => bits & FLAG.order)).toEqual([0, FLAG.order]);
    expect([...ticks]).toEqual([30, 31]);
    const apart = clean([hitAt(10), hitAt(130)]);
    expect([...apart.flags].map((bits) => bits & FLAG.order)).toEqual([0, 0]);
  });
});
