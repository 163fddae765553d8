import { describe, expect, it } from "vitest";
import { GROOVES } from "../../core/groove/index.ts";
import { changeCells, layOnCells, type SongPattern } from "../../core/song/index.ts";
import { cutAll, takeOf } from "../../core/testing/songs.ts";
import { buildTimeMaps } from "../../core/time/index.ts";
import {
  barWords,
  cellsIn,
  cellWords,
  choiceWords,
  clearCells,
  countOf,
  marksOfCell,
  namedBars,
  sharedBy,
  takeBars,
} from "./song-actions.ts";

const take = takeOf(8);
const arrangement = cutAll(8, 2);
const { patterns } = arrangement;
const voiceIds = take.lanes.map(({ voiceId }) => voiceId);
const at = (row: number, column: number) => ({ patternId: patterns[row]!.id, voiceId: voiceIds[column]! });

describe("bars that markers name", () => {
  it("are those whose line is nearest", () => {
    const maps = buildTimeMaps(take);
    const bars = takeBars({ pattern: take, maps });
    const { startTick } = bars[3]!;
    const markers = [0, startTick - 30, startTick + 30, bars.at(-1)!.endTick - 1].map((tick) => ({ tick, text: "x" }));
    expect(namedBars(markers, maps.meterMap).map(({ bar }) => bar)).toEqual([0, 3, 3, 8]);
  });
});

describe("how patterns are counted", () => {
  it("is as the longest of their bars is, and as the take is where there are none", () => {
    const meters = [
      { tick: 0, numerator: 7, denominator: 8 },
      { tick: 4 * 1680, numerator: 6, denominator: 8 },
    ];
    const odd = { ...take, meters, lengthTicks: 4 * 1680 + 4 * 1440 };
    const bars = takeBars({ pattern: odd, maps: buildTimeMaps(odd) });
    expect(countOf(bars, [{ bars: [5, null, 1] }], 480)).toEqual({ beats: [0, 1, 2], lengthQuarters: 3.5 });
    expect(countOf(bars, [{ bars: [null, 5, 400] }], 480)).toEqual({ beats: [0, 1.5], lengthQuarters: 3 });
    expect(countOf(bars, [], 480).lengthQuarters).toBe(3.5);
  });
});

describe("what is chosen in the matrix", () => {
  it("is everything between two corners, whichever of them came first", () => {
    const one = cellsIn({ from: at(2, 1), to: at(0, 2) }, patterns, voiceIds);
    const other = cellsIn({ from: at(0, 2), to: at(2, 1) }, patterns, voiceIds);
    expect(one).toEqual(other);
    expect(one.places).toHaveLength(6);
    expect(one.voiceIds).toEqual(["snare", "kick"]);
    const gone = { patternId: "gone", voiceId: "snare" };
    expect(cellsIn({ from: at(0, 0), to: gone }, patterns, voiceIds).places).toEqual([]);
    expect(cellsIn(null, patterns, voiceIds).places).toEqual([]);
  });

  it("is said in words", () => {
    const words = (from: ReturnType<typeof at>, to = from) =>
      choiceWords(cellsIn({ from, to }, patterns, voiceIds), patterns, take);
    expect(words(at(1, 1))).toBe("Snare in Bars 3 to 4");
    expect(words(at(0, 0), at(0, 2))).toBe("All voices in Bars 1 to 2");
    expect(words(at(0, 1), at(3, 1))).toBe("Snare in all patterns");
    expect(words(at(0, 0), at(1, 1))).toBe("2 voices in 2 patterns");
    expect(choiceWords(cellsIn(null, patterns, voiceIds), patterns, take)).toBe("Nothing is selected.");
  });
});

describe("what a cell does", () => {
  const laid = layOnCells(arrangement, [at(1, 1)], GROOVES[2]!, { timingPercent: 90, accentPercent: 30 });
  const leaned = changeCells(laid, [at(1, 1), at(2, 1)], () => ({ pushMs: -7 }));
  const snare = take.lanes[1]!;

  it("is said in words and marks, with whether it is its own", () => {
    expect(cellWords(leaned, leaned.patterns[1]!, snare, 480)).toBe(
      `${GROOVES[2]!.name}, timing 90 %, loudness 30 %, 7 ms ahead`,
    );
    expect(cellWords(leaned, leaned.patterns[2]!, snare, 480)).toBe("no groove, 7 ms ahead");
    expect(cellWords(leaned, leaned.patterns[0]!, snare, 480)).toBe("no groove, as the take");
    expect(marksOfCell(leaned, leaned.patterns[1]!, "snare")).toEqual({
      groove: GROOVES[2]!.name,
      isOwn: true,
      pushMs: -7,
    });
    expect(marksOfCell(leaned, leaned.patterns[0]!, "snare").isOwn).toBe(false);
  });

  it("is shared by several, or is not", () => {
    const push = (places: readonly ReturnType<typeof at>[]) => sharedBy(leaned, places, ({ pushMs }) => pushMs ?? 0);
    expect(push([at(1, 1), at(2, 1)])).toBe(-7);
    expect(push([at(1, 1), at(0, 1)])).toBeUndefined();
  });

  it("is given back to the take, and its groove goes with it if nothing else has it", () => {
    const cleared = clearCells(leaned, [at(1, 1), at(2, 1)]);
    expect(cleared.patterns).toEqual(arrangement.patterns);
  });
});

describe("the bars of a pattern in words", () => {
  const of = (bars: SongPattern["bars"], turnedTicks?: number) =>
    barWords({ id: "p", name: "P", colour: "moss", bars, ...(turnedTicks ? { turnedTicks } : {}) }, 480);
  it("say runs, silence, and how far it is turned", () => {
    expect(of([4])).toBe("Bar 5 of the take");
    expect(of([0, 1, 2, 7, null, null])).toBe("Bars 1 to 3, 8 of the take, then 2 silent bars");
    expect(of([null])).toBe("A silent bar");
    expect(of([0, 2, 4, 6, 8, 10])).toBe("Bars 1, 3, 5 of the take and 3 more");
    expect(of([0, 1], 720)).toBe("Bars 1 to 2 of the take, rotated by 1.5 quarters");
  });
});
