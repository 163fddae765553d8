import { describe, expect, it } from "vitest";
import { mendLengths, unmendLengths } from "../commands/index.ts";
import { applyEdit, differencesBetween, editBetween, invertEdit } from "../document/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { type MidiMessage, readMidiFile, writeMidiFile } from "../smf/index.ts";
import { exportTake, findLengthFaults, importTake } from "./index.ts";

const on = (tick: number, data1: number): MidiMessage => ({ kind: "channel", tick, status: 0x99, data1, data2: 90 });
const off = (tick: number, data1: number): MidiMessage => ({ kind: "channel", tick, status: 0x89, data1, data2: 64 });
const SNARE = 38;
const KICK = 36;

/** At 120 bpm and 480 ticks a quarter, five seconds are 4800 ticks. */
const bytes = writeMidiFile({
  format: 0,
  division: { kind: "ppq", ppq: 480 },
  headerExtra: new Uint8Array(0),
  unknownChunks: [],
  tracks: [
    {
      messages: [
        on(0, SNARE), // good
        off(60, SNARE),
        on(480, SNARE), // ends as it begins
        off(480, SNARE),
        on(960, KICK), // held for more than five seconds
        on(1000, SNARE), // still sounds when the next begins
        on(1030, SNARE),
        off(1090, SNARE),
        off(1100, SNARE),
        off(6000, KICK),
        on(6240, SNARE), // never ends
        { kind: "meta", tick: 7680, metaType: 0x2f, data: new Uint8Array(0) },
      ],
    },
  ],
});
const { file } = readMidiFile(bytes);
const { pattern } = importTake(bytes, GENERAL_MIDI);
const faults = findLengthFaults(file, pattern);

/** Pairs of start and end of a key, in the order of the file; an end that is not there is null. */
function notesOf(exported: Uint8Array, key: number): [number, number | null][] {
  const notes: [number, number | null][] = [];
  for (const message of readMidiFile(exported).file.tracks[0]!.messages) {
    if (message.kind !== "channel" || message.data1 !== key) continue;
    if (message.status >> 4 === 9) notes.push([message.tick, null]);
    else {
      const open = notes.find(([, end]) => end === null);
      if (open) open[1] = message.tick;
    }
  }
  return notes;
}

describe("the length of a drum note", () => {
  it("is at fault if it never ends, ends as it begins, is held too long, or runs into the next", () => {
    expect(faults.map(({ kind, mendedTicks }) => [kind, mendedTicks])).toEqual([
      ["zeroLength", 60],
      ["overlong", 60],
      ["overlapping", 30],
      ["hanging", 60],
    ]);
  });

  it("is mended in what goes out, and nothing else of it changes", () => {
    expect(notesOf(bytes, SNARE).at(-1)).toEqual([6240, null]);
    const mended = applyEdit(pattern, mendLengths(pattern, faults));
    const out = exportTake(bytes, mended);
    expect(notesOf(out, SNARE)).toEqual([
      [0, 60],
      [480, 540],
      [1000, 1030],
      [1030, 1100],
      [6240, 6300],
    ]);
    expect(notesOf(out, KICK)).toEqual([[960, 1020]]);
    expect(exportTake(bytes, pattern)).toEqual(bytes);
  });

  it("is mended once, one note or all, taken back, and given back as in the file", () => {
    const edit = mendLengths(pattern, faults.slice(0, 1));
    const mended = applyEdit(pattern, edit);
    expect(findLengthFaults(file, mended)).toHaveLength(faults.length - 1);
    expect(applyEdit(mended, invertEdit(edit))).toEqual(pattern);
    expect(applyEdit(mended, unmendLengths(mended.hits))).toEqual(pattern);
    expect(applyEdit(mended, editBetween(mended, pattern))).toEqual(pattern);
    expect(differencesBetween(pattern, mended).hits.map(({ how }) => how)).toEqual([["length"]]);
  });
});
