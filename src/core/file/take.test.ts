import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { changeTiming, lanesFor, moveHitsBy, nameNote, revoiceHits } from "../commands/index.ts";
import { applyEdit, type Pattern } from "../document/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { summarizePattern, summarizeTake, thumbnailOf } from "../overview/index.ts";
import { META, type MidiFile, type MidiMessage, readMidiFile, writeMidiFile } from "../smf/index.ts";
import { channel } from "../testing/midi.ts";
import { describeExport, exportTake, hitsOfStream, importTake, resolutionOf } from "./index.ts";

const on = (tick: number, key: number, velocity = 90, ch = 9) => channel(tick, 0x90 | ch, key, velocity);
const off = (tick: number, key: number, ch = 9) => channel(tick, 0x80 | ch, key, 64);
const END: MidiMessage = { kind: "meta", tick: 4000, metaType: META.endOfTrack, data: new Uint8Array(0) };
const fileOf = (
  tracks: MidiMessage[][],
  division: MidiFile["division"] = { kind: "ppq", ppq: 480 },
  format: 0 | 1 | 2 = 1,
): MidiFile => ({
  format,
  division,
  tracks: tracks.map((messages) => ({ messages: [...messages, END] })),
  unknownChunks: [{ id: "XTRA", data: Uint8Array.of(1, 2, 3), beforeTrackIndex: 1 }],
  headerExtra: new Uint8Array(0),
});
const importFile = (file: MidiFile) => importTake(writeMidiFile(file), GENERAL_MIDI);
const messagesOf = (bytes: Uint8Array) => readMidiFile(bytes).file;
/** Every voice pulled to its grid. */
const tightened = (pattern: Pattern, strengthPercent = 100) =>
  applyEdit(
    pattern,
    changeTiming(pattern, new Set(pattern.lanes.map((lane) => lane.voiceId)), (timing) => ({
      ...timing,
      isOn: true,
      strengthPercent,
    })),
  );

const KIT = [
  on(2, 36),
  off(40, 36),
  channel(100, 0xb9, 4, 90),
  on(485, 38, 100),
  off(520, 38),
  on(966, 36),
  off(1000, 36),
  on(1436, 38),
  off(1480, 38),
];
const BASS = [on(0, 40, 80, 1), off(400, 40, 1), on(480, 43, 80, 1), off(900, 43, 1)];

describe("importing a take", () => {
  it("scales coarse files up by the smallest whole factor that reaches 480", () => {
    expect(resolutionOf({ kind: "ppq", ppq: 96 })).toEqual({ ppq: 480, factor: 5 });
    expect(resolutionOf({ kind: "ppq", ppq: 120 })).toEqual({ ppq: 480, factor: 4 });
    expect(resolutionOf({ kind: "ppq", ppq: 384 })).toEqual({ ppq: 768, factor: 2 });
    expect(resolutionOf({ kind: "ppq", ppq: 960 })).toEqual({ ppq: 960, factor: 1 });
  });

  it("reads film frames as 120 bpm, whatever tempo the file names", () => {
    expect(resolutionOf({ kind: "smpte", framesPerSecond: 25, ticksPerFrame: 40 })).toEqual({ ppq: 500, factor: 1 });
    const slow: MidiMessage = { kind: "meta", tick: 0, metaType: META.tempo, data: Uint8Array.of(0x0f, 0x42, 0x40) };
    const { pattern } = importFile(
      fileOf([[slow, on(0, 36), on(1000, 36)]], { kind: "smpte", framesPerSecond: 25, ticksPerFrame: 40 }),
    );
    expect(pattern.tempos).toEqual([{ tick: 0, usPerQuarter: 500_000 }]);
    expect(pattern.hits.map((hit) => hit.recordedTick)).toEqual([0, 1000]);
    expect(resolutionOf({ kind: "smpte", framesPerSecond: 25, ticksPerFrame: 1 })).toEqual({ ppq: 500, factor: 40 });
  });

  it("makes a lane for every voice and brings only drums to it", () => {
    const { pattern } = importFile(fileOf([KIT, BASS, [on(5, 22), on(600, 42)]]));
    expect(pattern.lanes.map((lane) => lane.voiceId)).toEqual(["hat", "snare", "kick", "note-22"]);
    expect(pattern.streams.map((stream) => [stream.trackIndex, stream.isDrums])).toEqual([
      [0, true],
      [1, false],
      [2, true],
    ]);
    expect(pattern.hits).toHaveLength(6);
    expect(pattern.lanes.every((lane) => !lane.treatment.timing.isOn)).toBe(true);
  });

  it("ends the pattern at the bar line after the last note, and sums it up", () => {
    const meter: MidiMessage = { kind: "meta", tick: 0, metaType: META.meter, data: Uint8Array.of(7, 3, 24, 8) };
    const { pattern } = importFile(fileOf([[meter, ...KIT]]));
    expect(pattern.lengthTicks).toBe(1680);
    expect(summarizePattern(pattern)).toEqual({
      bpm: expect.closeTo(120, 6),
      meter: { numerator: 7, denominator: 8 },
      barCount: 1,
      hitCount: 4,
      voiceCount: 2,
    });
    expect(thumbnailOf(pattern).rows.map((row) => [row.family, row.hits.length])).toEqual([
      ["snare", 2],
      ["kick", 2],
    ]);
    expect(summarizeTake(pattern).lanes[1]).toMatchObject({ name: "Kick", notes: [36], hitCount: 2 });
  });

  it("says that the sequences of a format 2 file are shown together", () => {
    expect(importFile(fileOf([KIT, KIT], undefined, 2)).notices.map((notice) => notice.code)).toEqual(["file.format2"]);
  });

  it("takes another stream for drums with the same hits that an import would bring", () => {
    const file = fileOf([KIT, BASS]);
    const { pattern } = importFile(file);
    const hits = hitsOfStream(file, pattern.streams, 1, GENERAL_MIDI);
    const toLanes = lanesFor({ ...pattern, hits: [...pattern.hits, ...hits] });
    const both = applyEdit(pattern, {
      kind: "setDrumStream",
      change: { streamIndex: 1, toIsDrums: true, hits, fromLanes: pattern.lanes, toLanes },
    });
    expect(both.hits).toHaveLength(6);
    expect(both.lanes.map((lane) => lane.voiceId)).toEqual(["snare", "tom-5", "kick"]);
  });
});

