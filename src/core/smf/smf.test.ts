import fc from "fast-check";
import { parseMidi } from "midi-file";
import { describe, expect, it } from "vitest";
import {
  type MidiFile,
  MidiFileError,
  type MidiMessage,
  readMidiFile,
  readText,
  writeMidiFile,
  writeText,
} from "./index.ts";
import { writeVariableLength } from "./variable-length.ts";

const bytesOf = (...parts: (number | string | number[])[]) =>
  Uint8Array.from(
    parts.flatMap((part) =>
      typeof part === "number"
        ? [part]
        : typeof part === "string"
          ? [...part].map((letter) => letter.charCodeAt(0))
          : part,
    ),
  );
const header = (format: number, tracks: number, division: number[] = [0x01, 0xe0]) => [
  ...bytesOf("MThd", [0, 0, 0, 6, 0, format, 0, tracks], division),
];
const track = (...data: number[]) => [...bytesOf("MTrk", [0, 0, data.length >> 8, data.length & 0xff], data)];
const END = [0x00, 0xff, 0x2f, 0x00];

describe("variable-length quantities", () => {
  // The table of the standard's own examples.
  it.each([
    [0x00, [0x00]],
    [0x40, [0x40]],
    [0x7f, [0x7f]],
    [0x80, [0x81, 0x00]],
    [0x2000, [0xc0, 0x00]],
    [0x3fff, [0xff, 0x7f]],
    [0x4000, [0x81, 0x80, 0x00]],
    [0x100000, [0xc0, 0x80, 0x00]],
    [0x1fffff, [0xff, 0xff, 0x7f]],
    [0x200000, [0x81, 0x80, 0x80, 0x00]],
    [0x8000000, [0xc0, 0x80, 0x80, 0x00]],
    [0xfffffff, [0xff, 0xff, 0xff, 0x7f]],
  ])("%i is written as the standard says", (value, expected) => {
    const target = new Uint8Array(4);
    const end = writeVariableLength(target, 0, value);
    expect([...target.subarray(0, end)]).toEqual(expected);
  });
});

describe("reading", () => {
  it("reads running status, and keeps note-on with velocity 0 as it is", () => {
    const bytes = bytesOf(header(0, 1), track(0, 0x99, 36, 100, 10, 36, 0, 0x60, 0x99, 38, 90, ...END));
    const { file, notices } = readMidiFile(bytes);
    expect(notices).toEqual([]);
    expect(file.division).toEqual({ kind: "ppq", ppq: 480 });
    expect(file.tracks[0]!.messages.slice(0, 3)).toEqual([
      { kind: "channel", tick: 0, status: 0x99, data1: 36, data2: 100 },
      { kind: "channel", tick: 10, status: 0x99, data1: 36, data2: 0 },
      { kind: "channel", tick: 106, status: 0x99, data1: 38, data2: 90 },
    ]);
  });

  it("reads film frames as a division", () => {
    const { file } = readMidiFile(bytesOf(header(1, 1, [0xe7, 40]), track(...END)));
    expect(file.division).toEqual({ kind: "smpte", framesPerSecond: 25, ticksPerFrame: 40 });
  });

  it("keeps unknown chunks where they were, and extra header bytes", () => {
    const bytes = bytesOf("MThd", [0, 0, 0, 8, 0, 1, 0, 1, 0, 96, 7, 7], "XYZZ", [0, 0, 0, 2, 5, 6], track(...END));
    const { file, notices } = readMidiFile(bytes);
    expect(notices).toEqual([]);
    expect([...file.headerExtra]).toEqual([7, 7]);
    expect(file.unknownChunks).toEqual([{ id: "XYZZ", data: Uint8Array.of(5, 6), beforeTrackIndex: 0 }]);
    expect(writeMidiFile(file)).toEqual(bytes);
  });

  it("finds the file inside a container", () => {
    const inside = bytesOf(header(0, 1), track(0, 0x99, 36, 100, ...END));
    const { file, notices } = readMidiFile(bytesOf("RIFF", [0, 0, 0, 0], "RMIDdata", [0, 0, 0, 0], [...inside]));
    expect(file.tracks[0]!.messages).toHaveLength(2);
    expect(notices.map(({ code }) => code)).toEqual(["file.wrapped"]);
  });

  it("refuses what is no MIDI file in one sentence", () => {
    const refuse = (bytes: Uint8Array) => {
      try {
        readMidiFile(bytes);
      } catch (error) {
        if (error instanceof MidiFileError) return error;
        throw error;
      }
      throw new Error("It was read.");
    };
    expect(refuse(bytesOf("PK just a text")).message).toBe("This is not a MIDI file: it has no MIDI header.");
    expect(refuse(new Uint8Array(0)).message).toBe("This file is empty.");
    expect(refuse(bytesOf("MThd", [0, 0, 0])).code).toBe("file.notMidi");
  });
});

