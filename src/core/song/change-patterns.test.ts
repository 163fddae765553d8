import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, arranging, editBetween, invertEdit } from "../document/index.ts";
import { GROOVES } from "../groove/index.ts";
import { BAR, cutAll, newId, takeOf } from "../testing/songs.ts";
import {
  type Arrangement,
  addToSong,
  changeCells,
  changePattern,
  cutInto,
  cutsAt,
  cutsEvery,
  duplicatePattern,
  insertBars,
  joinPatterns,
  layOnCells,
  moveInSong,
  movePattern,
  NO_ARRANGEMENT,
  removeBars,
  removeFromSong,
  removePatterns,
  repeatInSong,
  type SongPattern,
  splitPattern,
  toggleEntry,
  toggleVoiceOfEntry,
  turned,
  withLength,
} from "./index.ts";

const groove = GROOVES[0]!;

describe("changing the patterns of a song", () => {
  const barsOfSong = ({ patterns, song }: Arrangement) =>
    song.flatMap(({ patternId, repeats }) =>
      Array.from({ length: repeats }, () => patterns.find(({ id }) => id === patternId)!.bars).flat(),
    );

  it("cuts where the take names a bar, and calls the patterns so", () => {
    const cuts = cutsAt(12, [
      { bar: 8, name: "Chorus" },
      { bar: 2, name: "Verse" },
      { bar: 8, name: "Later" },
      { bar: 4, name: "Chorus" },
      { bar: 40, name: "Beyond" },
    ]);
    expect(cuts.map(({ name, firstBar, endBar }) => [name, firstBar, endBar])).toEqual([
      ["Bars 1 to 2", 0, 2],
      ["Verse", 2, 4],
      ["Chorus", 4, 8],
      ["Chorus 2", 8, 12],
    ]);
    expect(cuts[2]!.colour).toBe(cuts[3]!.colour);
    expect(new Set(cuts.map(({ colour }) => colour)).size).toBe(3);
    // What was only found takes the name of the take; what somebody named keeps it.
    const before = cutAll(12, 4);
    const mine = changePattern(before, before.patterns[1]!.id, () => ({ name: "Mine" }));
    const cut = cutInto(
      mine,
      cutsAt(12, [
        { bar: 4, name: "Verse" },
        { bar: 8, name: "Chorus" },
      ]),
      newId,
    );
    expect(cut.patterns.map(({ name }) => name)).toEqual(["Bars 1 to 4", "Mine", "Chorus"]);
    expect(cut.patterns[2]!.id).toBe(before.patterns[2]!.id);
    expect(cutsAt(4, []).map(({ endBar }) => endBar)).toEqual([4]);
  });

  it("splits and joins without a bar being lost or played twice", () => {
    let arrangement = cutAll(8, 4);
    const played = barsOfSong(arrangement);
    arrangement = repeatInSong(arrangement, arrangement.song[0]!.id, 2);
    const repeated = barsOfSong(arrangement);
    const [first] = arrangement.patterns;
    arrangement = splitPattern(arrangement, first!.id, 1, newId);
    expect(barsOfSong(arrangement)).toEqual(repeated);
    expect(arrangement.patterns).toHaveLength(3);
    expect(splitPattern(arrangement, first!.id, 1, newId)).toBe(arrangement);
    arrangement = joinPatterns(arrangement, arrangement.patterns[0]!.id, arrangement.patterns[1]!.id, newId);
    expect(barsOfSong(arrangement)).toEqual(repeated);
    expect(arrangement.patterns).toHaveLength(2);
    // One that the song plays alone as well stays when it is joined.
    const [a, b] = arrangement.patterns.map(({ id }) => id);
    const alone = joinPatterns(addToSong(arrangement, a!, newId), a!, b!, newId);
    expect(alone.patterns.map(({ bars }) => bars.length)).toEqual([8, 4]);
    expect(barsOfSong(alone)).toEqual([...repeated, ...played.slice(0, 4)]);
  });

  it("cuts again and keeps what is cut the same", () => {
    const named = changePattern(cutAll(8, 4), cutAll(8, 4).patterns[0]!.id, () => ({}));
    const verse = changePattern(named, named.patterns[0]!.id, () => ({ name: "Verse", colour: "rose" }));
    const again = cutInto(verse, [...cutsEvery(4, 4), ...cutsEvery(8, 2).slice(2)], newId);
    expect(again.patterns.map(({ name }) => name)).toEqual(["Verse", "Bars 5 to 6", "Bars 7 to 8"]);
    expect(again.patterns[0]!.colour).toBe("rose");
  });

  it("inserts, removes and repeats bars, and never leaves a pattern without any", () => {
    const one: SongPattern = { id: "p", name: "P", colour: "moss", bars: [4, 5] };
    expect(insertBars(one, 1, [null, 9])).toEqual({ bars: [4, null, 9, 5] });
    expect(removeBars(one, 0, 1)).toEqual({ bars: [5] });
    expect(removeBars(one, 0, 2)).toEqual({});
    expect(withLength(one, 5)).toEqual({ bars: [4, 5, 4, 5, 4] });
    expect(withLength(one, 0)).toEqual({ bars: [4] });
  });

  const command = fc.record({
    which: fc.integer({ min: 0, max: 13 }),
    at: fc.integer({ min: 0, max: 5 }),
    to: fc.integer({ min: 0, max: 5 }),
  });
  const doIt = (
    arrangement: Arrangement,
    { which, at, to }: { which: number; at: number; to: number },
  ): Arrangement => {
    const id = arrangement.patterns[at % Math.max(1, arrangement.patterns.length)]?.id ?? "none";
    const entry = arrangement.song[at % Math.max(1, arrangement.song.length)]?.id ?? "none";
    const places = [{ patternId: id, voiceId: to % 2 === 0 ? "snare" : "hat" }];
    const commands: readonly (() => Arrangement)[] = [
      () => cutInto(arrangement, cutsEvery(8, to + 1), newId),
      () => splitPattern(arrangement, id, to, newId),
      () => joinPatterns(arrangement, id, arrangement.patterns[to]?.id ?? id, newId),
      () => duplicatePattern(arrangement, id, newId),
      () => removePatterns(arrangement, new Set([id])),
      () => changePattern(arrangement, id, (one) => withLength(one, to + 1)),
      () => changePattern(arrangement, id, (one) => turned(one, to * 240, one.bars.length * BAR)),
      () => movePattern(arrangement, id, to),
      () => addToSong(arrangement, id, newId),
      () => removeFromSong(arrangement, entry),
      () => moveInSong(arrangement, entry, to),
      () => toggleVoiceOfEntry(toggleEntry(arrangement, entry), entry, "hat"),
      () => layOnCells(arrangement, places, GROOVES[to % GROOVES.length]!, { timingPercent: 80, accentPercent: 20 }),
      () =>
        changeCells(arrangement, places, () => ({ feel: to > 2 ? null : undefined, pushMs: to > 3 ? to : undefined })),
    ];
    return commands[which]!();
  };

  it("is undone whole, whatever was done, also after a way through JSON", () => {
    fc.assert(
      fc.property(fc.array(command, { maxLength: 12 }), (commands) => {
        const start = takeOf(8);
        let pattern = start;
        const edits = commands.map((one) => {
          const before = pattern.arrangement ?? NO_ARRANGEMENT;
          // A song plays patterns that there are: an entry of none could not be shown.
          const wanted = one.which === 8 && before.patterns.length === 0 ? before : doIt(before, one);
          const edit = JSON.parse(JSON.stringify({ kind: "arrange", ...arranging(before, wanted) }));
          pattern = applyEdit(pattern, edit);
          return edit;
        });
        const { patterns, song, grooves } = pattern.arrangement ?? NO_ARRANGEMENT;
        expect(song.every(({ patternId }) => patterns.some(({ id }) => id === patternId))).toBe(true);
        for (const { cells = {} } of patterns)
          for (const { feel } of Object.values(cells)) if (feel) expect(grooves[feel.grooveId]).toBeDefined();
        expect(applyEdit(start, editBetween(start, pattern))).toEqual(pattern);
        for (const edit of edits.toReversed()) pattern = applyEdit(pattern, invertEdit(edit));
        expect(pattern).toEqual(start);
      }),
      { numRuns: 120 },
    );
  });

  it("refuses a change that was made on another song", () => {
    const take = takeOf(4);
    const cut = { kind: "arrange", ...arranging(NO_ARRANGEMENT, cutAll(4)) } as const;
    expect(() => applyEdit(applyEdit(take, cut), cut)).toThrow("The song has changed");
  });

  it("keeps a groove that was changed on the shelf apart from the one that lies on cells already", () => {
    const arrangement = cutAll(4, 2);
    const [a, b] = arrangement.patterns.map(({ id }) => ({ patternId: id, voiceId: "snare" }));
    const amounts = { timingPercent: 100, accentPercent: 60 };
    const once = layOnCells(arrangement, [a!], groove, amounts);
    const other = { ...groove, layers: GROOVES[1]!.layers };
    const twice = layOnCells(once, [b!], other, amounts);
    expect(Object.keys(twice.grooves)).toHaveLength(2);
    const [first, second] = twice.patterns.map(({ cells }) => twice.grooves[cells!.snare!.feel!.grooveId]!);
    expect(first!.layers).toEqual(groove.layers);
    expect(second!.layers).toEqual(other.layers);
  });
});