describe("exporting a take", () => {
  it("gives an untouched file back as it was, for any resolution", () => {
    for (const division of [
      { kind: "ppq", ppq: 96 },
      { kind: "ppq", ppq: 480 },
      { kind: "smpte", framesPerSecond: 25, ticksPerFrame: 4 },
    ] as const) {
      const bytes = writeMidiFile(fileOf([KIT, BASS], division));
      expect(exportTake(bytes, importTake(bytes, GENERAL_MIDI).pattern)).toEqual(bytes);
    }
  });

  it("moves hits with their note-offs, and nothing else", () => {
    const bytes = writeMidiFile(fileOf([KIT, BASS]));
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const after = messagesOf(exportTake(bytes, tightened(pattern)));
    expect(after.tracks[0]!.messages).toEqual([
      on(0, 36),
      off(38, 36),
      channel(100, 0xb9, 4, 90),
      on(480, 38, 100),
      off(515, 38),
      on(960, 36),
      off(994, 36),
      on(1440, 38),
      off(1484, 38),
      END,
    ]);
    expect(after.tracks[1]).toEqual(messagesOf(bytes).tracks[1]);
    expect(after.unknownChunks).toEqual(messagesOf(bytes).unknownChunks);
  });

  it("writes finer where a coarse file could not hold the places", () => {
    const bytes = writeMidiFile(fileOf([[on(1, 36), off(9, 36), on(25, 36), off(30, 36)]], { kind: "ppq", ppq: 96 }));
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const half = messagesOf(exportTake(bytes, tightened(pattern, 50)));
    expect(half.division).toEqual({ kind: "ppq", ppq: 480 });
    const whole = messagesOf(exportTake(bytes, tightened(pattern, 100)));
    expect(whole.division).toEqual({ kind: "ppq", ppq: 96 });
  });

  it("ends a note before the next of its key, where it did so before", () => {
    const bytes = writeMidiFile(fileOf([[on(100, 36), off(215, 36), on(216, 36), off(300, 36)]]));
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const placed = [{ hit: pattern.hits[0]!, tick: 100 }];
    const after = messagesOf(exportTake(bytes, applyEdit(pattern, moveHitsBy(pattern, placed, 60))));
    expect(after.tracks[0]!.messages.slice(0, 4)).toEqual([on(160, 36), off(216, 36), on(216, 36), off(300, 36)]);
  });

  it("sends a hit that was moved to another drum out on that drum's note, with its end", () => {
    const bytes = writeMidiFile(fileOf([[...KIT, on(1900, 22), off(1940, 22)]]));
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const revoiced = applyEdit(
      pattern,
      revoiceHits(pattern, [pattern.hits[1]!], { voiceId: "snare", articulationId: "rim-shot" }),
    );
    const named = applyEdit(revoiced, nameNote(revoiced, 22, { voiceId: "ride", articulationId: "bell" }));
    const after = messagesOf(exportTake(bytes, named)).tracks[0]!.messages;
    expect(after.slice(3, 5)).toEqual([on(485, 40, 100), off(520, 40)]);
    // A name changes what a note means here, not the note.
    expect(after).toContainEqual(on(1900, 22));
    expect(after.filter((one) => one.kind === "channel" && one.data1 === 38)).toEqual([on(1436, 38), off(1480, 38)]);
  });

  it("spreads drum notes over tracks as asked, and nothing else", () => {
    const bytes = writeMidiFile({ ...fileOf([[...KIT, ...BASS].sort((a, b) => a.tick - b.tick)]), format: 0 });
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const notesOf = (messages: readonly MidiMessage[]) =>
      messages.flatMap((one) => (one.kind === "channel" && one.status >> 4 <= 9 ? [one.data1] : []));
    const merged = messagesOf(exportTake(bytes, pattern, { layout: "merged" }));
    expect(merged.format).toBe(1);
    expect(merged.tracks.map(({ messages }) => notesOf(messages))).toEqual([
      [40, 40, 43, 43],
      [36, 36, 38, 38, 36, 36, 38, 38],
    ]);
    const perVoice = messagesOf(exportTake(bytes, pattern, { layout: "perVoice" }));
    expect(perVoice.tracks.map(({ messages }) => notesOf(messages))).toEqual([
      [40, 40, 43, 43],
      [38, 38, 38, 38],
      [36, 36, 36, 36],
    ]);
    expect(perVoice.tracks[0]!.messages).toContainEqual(channel(100, 0xb9, 4, 90));
    const all = (file: MidiFile) =>
      file.tracks.flatMap(({ messages }) => messages).filter((one) => one.kind === "channel");
    expect(all(perVoice)).toHaveLength(all(messagesOf(bytes)).length);
  });

  it("says beforehand what will be written", () => {
    const { pattern } = importFile(fileOf([KIT]));
    const moved = tightened(
      applyEdit(pattern, revoiceHits(pattern, [pattern.hits[0]!], { voiceId: "tom-1", articulationId: "rim" })),
    );
    expect(describeExport(moved)).toEqual([
      {
        voiceId: "snare",
        name: "Snare",
        hitCount: 2,
        changedCount: 2,
        mutedCount: 0,
        unplayedCount: 0,
        notes: [{ note: 38, channel: 9, hitCount: 2 }],
        fallbacks: [],
      },
      {
        voiceId: "tom-1",
        name: "High tom",
        hitCount: 1,
        changedCount: 1,
        mutedCount: 0,
        unplayedCount: 0,
        notes: [{ note: 50, channel: 9, hitCount: 1 }],
        fallbacks: ["High tom, rim is played as High tom"],
      },
      {
        voiceId: "kick",
        name: "Kick",
        hitCount: 1,
        changedCount: 1,
        mutedCount: 0,
        unplayedCount: 0,
        notes: [{ note: 36, channel: 9, hitCount: 1 }],
        fallbacks: [],
      },
    ]);
    expect(describeExport(pattern).map((voice) => voice.changedCount)).toEqual([0, 0]);
  });

  it("leaves out removed hits with their ends, and writes added ones", () => {
    const bytes = writeMidiFile(fileOf([KIT]));
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const removed = applyEdit(pattern, { kind: "removeHits", hits: [pattern.hits[0]!] });
    const added = {
      ...pattern.hits[1]!,
      id: "by hand",
      recordedTick: null,
      recordedVelocity: null,
      pinnedTick: 720,
      pinnedVelocity: 55,
    };
    const after = messagesOf(exportTake(bytes, applyEdit(removed, { kind: "addHits", hits: [added] })));
    const notes = after.tracks[0]!.messages.filter((one) => one.kind === "channel" && one.status >> 4 === 9);
    expect(notes).toEqual([on(485, 38, 100), on(720, 38, 55), on(966, 36), on(1436, 38)]);
    expect(after.tracks[0]!.messages).not.toContainEqual(off(40, 36));
    expect(after.tracks[0]!.messages).toContainEqual(off(780, 38));
  });

  it("keeps the end mark last when a hit moves behind it", () => {
    const early = { ...END, tick: 1500 };
    const bytes = writeMidiFile({ ...fileOf([]), tracks: [{ messages: [...KIT, early] }] });
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const placed = [{ hit: pattern.hits[3]!, tick: 1436 }];
    const after = messagesOf(exportTake(bytes, applyEdit(pattern, moveHitsBy(pattern, placed, 400))));
    expect(after.tracks[0]!.messages.at(-1)).toMatchObject({ metaType: META.endOfTrack, tick: 1880 });
  });

  it("keeps every message of any take but moved hits, and every hit's velocity and number", () => {
    const noise = fc.record({
      tick: fc.integer({ min: 0, max: 3000 }),
      kind: fc.constantFrom(0x8, 0x9, 0xb, 0xe),
      data1: fc.integer({ min: 30, max: 50 }),
      data2: fc.integer({ min: 0, max: 127 }),
    });
    fc.assert(
      fc.property(
        fc.array(noise, { minLength: 1, maxLength: 60 }),
        fc.integer({ min: 0, max: 100 }),
        (list, strength) => {
          const messages = list
            .sort((a, b) => a.tick - b.tick)
            .map(({ tick, kind, data1, data2 }) => channel(tick, (kind << 4) | 9, data1, data2));
          const bytes = writeMidiFile(fileOf([messages]));
          const after = messagesOf(exportTake(bytes, tightened(importTake(bytes, GENERAL_MIDI).pattern, strength)))
            .tracks[0]!.messages;
          const others = (all: readonly MidiMessage[]) =>
            all.filter((one) => one.kind !== "channel" || one.status >> 4 > 9);
          const counted = (all: readonly MidiMessage[]) =>
            all
              .flatMap((one) =>
                one.kind === "channel" && one.status >> 4 <= 9 ? [`${one.status} ${one.data1} ${one.data2}`] : [],
              )
              .sort();
          expect(others(after).map((one) => ({ ...one }))).toEqual(others([...messages, END]));
          expect(counted(after)).toEqual(counted(messages));
        },
      ),
      { numRuns: 200 },
    );
  });
});