describe("reading damage", () => {
  it("keeps the messages before the place where a track breaks off", () => {
    const whole = bytesOf(header(0, 1), track(0, 0x99, 36, 100, 10, 38, 90, 10, 42, 80, ...END));
    const { file, notices } = readMidiFile(whole.subarray(0, whole.length - 6));
    expect(file.tracks[0]!.messages).toHaveLength(2);
    expect(notices[0]).toMatchObject({ code: "track.cutShort", byteOffset: 29 });
    expect(notices[0]!.message).toBe(
      "Track 1 breaks off at byte 29, 6 bytes short of its header. The 2 messages before that point were kept.",
    );
  });

  it("reads a track that is longer than its header says, and the one after it", () => {
    const long = track(0, 0x99, 36, 100, 10, 38, 90, ...END);
    long[7] = 5;
    const { file, notices } = readMidiFile(bytesOf(header(1, 2), long, track(0, 0x99, 42, 70, ...END)));
    expect(file.tracks.map(({ messages }) => messages.length)).toEqual([3, 2]);
    expect(notices.map(({ code }) => code)).toEqual(["track.length"]);
  });

  it("finds the next track inside one whose header claims too much", () => {
    const greedy = track(0, 0x99, 36, 100, ...END);
    greedy[6] = 1;
    const { file, notices } = readMidiFile(bytesOf(header(1, 2), greedy, track(0, 0x99, 42, 70, ...END)));
    expect(file.tracks).toHaveLength(2);
    expect(notices.map(({ code }) => code)).toContain("track.length");
  });

  it("leaves a track where a time has a fifth byte", () => {
    const { file, notices } = readMidiFile(
      bytesOf(header(0, 1), track(0, 0x99, 36, 100, 0x81, 0x81, 0x81, 0x81, 0, 36, 0)),
    );
    expect(file.tracks[0]!.messages).toHaveLength(1);
    expect(notices[0]).toMatchObject({ code: "track.delta", byteOffset: 26 });
  });

  it("leaves out a message that a status cuts off, and goes on", () => {
    const { file, notices } = readMidiFile(bytesOf(header(0, 1), track(0, 0x99, 36, 0x99, 38, 90, ...END)));
    expect(file.tracks[0]!.messages[0]).toMatchObject({ data1: 38, data2: 90 });
    expect(notices).toEqual([{ code: "message.cutOff", message: expect.any(String), byteOffset: 22 }]);
  });

  it("takes no more memory than the file, whatever lengths it declares", () => {
    const huge = bytesOf(
      header(0, 1),
      "MTrk",
      [0x7f, 0xff, 0xff, 0xff],
      [0, 0xff, 0x01, 0xff, 0xff, 0xff, 0x7f, 65, 66],
    );
    const { file, notices } = readMidiFile(huge);
    expect(file.tracks[0]!.messages).toEqual([]);
    expect(notices.map(({ code }) => code)).toContain("message.cutShort");
  });

  it("limits the notices of a file of noise", () => {
    const noise = Array.from({ length: 5000 }, (_, index) => (index % 2 === 0 ? 0 : 0xf4));
    const { notices } = readMidiFile(bytesOf(header(0, 1), "MTrk", [0, 0, 0x13, 0x88], noise));
    expect(notices.length).toBeLessThanOrEqual(101);
    expect(notices.at(-1)!.code).toBe("file.moreNotices");
  });
});

const byte = fc.integer({ min: 0, max: 127 });
const delta = fc.oneof(fc.integer({ min: 0, max: 400 }), fc.integer({ min: 0, max: 0x0fffffff }));
const payload = fc.uint8Array({ maxLength: 40 });
const message: fc.Arbitrary<MidiMessage> = fc.oneof(
  fc.record({ status: fc.integer({ min: 0x80, max: 0xef }), data1: byte, data2: byte }).map(
    ({ status, data1, data2 }): MidiMessage => ({
      kind: "channel",
      tick: 0,
      status,
      data1,
      data2: status >> 5 === 6 ? 0 : data2,
    }),
  ),
  fc
    .record({ metaType: fc.integer({ min: 0, max: 127 }).filter((type) => type !== 0x2f), data: payload })
    .map((meta): MidiMessage => ({ kind: "meta", tick: 0, ...meta })),
  fc
    .record({ status: fc.constantFrom(0xf0 as const, 0xf7 as const), data: payload })
    .map((sysex): MidiMessage => ({ kind: "sysex", tick: 0, ...sysex })),
);
const messages = fc.array(fc.tuple(delta, message), { maxLength: 60 }).map((steps) => {
  let tick = 0;
  const placed = steps.map(([distance, one]): MidiMessage => {
    tick += distance;
    return { ...one, tick };
  });
  return [...placed, { kind: "meta", tick, metaType: 0x2f, data: new Uint8Array(0) } satisfies MidiMessage];
});
const division = fc.oneof(
  fc.integer({ min: 1, max: 0x7fff }).map((ppq) => ({ kind: "ppq" as const, ppq })),
  fc.record({
    kind: fc.constant("smpte" as const),
    framesPerSecond: fc.constantFrom(24 as const, 25 as const, 29 as const, 30 as const),
    ticksPerFrame: fc.integer({ min: 1, max: 255 }),
  }),
);
const midiFile: fc.Arbitrary<MidiFile> = fc.record({
  format: fc.constantFrom(0 as const, 1 as const, 2 as const),
  division,
  tracks: fc.array(
    messages.map((list) => ({ messages: list })),
    { minLength: 1, maxLength: 4 },
  ),
  unknownChunks: fc.array(
    fc.record({ id: fc.constantFrom("ABCD", "XF0x"), data: payload, beforeTrackIndex: fc.constant(0) }),
    { maxLength: 2 },
  ),
  headerExtra: fc.constant(new Uint8Array(0)),
});

