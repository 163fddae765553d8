import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, type NoteLengths, type Pattern, USUAL_LENGTHS } from "../document/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { NO_END, pairNotes, readMidiFile, writeMidiFile } from "../smf/index.ts";
import { channel, fileOf, note } from "../testing/midi.ts";
import { exportTake, importTake } from "./index.ts";

const [SNARE, CRASH] = [38, 49];
const struck = (tick: number, key: number, lengthTicks: number) => note(tick, key, 90, lengthTicks);

/** At 120 bpm and 480 ticks a quarter, a millisecond is 0.96 ticks. */
const bytes = writeMidiFile(
  fileOf([
    ...struck(0, SNARE, 40),
    ...struck(240, SNARE, 40),
    ...struck(960, SNARE, 100),
    // A hand stops the crash after 200 ticks.
    ...struck(0, CRASH, 900),
    channel(200, 0xa9, CRASH, 127),
  ]),
);
const { pattern } = importTake(bytes, GENERAL_MIDI);

const withLengths = (take: Pattern, lengths: Partial<NoteLengths>): Pattern =>
  applyEdit(take, {
    kind: "setTreatments",
    changes: take.lanes.map(({ voiceId, treatment }) => ({
      voiceId,
      from: treatment,
      to: { ...treatment, lengths: { ...USUAL_LENGTHS, ...lengths } },
    })),
  });

/** Onset and length of the notes of a key, as they are written. */
function written(take: Pattern, note: number): readonly (readonly [tick: number, ticks: number])[] {
  const { messages } = readMidiFile(exportTake(bytes, take)).file.tracks[0]!;
  return [...pairNotes(messages)].flatMap((end, on) => {
    const message = messages[on]!;
    return message.kind === "channel" && message.data1 === note && end !== NO_END
      ? [[message.tick, messages[end]!.tick - message.tick] as const]
      : [];
  });
}

describe("lengths of notes", () => {
  it("are as recorded, byte for byte, where nothing is said of them", () => {
    expect(exportTake(bytes, pattern)).toEqual(bytes);
  });

  it("are fixed, but end before the next of their key and where a hand stops the cymbal", () => {
    expect(written(withLengths(pattern, { mode: "fixed", fixedMs: 50 }), SNARE)).toEqual([
      [0, 48],
      [240, 48],
      [960, 48],
    ]);
    const long = withLengths(pattern, { mode: "fixed", fixedMs: 1000 });
    expect(written(long, SNARE)).toEqual([
      [0, 240],
      [240, 720],
      [960, 960],
    ]);
    expect(written(long, CRASH)).toEqual([[0, 200]]);
  });

  it("go up to the next hit of the drum; the last one is as recorded", () => {
    expect(written(withLengths(pattern, { mode: "next" }), SNARE)).toEqual([
      [0, 240],
      [240, 720],
      [960, 100],
    ]);
  });

  it("are scaled from what was recorded", () => {
    expect(written(withLengths(pattern, { mode: "scaled", scalePercent: 150 }), SNARE)).toEqual([
      [0, 60],
      [240, 60],
      [960, 150],
    ]);
  });

  it("lie by chance between two, the same for the same seed", () => {
    const random = (seed: number) =>
      written(withLengths(pattern, { mode: "random", fromMs: 100, toMs: 50, seed }), SNARE).map(([, ticks]) => ticks);
    for (const ticks of random(1)) {
      expect(ticks).toBeGreaterThanOrEqual(48);
      expect(ticks).toBeLessThanOrEqual(96);
    }
    expect(random(1)).toEqual(random(1));
    expect(random(1)).not.toEqual(random(2));
  });

  it("hold for hits that were added and for notes that never ended, and leave none that hangs or overlaps", () => {
    const lengths = fc.record<NoteLengths>({
      mode: fc.constantFrom("fixed", "next", "scaled", "random"),
      fixedMs: fc.integer({ min: 1, max: 3000 }),
      scalePercent: fc.integer({ min: 1, max: 1000 }),
      fromMs: fc.integer({ min: 1, max: 3000 }),
      toMs: fc.integer({ min: 1, max: 3000 }),
      seed: fc.nat(),
    });
    const [like] = pattern.hits.filter(({ note }) => note === SNARE);
    fc.assert(
      fc.property(lengths, fc.uniqueArray(fc.integer({ min: 0, max: 1900 }), { maxLength: 12 }), (set, ticks) => {
        const free = ticks.filter((tick) => ![0, 240, 960].includes(tick));
        const hits = free.map((tick) => ({
          ...like!,
          id: `new ${tick}`,
          recordedTick: null,
          recordedVelocity: null,
          pinnedTick: tick,
          pinnedVelocity: 80,
        }));
        const take = withLengths(applyEdit(pattern, { kind: "addHits", hits }), set);
        const notes = written(take, SNARE).toSorted(([a], [b]) => a - b);
        expect(notes).toHaveLength(3 + free.length);
        for (const [index, [tick, ticksLong]] of notes.entries()) {
          expect(ticksLong).toBeGreaterThanOrEqual(1);
          const nextTick = notes[index + 1]?.[0] ?? Number.POSITIVE_INFINITY;
          if (set.mode !== "scaled" || set.scalePercent !== 100) expect(tick + ticksLong).toBeLessThanOrEqual(nextTick);
        }
      }),
    );
  });
});
