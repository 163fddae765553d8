import { describe, expect, it } from "vitest";
import { changeTiming } from "../commands/index.ts";
import { GROOVES } from "../groove/index.ts";
import { cutInto, cutsEvery, layOnCells, NO_ARRANGEMENT } from "../song/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { applyEdit, arranging, type Edit, editBetween, invertEdit, type Pattern, sideOfNow } from "./index.ts";

const take = patternOf([hitAt(0), hitAt(1930, { voiceId: "kick" })], {
  lanes: [laneOf("snare"), laneOf("kick")],
});
const both = new Set(["snare", "kick"]);
let ids = 0;
const cut = cutInto(NO_ARRANGEMENT, cutsEvery(4, 2), () => `id ${++ids}`);
const pull = (pattern: Pattern, strengthPercent: number): Edit =>
  changeTiming(pattern, both, (timing) => ({ ...timing, isOn: true, strengthPercent }));
const strengths = ({ lanes }: Pattern) => lanes.map(({ treatment }) => treatment.timing.strengthPercent);
const keep = (pattern: Pattern): Edit => ({ kind: "keepSide", from: null, to: sideOfNow(pattern, "A") });

describe("two sets of settings", () => {
  it("are turned from one to the other whole, with those of the song, and back", () => {
    let pattern = applyEdit(take, { kind: "arrange", ...arranging(NO_ARRANGEMENT, cut) });
    pattern = applyEdit(pattern, pull(pattern, 60));
    pattern = applyEdit(pattern, keep(pattern));
    pattern = applyEdit(pattern, pull(pattern, 95));
    const places = [{ patternId: cut.patterns[0]!.id, voiceId: "snare" }];
    const laid = layOnCells(pattern.arrangement!, places, GROOVES[0]!, { timingPercent: 100, accentPercent: 0 });
    pattern = applyEdit(pattern, { kind: "arrange", ...arranging(pattern.arrangement!, laid) });
    const onB = pattern;
    const onA = applyEdit(pattern, { kind: "turnSide" });
    expect(strengths(onA)).toEqual([60, 60]);
    expect(onA.otherSide?.letter).toBe("B");
    expect(onA.arrangement?.patterns[0]).not.toHaveProperty("cells");
    expect(onA.arrangement?.grooves).toEqual({});
    expect(applyEdit(onA, invertEdit({ kind: "turnSide" }))).toEqual(onB);
    // Going back to a version goes back in both sets.
    expect(applyEdit(onA, editBetween(onA, take))).toEqual(take);
  });

  it("have the same for a voice that came later, and lose nothing of one that is away", () => {
    let pattern = applyEdit(take, keep(take));
    const { lanes } = pattern;
    pattern = { ...pattern, lanes: [...lanes, laneOf("hat", { isOn: true, strengthPercent: 71 })] };
    expect(strengths(applyEdit(pattern, { kind: "turnSide" }))).toEqual([80, 80, 71]);
    const away = applyEdit({ ...pattern, lanes: lanes.slice(0, 1) }, { kind: "turnSide" });
    expect(Object.keys(away.otherSide!.treatments)).toEqual(["snare", "kick"]);
  });

  it("refuse to be turned where there is one only, or kept where another is by now", () => {
    expect(() => applyEdit(take, { kind: "turnSide" })).toThrow("No second set");
    expect(() => applyEdit(applyEdit(take, keep(take)), keep(take))).toThrow("Another set");
  });
});