describe("round trip", () => {
  it("gives back every message of every file at its tick", () => {
    fc.assert(
      fc.property(midiFile, (file) => {
        const { file: again, notices } = readMidiFile(writeMidiFile(file));
        expect(notices).toEqual([]);
        expect(again).toEqual(file);
      }),
      { numRuns: 300 },
    );
  });

  it("bridges a silence longer than one delta time can hold", () => {
    const far: MidiMessage = { kind: "channel", tick: 3 * 0x0fffffff + 5, status: 0x99, data1: 36, data2: 1 };
    const file: MidiFile = {
      format: 0,
      division: { kind: "ppq", ppq: 480 },
      tracks: [{ messages: [far] }],
      unknownChunks: [],
      headerExtra: new Uint8Array(0),
    };
    const again = readMidiFile(writeMidiFile(file)).file.tracks[0]!.messages;
    expect(again).toContainEqual(far);
  });

  it("reads the same as an independent codec", () => {
    // The peer refuses meta messages whose length is not the one of their type, so only texts are compared.
    const isPlain = (one: MidiMessage) =>
      one.kind !== "meta" || one.metaType === 0x2f || (one.metaType > 0 && one.metaType < 8);
    const plain = midiFile.map((file) => ({
      ...file,
      unknownChunks: [],
      tracks: file.tracks.map(({ messages: list }) => ({ messages: list.filter(isPlain) })),
    }));
    fc.assert(
      fc.property(plain, (file) => {
        const bytes = writeMidiFile(file);
        const theirs = parseMidi(bytes);
        const ours = readMidiFile(bytes).file;
        expect(theirs.header.format).toBe(ours.format);
        expect(theirs.tracks.length).toBe(ours.tracks.length);
        for (const [index, events] of theirs.tracks.entries()) {
          let tick = 0;
          const theirTicks = events.map((event) => {
            tick += event.deltaTime;
            return tick;
          });
          expect(theirTicks).toEqual(ours.tracks[index]!.messages.map((one) => one.tick));
          const theirNotes = events.flatMap((event) =>
            event.type === "noteOn" ? [[event.channel, event.noteNumber, event.velocity]] : [],
          );
          const ourNotes = ours.tracks[index]!.messages.flatMap((one) =>
            one.kind === "channel" && one.status >> 4 === 9 && one.data2 > 0
              ? [[one.status & 15, one.data1, one.data2]]
              : [],
          );
          expect(theirNotes).toEqual(ourNotes);
        }
      }),
      { numRuns: 150 },
    );
  });
});

describe("fuzzing", () => {
  it("reads or refuses mutated files, never throwing anything else, and what it read can be written", () => {
    fc.assert(
      fc.property(
        midiFile,
        fc.array(fc.tuple(fc.nat(), byte, fc.boolean()), { minLength: 1, maxLength: 12 }),
        fc.nat(),
        (file, changes, cut) => {
          const bytes = Uint8Array.from(writeMidiFile(file));
          for (const [at, value, isHigh] of changes) bytes[at % bytes.length] = isHigh ? value | 0x80 : value;
          const mutated = bytes.subarray(0, cut % 5 === 0 ? cut % bytes.length : bytes.length);
          try {
            const reading = readMidiFile(mutated);
            const again = readMidiFile(writeMidiFile(reading.file)).file;
            expect(again.tracks.length).toBe(reading.file.tracks.length);
          } catch (error) {
            expect(error).toBeInstanceOf(MidiFileError);
          }
        },
      ),
      { numRuns: 600, seed: 20_260_101 },
    );
  });

  it("ends quickly on pure noise behind a header", () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 10, maxLength: 3000 }), (noise) => {
        expect(() => readMidiFile(bytesOf(header(1, 3), "MTrk", [0, 0, 0xff, 0xff], [...noise]))).not.toThrow();
      }),
      { numRuns: 200, seed: 7 },
    );
  });
});

describe("text", () => {
  it("gives back any text", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme" }), (text) => {
        expect(readText(writeText(text))).toBe(text);
      }),
    );
  });

  it("reads bytes that are no UTF-8 as Latin-1", () => {
    expect(readText(Uint8Array.of(0x54, 0xe4, 0x6b, 0x74))).toBe("Täkt");
    expect(readText(Uint8Array.of(0xc0, 0x80))).toBe("À\u0080");
  });
});
