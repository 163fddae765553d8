import { describe, expect, it } from "vitest";
import { GROOVES } from "../groove/index.ts";
import { cutAll, takeOf } from "../testing/songs.ts";
import { layOnCells, packSong, SongDesk, unpackSheet } from "./index.ts";

const take = takeOf(8);
const arrangement = cutAll(8, 2);
const places = arrangement.patterns.map(({ id }) => ({ patternId: id, voiceId: "snare" }));

describe("a laid song on its way from thread to thread", () => {
  it("comes out as it went in, to the width of a number", () => {
    const desk = new SongDesk({ ...take, arrangement });
    const laid = desk.lay();
    const packed = structuredClone(packSong(laid, desk.voiceIds));
    expect(packed.sameness).toEqual(laid.sameness);
    for (const sheet of laid.sheets) {
      const again = unpackSheet(packed, sheet.id)!;
      for (const [index, cell] of sheet.cells.entries()) {
        const other = again.cells[index]!;
        expect([other.voiceId, other.hitCount]).toEqual([cell.voiceId, cell.hitCount]);
        expect(other.picture).toEqual(cell.picture);
        expect(other.profile.quarters).toEqual(cell.profile.quarters);
        for (const [at, ms] of cell.profile.cleanedMs.entries()) expect(other.profile.cleanedMs[at]).toBeCloseTo(ms, 4);
      }
    }
    expect(unpackSheet(packed, "none")).toBeUndefined();
  });
});

describe("the desk of a song", () => {
  it("lays only what has changed, also when all of it comes from elsewhere anew", () => {
    const desk = new SongDesk({ ...take, arrangement });
    const before = desk.lay().sheets;
    desk.arrange(structuredClone(arrangement));
    for (const [index, sheet] of desk.lay().sheets.entries()) expect(sheet).toBe(before[index]);
    desk.arrange(layOnCells(arrangement, places.slice(1, 2), GROOVES[2]!, { timingPercent: 100, accentPercent: 50 }));
    const after = desk.lay().sheets;
    expect(after.map((sheet, index) => sheet === before[index])).toEqual([true, false, true, true]);
  });

  it("lays a pattern again when one that it follows has changed", () => {
    const [first, second] = arrangement.patterns;
    const following = { ...arrangement, patterns: [first!, { ...second!, followsId: first!.id }] };
    const desk = new SongDesk({ ...take, arrangement: following });
    const before = desk.lay().sheets;
    desk.arrange(layOnCells(following, places.slice(0, 1), GROOVES[2]!, { timingPercent: 100, accentPercent: 50 }));
    const after = desk.lay().sheets;
    expect(after[1]).not.toBe(before[1]);
    const msOf = (sheet: (typeof after)[number]) => sheet.cells[1]!.profile.cleanedMs;
    expect(msOf(after[1]!)).not.toEqual(msOf(before[1]!));
  });

  it("takes a groove from some cells: what is heard there, or what was recorded", () => {
    const desk = new SongDesk({ ...take, arrangement });
    const wish = {
      grid: { family: "straight", denominator: 16 },
      lengthQuarters: 4,
      isByFamily: true,
    } as const;
    const hats = arrangement.patterns.slice(0, 2).map(({ id }) => ({ patternId: id, voiceId: "hat" }));
    const [recorded] = desk.take(hats, { ...wish, side: "recorded" });
    const [cleaned] = desk.take(hats, { ...wish, side: "cleaned" });
    expect(recorded!.family).toBe("hats");
    // Four bars of sixteenths, and 80 % nearer to the grid.
    expect(recorded!.slots.reduce((sum, { hitCount }) => sum + hitCount, 0)).toBeGreaterThan(56);
    const spread = (layer: typeof recorded) => Math.max(...layer!.slots.map((slot) => slot.spread));
    expect(spread(cleaned)).toBeLessThan(0.4 * spread(recorded));
    expect(desk.take([], { ...wish, side: "recorded" })).toEqual([]);
  });

  it("plays the song, one pattern alone, or nothing", () => {
    const desk = new SongDesk({ ...take, arrangement });
    expect(desk.play(null).time.lengthTicks).toBe(take.lengthTicks);
    const alone = desk.play([{ id: "x", patternId: arrangement.patterns[1]!.id, repeats: 1 }]);
    expect(alone.time.lengthTicks).toBe(2 * 1920);
    expect(alone.parts.map(({ rows }) => rows.length)).toEqual([32, 4, 4]);
    expect(desk.play([]).time.lengthTicks).toBe(0);
  });
});