/** The stand-in drummer's demo, with what was meant. */
function demo(slug: string) {
  const bytes = new Uint8Array(readFileSync(`demo/${slug}.mid`));
  const truth: { hits: [id: string, kind: string, tick: number, voiceId: string][] } = JSON.parse(
    readFileSync(`demo/${slug}.truth.json`, "utf8"),
  );
  return { bytes, truth: truth.hits };
}

describe("cleaning the demos, every voice on the grid found for it, at full strength", () => {
  it.each([
    ["moth-parade", 0.97],
    ["kettle-row", 0.97],
    ["tin-orchard", 0.97],
    ["slack-water", 0.97],
    ["ferry-lights", 0.97],
  ])("puts the real hits of %s on the slots they were meant for, and loses none", (slug, least) => {
    const { bytes, truth } = demo(slug);
    const { pattern } = importTake(bytes, GENERAL_MIDI);
    const { factor } = resolutionOf(messagesOf(bytes).division);
    const before = messagesOf(bytes).tracks[1]!.messages;
    const exported = messagesOf(exportTake(bytes, tightened(pattern)));
    const noteOns = (all: readonly MidiMessage[]) =>
      all.filter((one) => one.kind === "channel" && one.status === 0x99 && one.data2 > 0);
    expect(noteOns(exported.tracks[1]!.messages)).toHaveLength(noteOns(before).length);
    expect(truth.every(([id]) => pattern.hits.some((hit) => hit.id === id))).toBe(true);
    const scale = exported.division.kind === "ppq" ? pattern.ppq / exported.division.ppq : 1;
    const places = new Set(
      noteOns(exported.tracks[1]!.messages).map((one) => `${one.tick * scale} ${one.kind === "channel" && one.data1}`),
    );
    const noteOf = new Map(pattern.hits.map((hit) => [hit.id, hit.note]));
    const real = truth.filter(([, kind]) => kind === "hit");
    const right = real.filter(([id, , tick]) => places.has(`${tick * factor} ${noteOf.get(id)}`)).length;
    expect(right / real.length).toBeGreaterThanOrEqual(least);
  });
});
