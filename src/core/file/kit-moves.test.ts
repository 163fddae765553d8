import { describe, expect, it } from "vitest";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { type ChannelMessage, type MidiMessage, readMidiFile, writeMidiFile } from "../smf/index.ts";
import { importTake, readKitMoves } from "./index.ts";

const PPQ = 240;
const at = (tick: number, status: number, data1: number, data2: number): ChannelMessage => ({
  kind: "channel",
  tick,
  status,
  data1,
  data2,
});
const strike = (tick: number, note: number): MidiMessage[] => [at(tick, 0x99, note, 90), at(tick + 20, 0x89, note, 0)];

function takeOf(...tracks: readonly (readonly MidiMessage[])[]) {
  const ended = tracks.map((messages) => ({ messages: messages.toSorted((a, b) => a.tick - b.tick) }));
  const bytes = writeMidiFile({
    format: 1,
    division: { kind: "ppq", ppq: PPQ },
    tracks: ended,
    unknownChunks: [],
    headerExtra: new Uint8Array(),
  });
  return { file: readMidiFile(bytes).file, pattern: importTake(bytes, GENERAL_MIDI).pattern };
}

describe("what a kit sends between its strokes", () => {
  it("is the pedal by stream, and hands by the stroke that they press, in ticks of the pattern", () => {
    const { file, pattern } = takeOf([
      ...strike(0, 42),
      at(30, 0xb9, 4, 50),
      ...strike(240, 49),
      at(300, 0xa9, 49, 127),
      at(310, 0xa9, 51, 99),
      at(360, 0xa9, 49, 0),
      at(400, 0xb9, 4, 127),
      at(410, 0xb9, 7, 100),
    ]);
    expect(pattern.ppq).toBe(480);
    const { pedals, hands } = readKitMoves(file, pattern);
    expect([...pedals]).toEqual([
      [
        0,
        [
          { tick: 60, value: 50 },
          { tick: 800, value: 127 },
        ],
      ],
    ]);
    const crash = pattern.hits.find(({ note }) => note === 49)!;
    expect([...hands]).toEqual([
      [
        crash.id,
        [
          { tick: 120, value: 127 },
          { tick: 240, value: 0 },
        ],
      ],
    ]);
  });

  it("finds a pedal that is on another track than its strokes, and nothing on channels without drums", () => {
    const { file, pattern } = takeOf(
      [...strike(0, 42), ...strike(240, 38)],
      [at(90, 0xb9, 4, 30), at(50, 0xb9, 4, 20)],
      [at(0, 0x90, 60, 80), at(10, 0xb0, 4, 99), at(20, 0xa0, 60, 99), at(400, 0x80, 60, 0)],
    );
    const { pedals, hands } = readKitMoves(file, pattern);
    expect([...pedals.values()].map((moves) => moves.map(({ value }) => value))).toEqual([[20, 30]]);
    expect(hands.size).toBe(0);
  });

  it("is as a hand has left it", () => {
    const { file, pattern } = takeOf([...strike(0, 42), at(30, 0xb9, 4, 50), at(60, 0xb9, 4, 70)]);
    const [first, second] = file.tracks[0]!.messages.flatMap((message, index) =>
      message.kind === "channel" && message.status === 0xb9 ? [index] : [],
    );
    const changed = {
      ...pattern,
      changedMessages: { [`0:${first}`]: null, [`0:${second}`]: { tick: 200, bytes: [0xb9, 4, 71] } },
    };
    expect([...readKitMoves(file, changed).pedals.values()]).toEqual([[{ tick: 200, value: 71 }]]);
  });
});
