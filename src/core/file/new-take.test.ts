import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { writeStrokes } from "../commands/index.ts";
import { applyEdit } from "../document/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { isNoteOn, META, readMidiFile, writeMidiFile } from "../smf/index.ts";
import { barByIndex, buildMeterMap } from "../time/index.ts";
import { exportTake, faultOfNewTake, NEW_TAKE_DENOMINATORS, NEW_TAKE_LIMITS, newTake, readTimes } from "./index.ts";

const wish = fc.record({
  tempoBpm: fc.integer({ min: NEW_TAKE_LIMITS.tempoBpm.min, max: NEW_TAKE_LIMITS.tempoBpm.max }),
  numerator: fc.integer({ min: NEW_TAKE_LIMITS.numerator.min, max: NEW_TAKE_LIMITS.numerator.max }),
  denominator: fc.constantFrom(...NEW_TAKE_DENOMINATORS),
  bars: fc.integer({ min: NEW_TAKE_LIMITS.bars.min, max: NEW_TAKE_LIMITS.bars.max }),
});

describe("a take from nothing", () => {
  it("has the bars, the meter and the tempo that were wished for, in the file as in the pattern", () => {
    fc.assert(
      fc.property(wish, (take) => {
        expect(faultOfNewTake(take)).toBeNull();
        const { file, pattern } = newTake(take, GENERAL_MIDI);
        const meterMap = buildMeterMap(pattern.ppq, pattern.meters);
        expect(barByIndex(meterMap, take.bars - 1).endTick).toBe(pattern.lengthTicks);
        expect(60_000_000 / pattern.tempos[0]!.usPerQuarter).toBeCloseTo(take.tempoBpm, 2);
        const { file: read, notices } = readMidiFile(writeMidiFile(file));
        expect(notices).toEqual([]);
        expect(readTimes(read)).toEqual({ meters: pattern.meters, tempos: pattern.tempos });
        expect(read.tracks[0]!.messages.at(-1)).toMatchObject({ metaType: META.endOfTrack, tick: pattern.lengthTicks });
      }),
    );
  });

  it("has a lane for each drum of an ordinary kit, in the order of its map", () => {
    const { pattern } = newTake({ tempoBpm: 120, numerator: 4, denominator: 4, bars: 2 }, GENERAL_MIDI);
    expect(pattern.lanes.map(({ voiceId }) => voiceId)).toEqual([
      "crash",
      "ride",
      "hat",
      "snare",
      "tom-2",
      "tom-5",
      "kick",
    ]);
  });

  it("is exported with what was written on it, past its end, too", () => {
    const { file, pattern } = newTake({ tempoBpm: 96, numerator: 7, denominator: 8, bars: 1 }, GENERAL_MIDI);
    let next = 0;
    const strokes = [0, 480, 5000].map((tick) => ({ voiceId: "kick", articulationId: "main", tick, velocity: 90 }));
    const written = applyEdit(
      pattern,
      writeStrokes(pattern, strokes, () => `n${next++}`),
    );
    const { file: out } = readMidiFile(exportTake(writeMidiFile(file), written));
    const ons = out.tracks.flatMap(({ messages }) => messages.filter(isNoteOn));
    expect(ons.map(({ tick, data1, status }) => [tick, data1, status & 15])).toEqual([
      [0, 36, 9],
      [480, 36, 9],
      [5000, 36, 9],
    ]);
  });

  it("is refused in words where it makes no sense", () => {
    const usual = { tempoBpm: 120, numerator: 4, denominator: 4, bars: 8 };
    expect(faultOfNewTake({ ...usual, tempoBpm: Number.NaN })).toBe("Tempo goes from 20 to 400 bpm.");
    expect(faultOfNewTake({ ...usual, bars: 1.5 })).toBe("Bars goes from 1 to 400.");
    expect(faultOfNewTake({ ...usual, denominator: 3 })).toBe("The lower number of a meter is 2, 4, 8, 16.");
  });
});
