import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, type Hit, invertEdit, type Pattern } from "../document/index.ts";
import { exportTake, importTake, readMarkers, readTones } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { META, readMidiFile, writeMidiFile, writeText } from "../smf/index.ts";
import { cutInto, cutsEvery, NO_ARRANGEMENT } from "../song/index.ts";
import { channel, fileOf, meta, note } from "../testing/midi.ts";
import { buildMeterMap, formatBarBeat } from "../time/index.ts";
import { barsIn, insertBars, removeBarsOf, wholeBars } from "./index.ts";

const BAR = 1920;

/** Four bars of 4/4, then one of 3/4: a kick a little ahead of each bar line, a snare on 3, and a bass that holds two beats. */
const starts = [0, 1, 2, 3, 4].map((bar) => bar * BAR);
const bytes = writeMidiFile(
  fileOf(
    [
      meta(0, META.tempo, 7, 0xa1, 0x20),
      meta(0, META.meter, 4, 2, 24, 8),
      meta(2 * BAR, META.marker, ...writeText("Verse")),
      meta(4 * BAR, META.meter, 3, 2, 24, 8),
    ],
    starts.flatMap((tick) => [...note(Math.max(0, tick - 12), 36, 100), ...note(tick + 960, 38)]),
    starts.flatMap((tick) => [channel(tick, 0x90, 33, 80), channel(tick + 960, 0x80, 33, 64)]),
  ),
);
const { file } = readMidiFile(bytes);
const { pattern } = importTake(bytes, GENERAL_MIDI);
const at = ({ ppq, meters }: Pattern, tick: number) => formatBarBeat(buildMeterMap(ppq, meters), tick);
const placeOf = ({ pinnedTick, recordedTick }: Hit) => pinnedTick ?? recordedTick ?? 0;
const kicks = ({ hits }: Pattern) => hits.filter(({ voiceId }) => voiceId === "kick").map(placeOf);
const basses = (take: Pattern) => readTones(file, take, 1).map(({ startTick }) => startTick);
const bars = (first: number, end: number) => ({ startTick: first * BAR, endTick: end * BAR });
const after = (take: Pattern, edit: Parameters<typeof applyEdit>[1]) => applyEdit(take, edit);

describe("bars that are put in", () => {
  it("move everything behind them: hits with those played ahead, other tracks, markers, meters", () => {
    const grown = after(pattern, insertBars(pattern, 2 * BAR, bars(0, 2)));
    expect(kicks(grown)).toEqual([0, BAR - 12, 4 * BAR - 12, 5 * BAR - 12, 6 * BAR - 12]);
    expect(basses(grown)).toEqual([0, BAR, 4 * BAR, 5 * BAR, 6 * BAR]);
    expect(readMarkers(file, grown)).toEqual([{ tick: 4 * BAR, text: "Verse" }]);
    expect(grown.meters).toEqual([
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: 6 * BAR, numerator: 3, denominator: 4 },
    ]);
    expect(grown.lengthTicks).toBe(pattern.lengthTicks + 2 * BAR);
  });

  it("have the meter of the bars that they are like", () => {
    const grown = after(pattern, insertBars(pattern, BAR, { startTick: 4 * BAR, endTick: 4 * BAR + 1440 }));
    expect(grown.meters).toEqual([
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: BAR, numerator: 3, denominator: 4 },
      { tick: BAR + 1440, numerator: 4, denominator: 4 },
      { tick: 4 * BAR + 1440, numerator: 3, denominator: 4 },
    ]);
    expect(kicks(grown).map((tick) => at(grown, tick + 12))).toEqual(["1:1:12", "3:1:0", "4:1:0", "5:1:0", "6:1:0"]);
  });

  it("go out with the file, and the file that is written has them", () => {
    const grown = after(pattern, insertBars(pattern, 2 * BAR, bars(0, 1)));
    const written = importTake(exportTake(bytes, grown), GENERAL_MIDI).pattern;
    expect(written.hits.map(placeOf)).toEqual(grown.hits.map(placeOf));
    expect(written.meters).toEqual(grown.meters);
    expect(
      readTones(readMidiFile(exportTake(bytes, grown)).file, written, 1).map(({ startTick }) => startTick),
    ).toEqual(basses(grown));
  });

  it("are played by a pattern that goes right over them, and move those behind", () => {
    const arrangement = cutInto(
      NO_ARRANGEMENT,
      cutsEvery(5, 2),
      (() => {
        let id = 0;
        return () => `id ${id++}`;
      })(),
    );
    const cut = { ...pattern, arrangement };
    const inside = after(cut, insertBars(cut, BAR, bars(0, 1)));
    expect(inside.arrangement!.patterns.map((one) => one.bars)).toEqual([[0, 1, 2], [3, 4], [5]]);
    const between = after(cut, insertBars(cut, 2 * BAR, bars(0, 1)));
    expect(between.arrangement!.patterns.map((one) => one.bars)).toEqual([[0, 1], [3, 4], [5]]);
    const without = after(cut, removeBarsOf(cut, bars(1, 4)));
    expect(without.arrangement!.patterns.map((one) => one.bars)).toEqual([[0], [1]]);
    expect(without.arrangement!.song).toHaveLength(2);
  });

  it("move what is set for a stretch", () => {
    const [lane] = pattern.lanes;
    const stretched: Pattern = {
      ...pattern,
      lanes: [
        {
          ...lane!,
          treatment: {
            ...lane!.treatment,
            timing: {
              ...lane!.treatment.timing,
              exceptions: [
                { ...bars(0, 2), strengthPercent: 10 },
                { ...bars(2, 3), strengthPercent: 20 },
              ],
            },
          },
        },
        ...pattern.lanes.slice(1),
      ],
    };
    const grown = after(stretched, insertBars(stretched, 2 * BAR, bars(0, 1)));
    expect(grown.lanes[0]!.treatment.timing.exceptions).toEqual([
      { ...bars(0, 2), strengthPercent: 10 },
      { ...bars(3, 4), strengthPercent: 20 },
    ]);
    const shrunk = after(stretched, removeBarsOf(stretched, bars(1, 3)));
    expect(shrunk.lanes[0]!.treatment.timing.exceptions).toEqual([{ ...bars(0, 1), strengthPercent: 10 }]);
  });
});

