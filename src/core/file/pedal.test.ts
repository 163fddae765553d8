import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { changeTiming, moveHitsBy, setNoteMap } from "../commands/index.ts";
import { applyEdit, type Pattern } from "../document/index.ts";
import { GENERAL_MIDI, splitByPedal } from "../notemap/index.ts";
import { type MidiMessage, readMidiFile, writeMidiFile } from "../smf/index.ts";
import { channel, fileOf } from "../testing/midi.ts";
import { exportTake, importTake } from "./index.ts";

const pedal = (tick: number, value: number) => channel(tick, 0xb9, 4, value);
const hit = (tick: number, key: number, lengthTicks = 40) => [
  channel(tick, 0x99, key, 90),
  channel(tick + lengthTicks, 0x89, key, 64),
];
const take = (...tracks: MidiMessage[][]) => {
  const bytes = writeMidiFile(fileOf(...tracks));
  return { bytes, pattern: importTake(bytes, GENERAL_MIDI).pattern };
};
const facts = (pattern: Pattern) =>
  pattern.hits.map(({ pedal: place, shutTicks, chokedTicks }) => [place, shutTicks, chokedTicks]);

describe("what surrounds a hit", () => {
  it("is nothing in a take without a pedal", () => {
    expect(facts(take([...hit(0, 42), ...hit(240, 46)]).pattern)).toEqual([
      [null, null, null],
      [null, null, null],
    ]);
  });

  it("is where the pedal was, also when that is said on another track", () => {
    const strokes = [...hit(240, 42), ...hit(480, 42)];
    const moves = [pedal(0, 110), pedal(480, 20)];
    expect(facts(take([...strokes, ...moves]).pattern).map(([place]) => place)).toEqual([110, 110]);
    expect(facts(take(moves, strokes).pattern).map(([place]) => place)).toEqual([110, 20]);
  });

  it("is the foot that shuts open hats, but not one that was down already", () => {
    const { pattern } = take([pedal(0, 10), ...hit(240, 46), pedal(500, 60), pedal(600, 95), ...hit(720, 42)]);
    expect(facts(pattern)).toEqual([
      [10, 360, null],
      [95, null, null],
    ]);
  });

  it("is a hand that chokes, once for each stroke, and no light touch", () => {
    const strokes = [...hit(0, 49), channel(300, 0xa9, 49, 127), channel(320, 0xa9, 49, 127)];
    const touched = [...hit(480, 49), channel(700, 0xa9, 49, 30)];
    expect(facts(take([...strokes, ...touched]).pattern).map(([, , choked]) => choked)).toEqual([300, null]);
  });

  it("is the end of a note only where notes are held as long as they ring", () => {
    const fixed = take([0, 480, 960, 1440].flatMap((tick) => hit(tick, 46, 40)));
    expect(facts(fixed.pattern).every(([, , choked]) => choked === null)).toBe(true);
    const held = take([...hit(0, 46, 30), ...hit(480, 46, 400), ...hit(960, 46, 35), ...hit(1440, 46, 380)]);
    expect(facts(held.pattern).map(([, , choked]) => choked)).toEqual([30, 400, 35, 380]);
  });
});

describe("a pad that the pedal opens", () => {
  const kick = [...hit(0, 36), ...hit(960, 36)];
  const moves = [pedal(10, 100), pedal(230, 20), pedal(470, 60), pedal(710, 120)];
  const { bytes, pattern } = take([...kick, ...moves, ...[20, 250, 490, 730].flatMap((tick) => hit(tick, 42))]);
  const entry = GENERAL_MIDI.entries.find(({ note }) => note === 42)!;
  const split = applyEdit(pattern, setNoteMap(pattern, splitByPedal(GENERAL_MIDI, entry)));
  const strokesOf = (source: Pattern) => source.hits.flatMap((one) => (one.note === 42 ? [one.articulationId] : []));
  const tighten = (source: Pattern) =>
    applyEdit(
      source,
      changeTiming(source, new Set(["hat"]), (timing) => ({
        ...timing,
        isOn: true,
        pocketMs: 0,
        strengthPercent: 100,
        grid: { family: "straight", denominator: 8 },
      })),
    );

  it("plays closed, half open and open, by where the pedal was", () => {
    expect(strokesOf(split)).toEqual(["closed", "open", "half-open", "closed"]);
  });

  it("is unchanged on the way out, byte for byte, while nothing was moved", () => {
    expect(exportTake(bytes, split)).toEqual(bytes);
  });

  it("still plays the same strokes when its hits are pulled ahead of their pedal moves", () => {
    const moved = exportTake(bytes, tighten(split));
    const again = importTake(moved, split.noteMap).pattern;
    expect(again.hits.filter(({ note }) => note === 42).map(({ recordedTick }) => recordedTick)).toEqual([
      0, 240, 480, 720,
    ]);
    expect(strokesOf(again)).toEqual(strokesOf(split));
  });

  it("keeps every stroke however its hits are moved together", () => {
    fc.assert(
      fc.property(fc.integer({ min: -240, max: 900 }), fc.integer({ min: 0, max: 3 }), (delta, from) => {
        const hats = split.hits.filter(({ note }) => note === 42).slice(from);
        const placed = hats.map((one) => ({ hit: one, tick: one.recordedTick! }));
        // What is moved past a stroke that stays would change the order of playing, which no pedal can follow.
        fc.pre(from === 0 || delta > -200);
        const moved = applyEdit(split, moveHitsBy(split, placed, delta));
        const again = importTake(exportTake(bytes, moved), split.noteMap).pattern;
        expect(strokesOf(again)).toEqual(strokesOf(split));
      }),
      { numRuns: 200 },
    );
  });

  it("moves no other controller and no other channel", () => {
    const others = [channel(15, 0xb9, 7, 90), channel(16, 0xb2, 4, 90), channel(17, 0x92, 60, 90)];
    const more = take([...moves, ...others, ...[20, 250, 490, 730].flatMap((tick) => hit(tick, 42))]);
    const messages = readMidiFile(exportTake(more.bytes, tighten(more.pattern))).file.tracks.flatMap(
      (track) => track.messages,
    );
    for (const other of others) expect(messages).toContainEqual(other);
  });

  it("lets a hand that chokes follow its cymbal, onto another note as well", () => {
    const cymbal = take([...hit(0, 36), ...hit(490, 49), channel(600, 0xa9, 49, 127)]);
    const crash = cymbal.pattern.hits.find(({ note }) => note === 49)!;
    const moved = applyEdit(cymbal.pattern, moveHitsBy(cymbal.pattern, [{ hit: crash, tick: 490 }], -10));
    const outgoing = { voiceId: "crash", articulationId: "crash", note: 90, channel: 2 };
    const routed: Pattern = { ...moved, outgoingMap: { ...GENERAL_MIDI, outgoing: [outgoing] } };
    const { messages } = readMidiFile(exportTake(cymbal.bytes, routed)).file.tracks[0]!;
    expect(messages).toContainEqual(channel(480, 0x92, 90, 90));
    expect(messages).toContainEqual(channel(590, 0xa2, 90, 127));
  });
});
