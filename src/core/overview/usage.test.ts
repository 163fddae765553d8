import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { entryOf } from "../document/index.ts";
import { importTake, readTones } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { readMidiFile } from "../smf/index.ts";
import { hitAt, patternOf } from "../testing/patterns.ts";
import { buildMeterMap, formatBarBeat, parseBarBeat } from "../time/index.ts";
import { PLACES, usageOf } from "./index.ts";

describe("how often a note comes in", () => {
  it("is counted by entry and by place, with the reach of the pedal, and apart for notes without a name", () => {
    const hits = [
      hitAt(0, { pedal: 20 }),
      hitAt(7679, { id: "b", pedal: 100 }),
      hitAt(960, { id: "c", note: 3, voiceId: "note-3", articulationId: "unnamed" }),
      hitAt(960, { id: "d", recordedTick: null, recordedVelocity: null, pinnedTick: 960 }),
    ];
    const { byEntry, withoutName } = usageOf(patternOf(hits));
    const snare = byEntry.get(entryOf(GENERAL_MIDI, { note: 38, channel: 9, pedal: null })!)!;
    expect(snare).toMatchObject({ hitCount: 2, pedal: { lowest: 20, highest: 100 } });
    expect([snare.perPlace[0], snare.perPlace[PLACES - 1]]).toEqual([1, 1]);
    expect([...withoutName].map(([note, { hitCount, pedal }]) => [note, hitCount, pedal])).toEqual([[3, 1, null]]);
    expect(usageOf(patternOf([])).byEntry.size).toBe(0);
  });
});

describe("the notes of a track that is not drums", () => {
  it("are those of its own stream, as long as they are held", () => {
    const bytes = new Uint8Array(readFileSync("demo/ferry-lights.mid"));
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const { file } = readMidiFile(bytes);
    const bass = pattern.streams.findIndex(({ isDrums }) => !isDrums);
    const tones = readTones(file, pattern, bass);
    expect(tones).toHaveLength(pattern.streams[bass]!.noteCount);
    expect(tones.every(({ lengthTicks, velocity }) => lengthTicks > 0 && velocity > 0)).toBe(true);
    expect(readTones(file, pattern, 99)).toEqual([]);
  });
});

describe("a place that is typed", () => {
  const map = buildMeterMap(480, [
    { tick: 0, numerator: 6, denominator: 8 },
    { tick: 2880, numerator: 4, denominator: 4 },
  ]);

  it("is the inverse of how places are said", () => {
    for (const tick of [0, 1, 719, 720, 1440, 2879, 2880, 3360, 9000]) {
      expect(parseBarBeat(map, formatBarBeat(map, tick))).toBe(tick);
    }
    expect(parseBarBeat(map, " 2 ")).toBe(1440);
    expect(parseBarBeat(map, "3:2")).toBe(3360);
  });

  it("is refused when the bar has no such beat, or it is no place at all", () => {
    for (const text of ["1:3", "0", "3:5", "x", "", "-1", "1:1:1:1"]) expect(parseBarBeat(map, text)).toBeNull();
  });
});