describe("bars that are taken out", () => {
  it("go with their hits and with the notes of other tracks", () => {
    const shrunk = after(pattern, removeBarsOf(pattern, bars(1, 3)));
    expect(kicks(shrunk)).toEqual([0, BAR - 12, 2 * BAR - 12]);
    expect(basses(shrunk)).toEqual([0, BAR, 2 * BAR]);
    expect(readMarkers(file, shrunk)).toEqual([]);
    expect(shrunk.meters).toEqual([
      { tick: 0, numerator: 4, denominator: 4 },
      { tick: 2 * BAR, numerator: 3, denominator: 4 },
    ]);
    const { tracks } = readMidiFile(exportTake(bytes, shrunk)).file;
    expect(tracks[2]!.messages.filter((one) => one.kind === "channel")).toHaveLength(6);
  });
});

describe("bars, put in and taken out in any order", () => {
  const change = fc.record({
    isInsertion: fc.boolean(),
    bar: fc.integer({ min: 0, max: 4 }),
    count: fc.integer({ min: 1, max: 2 }),
  });
  const changed = (
    take: Pattern,
    { isInsertion, bar, count }: { isInsertion: boolean; bar: number; count: number },
  ) => {
    const meterMap = buildMeterMap(take.ppq, take.meters);
    const all = barsIn(meterMap, { startTick: 0, endTick: take.lengthTicks });
    const first = all[Math.min(bar, all.length - 1)]!;
    const last = all[Math.min(bar + count, all.length) - 1]!;
    const range = { startTick: first.startTick, endTick: last.endTick };
    if (isInsertion) return insertBars(take, first.startTick, range);
    return range.startTick === 0 && range.endTick >= take.lengthTicks ? null : removeBarsOf(take, range);
  };

  it("lose no hit but those in the bars that go, keep hits at their places in their bars, and are undone whole", () => {
    fc.assert(
      fc.property(fc.array(change, { maxLength: 6 }), (changes) => {
        let take = pattern;
        for (const one of changes) {
          const edit = changed(take, one);
          if (!edit) continue;
          const next = applyEdit(take, JSON.parse(JSON.stringify(edit)));
          expect(applyEdit(next, invertEdit(edit))).toEqual(take);
          const removed =
            edit.kind === "together" ? edit.edits.flatMap((e) => (e.kind === "removeHits" ? e.hits : [])) : [];
          expect(next.hits.length).toBe(take.hits.length - removed.length);
          // Snares are on their third beat, whatever comes and goes; in a bar of three it is the last.
          for (const hit of next.hits.filter(({ voiceId }) => voiceId === "snare")) {
            expect(at(next, placeOf(hit))).toMatch(/:3:0$/);
          }
          take = next;
        }
      }),
      { numRuns: 200 },
    );
  });

  it("hold for hits that are pinned, and for what is played into bars that were put in", () => {
    const grown = after(pattern, insertBars(pattern, BAR, bars(0, 1)));
    const played: Hit = {
      ...pattern.hits[0]!,
      id: "played",
      pass: 1,
      recordedTick: BAR + 480,
      inFile: { tick: BAR + 480, since: 1, shutTicks: null, chokedTicks: null },
    };
    const pinned: Hit = {
      ...pattern.hits[0]!,
      id: "drawn",
      recordedTick: null,
      recordedVelocity: null,
      pinnedTick: BAR + 960,
      pinnedVelocity: 90,
    };
    const withBoth = after(grown, { kind: "addHits", hits: [played, pinned] });
    const placesOf = (take: Pattern) => take.hits.filter(({ id }) => id === "played" || id === "drawn").map(placeOf);
    expect(placesOf(after(withBoth, insertBars(withBoth, 0, bars(0, 1))))).toEqual([2 * BAR + 480, 2 * BAR + 960]);
    expect(placesOf(after(withBoth, insertBars(withBoth, 2 * BAR, bars(0, 1))))).toEqual([BAR + 480, BAR + 960]);
    expect(placesOf(after(withBoth, removeBarsOf(withBoth, bars(0, 1))))).toEqual([480, 960]);
    expect(placesOf(after(withBoth, removeBarsOf(withBoth, bars(1, 2))))).toEqual([]);
  });

  it("are whole", () => {
    const meterMap = buildMeterMap(480, pattern.meters);
    expect(wholeBars(meterMap, { startTick: 100, endTick: BAR + 1 })).toEqual(bars(0, 2));
    expect(wholeBars(meterMap, { startTick: BAR, endTick: 2 * BAR })).toEqual(bars(1, 2));
  });
});
