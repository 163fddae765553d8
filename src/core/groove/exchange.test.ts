import { describe, expect, it } from "vitest";
import type { Groove } from "../document/index.ts";
import { importTake } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { GROOVES, grooveOfPattern, grooveToMidi, makeLayer, PLAIN_NUMBERS } from "./index.ts";

const SIXTEENTHS = { family: "straight", denominator: 16 } as const;
const swung = { ...PLAIN_NUMBERS, swingPercent: 58, pushPercent: 4, weakPercent: 25 };
const groove: Groove = {
  id: "g",
  name: "Quay",
  lengthQuarters: 4,
  grid: SIXTEENTHS,
  layers: [makeLayer(swung, "hats"), makeLayer({ ...swung, pushPercent: 12 }, "snare")],
};

describe("a groove as a part", () => {
  it("comes back from its MIDI file: where it sits and how loud, for each family", () => {
    const { pattern } = importTake(grooveToMidi(groove, 100), GENERAL_MIDI);
    const found = grooveOfPattern(pattern)!.groove;
    expect([found.grid, found.lengthQuarters]).toEqual([SIXTEENTHS, 4]);
    expect(found.layers.map(({ family }) => family)).toEqual(["hats", "snare"]);
    for (const [index, { slots }] of found.layers.entries()) {
      for (const [slot, { offset, accent }] of slots.entries()) {
        const meant = groove.layers[index]!.slots[slot]!;
        expect(offset).toBeCloseTo(meant.offset, 2);
        expect(accent / slots[0]!.accent).toBeCloseTo(meant.accent, 1);
      }
    }
  });

  it("is one for all drums if only one family is played", () => {
    const { pattern } = importTake(grooveToMidi({ ...groove, layers: [makeLayer(swung)] }, 100), GENERAL_MIDI);
    expect(grooveOfPattern(pattern)!.groove.layers.map(({ family }) => family)).toEqual([null]);
  });

  it("can be written of all that come with the application", () => {
    for (const one of GROOVES) {
      const { pattern, notices } = importTake(grooveToMidi(one, 96), GENERAL_MIDI);
      expect(notices).toEqual([]);
      expect(pattern.hits).toHaveLength(one.layers.reduce((sum, { slots }) => sum + slots.length, 0));
    }
  });
});

describe("the groove of any recording", () => {
  it("is none without hits, and says when it was learned from few, or from a take of several meters", () => {
    expect(grooveOfPattern(patternOf([]))).toBeNull();
    const one = grooveOfPattern(patternOf([hitAt(480)], { lanes: [laneOf("snare", { grid: SIXTEENTHS })] }))!;
    expect(one.notices).toEqual(["It was learned from 1 hit only."]);
    const meters = [
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: 1920, numerator: 3, denominator: 4 },
      { tick: 3360, numerator: 7, denominator: 8 },
    ];
    const hits = Array.from({ length: 40 }, (_, index) => hitAt(index * 120));
    const three = grooveOfPattern(patternOf(hits, { meters, lanes: [laneOf("snare", { grid: SIXTEENTHS })] }))!;
    expect(three.notices).toEqual(["It has 3 meters; the groove is a bar of the first, 4/4."]);
    expect(three.groove.lengthQuarters).toBe(4);
  });
});
