import { describe, expect, it } from "vitest";
import { LONGEST_TAKE_TICKS, MOST_HITS } from "../document/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { MidiFileError, type MidiMessage, writeMidiFile } from "../smf/index.ts";
import { expectManageable } from "./expect-music.ts";
import { importTake } from "./import-take.ts";

const fileOf = (tracks: readonly (readonly MidiMessage[])[]) =>
  writeMidiFile({
    format: 1,
    division: { kind: "ppq", ppq: 480 },
    tracks: tracks.map((messages) => ({ messages })),
    unknownChunks: [],
    headerExtra: new Uint8Array(0),
  });
const END: MidiMessage = { kind: "meta", tick: 0, metaType: 0x2f, data: new Uint8Array(0) };
const codeOf = (make: () => unknown) => {
  try {
    make();
    return "accepted";
  } catch (error) {
    if (!(error instanceof MidiFileError)) throw error;
    return error.code;
  }
};
const importOf = (tracks: readonly (readonly MidiMessage[])[]) => () => importTake(fileOf(tracks), GENERAL_MIDI);
const strike = (tick: number): MidiMessage => ({ kind: "channel", tick, status: 0x99, data1: 38, data2: 90 });

describe("a file", () => {
  it("without tracks or without a message is no music", () => {
    expect(codeOf(importOf([]))).toBe("file.noTracks");
    expect(codeOf(importOf([[END]]))).toBe("file.noMessages");
    expect(codeOf(importOf([[END], [END]]))).toBe("file.noMessages");
  });

  it("with a message and no hit is taken", () => {
    const name: MidiMessage = { kind: "meta", tick: 0, metaType: 3, data: Uint8Array.of(65) };
    expect(codeOf(importOf([[name, END]]))).toBe("accepted");
  });

  it("with more hits, or a later one, than a take can have is refused", () => {
    expect(codeOf(() => expectManageable(MOST_HITS, LONGEST_TAKE_TICKS))).toBe("accepted");
    expect(codeOf(() => expectManageable(MOST_HITS + 1, 0))).toBe("file.tooManyHits");
    // Each delta time fits in the file; one tick a quarter is 480 of ours.
    const far = Array.from({ length: 10 }, (_, turn) => strike(turn * 0x0fffffff));
    expect(codeOf(importOf([far]))).toBe("accepted");
    const coarse = fileOf([far]);
    coarse.set([0, 1], 12);
    expect(codeOf(() => importTake(coarse, GENERAL_MIDI))).toBe("file.tooLong");
  });

  it("with a time base that cannot be says so", () => {
    const bytes = fileOf([[strike(0), END]]);
    bytes.set([0xe7, 0], 12); // 25 frames of no ticks
    expect(importTake(bytes, GENERAL_MIDI).notices.map(({ code }) => code)).toContain("header.division");
    bytes.set([0, 0], 12);
    expect(importTake(bytes, GENERAL_MIDI).notices.map(({ code }) => code)).toContain("header.division");
  });
});
