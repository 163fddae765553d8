import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { importTake } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { META, type MidiMessage, readMidiFile, writeMidiFile, writeText } from "../smf/index.ts";
import {
  bytesOf,
  fieldsOf,
  filterMessages,
  findRowAt,
  messageAt,
  NO_FILTER,
  readFields,
  tabulateMessages,
} from "./index.ts";

const channel = (status: number, data1: number, data2 = 0, tick = 0): MidiMessage => ({
  kind: "channel",
  tick,
  status,
  data1,
  data2,
});
const meta = (metaType: number, data: Uint8Array | number[], tick = 0): MidiMessage => ({
  kind: "meta",
  tick,
  metaType,
  data: Uint8Array.from(data),
});
const typedOf = (message: MidiMessage, isHit = false) =>
  Object.fromEntries(fieldsOf(message, isHit).map(({ id, value }) => [id, value]));

const sevenBits = fc.integer({ min: 0, max: 127 });
const anyChannel = fc
  .tuple(fc.integer({ min: 0x80, max: 0xef }), sevenBits, sevenBits)
  .map(([status, data1, data2]) => channel(status, data1, status >> 4 === 0xc || status >> 4 === 0xd ? 0 : data2));

describe("the fields of a message", () => {
  it("give back the same bytes when nothing is typed, for every channel message", () => {
    fc.assert(
      fc.property(anyChannel, (message) => {
        expect(readFields(message, false, typedOf(message))).toEqual(bytesOf(message));
      }),
      { numRuns: 500 },
    );
  });

  it("give back the same bytes of texts, bytes and whole tempos", () => {
    for (const message of [
      meta(META.marker, writeText("Verse, “take 2”")),
      meta(META.meter, [7, 3, 24, 8]),
      meta(META.smpteOffset, [1, 2, 3, 4, 5]),
      meta(META.tempo, [0x07, 0xa1, 0x20]),
      { kind: "sysex", tick: 0, status: 0xf0, data: Uint8Array.of(0x43, 0x10, 0xf7) } as const,
    ]) {
      expect(readFields(message, false, typedOf(message))).toEqual(bytesOf(message));
    }
  });

  it("change what is typed, counted as people count", () => {
    expect(readFields(channel(0xb9, 4, 90), false, { channel: "1", data1: "4", data2: "12" })).toEqual([0xb0, 4, 12]);
    expect(readFields(channel(0xc9, 3), false, { channel: "10", program: "1" })).toEqual([0xc9, 0]);
    expect(readFields(channel(0xe0, 0, 64), false, { channel: "1", bend: "-8192" })).toEqual([0xe0, 0, 0]);
    expect(readFields(meta(META.tempo, [7, 0xa1, 0x20]), false, { bpm: "60" })).toEqual([0x0f, 0x42, 0x40]);
    expect(readFields(meta(META.meter, [4, 2, 24, 8]), false, { numerator: "6", denominator: "8" })).toEqual([
      6, 3, 24, 8,
    ]);
    expect(readFields(channel(0x99, 38, 90), true, { data2: "33" })).toEqual([0x99, 38, 33]);
  });

  it("refuse what no message can hold, in a sentence", () => {
    expect(readFields(channel(0x99, 38, 90), true, { data2: "0" })).toBe("Velocity goes from 1 to 127.");
    expect(readFields(channel(0xb9, 4, 90), false, { data2: "1.5" })).toBe("Value goes from 0 to 127.");
    expect(readFields(meta(META.meter, [4, 2]), false, { numerator: "4", denominator: "5" })).toContain("1, 2, 4, 8");
    expect(readFields(meta(META.smpteOffset, [1]), false, { hex: "1G" })).toBe(
      "“1G” is no byte. Bytes are written from 00 to FF.",
    );
  });
});

describe("narrowing the list", () => {
  const messages: MidiMessage[] = [
    channel(0xb9, 4, 10),
    channel(0x99, 36, 90, 10),
    channel(0x89, 36, 64, 40),
    channel(0x99, 38, 90, 480),
    channel(0x89, 38, 64, 500),
    channel(0x90, 60, 80, 480),
    channel(0x80, 60, 64, 960),
  ];
  const file = {
    format: 0 as const,
    division: { kind: "ppq" as const, ppq: 480 },
    tracks: [{ messages: messages.toSorted((a, b) => a.tick - b.tick) }],
    unknownChunks: [],
    headerExtra: new Uint8Array(0),
  };
  const bytes = writeMidiFile(file);
  const { pattern } = importTake(bytes, GENERAL_MIDI);
  const table = tabulateMessages(readMidiFile(bytes).file, pattern);
  const ticksOf = (more: Partial<typeof NO_FILTER>) =>
    [...filterMessages(table, { ...NO_FILTER, ...more })].map((row) => messageAt(table, row).tick);

  it("lets everything through, or what is of a kind, a channel, a drum and a place", () => {
    expect(ticksOf({})).toHaveLength(table.count);
    expect(ticksOf({ kind: "note" })).toEqual([10, 480, 480]);
    expect(ticksOf({ kind: "controller" })).toEqual([0]);
    expect(ticksOf({ channel: 0 })).toEqual([480, 960]);
    const snare = pattern.lanes.findIndex(({ voiceId }) => voiceId === "snare");
    expect(ticksOf({ laneIndex: snare })).toEqual([480, 500]);
    expect(ticksOf({ fromTick: 40, toTick: 480 })).toEqual([40]);
    expect(ticksOf({ trackIndex: 3 })).toEqual([]);
  });

  it("finds the last row at or before a tick", () => {
    const rows = filterMessages(table, NO_FILTER);
    expect(findRowAt(table, rows, -1)).toBe(-1);
    expect(table.ticks[rows[findRowAt(table, rows, 45)]!]).toBe(40);
    expect(findRowAt(table, rows, 1e9)).toBe(rows.length - 1);
    expect(findRowAt(table, new Uint32Array(0), 5)).toBe(-1);
  });
});
