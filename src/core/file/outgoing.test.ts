import { describe, expect, it } from "vitest";
import { changeTiming, changeVelocityBy, nameNote, pinHits, revoiceHits, setNoteMap } from "../commands/index.ts";
import { applyEdit, invertEdit, type NoteMap, type Pattern } from "../document/index.ts";
import { addVoice, GENERAL_MIDI, setOutgoing } from "../notemap/index.ts";
import { META, type MidiFile, type MidiMessage, readMidiFile, writeMidiFile, writeText } from "../smf/index.ts";
import { channel } from "../testing/midi.ts";
import { describeExport, exportTake, importTake, removePart, takeOut } from "./index.ts";

const hit = (tick: number, key: number, velocity = 90) => [
  channel(tick, 0x99, key, velocity),
  channel(tick + 40, 0x89, key, 64),
];
const TEMPO: MidiMessage = { kind: "meta", tick: 0, metaType: META.tempo, data: Uint8Array.of(8, 0, 0) };
const MARKER: MidiMessage = { kind: "meta", tick: 480, metaType: META.marker, data: writeText("Verse") };
const BASS = [channel(0, 0x90, 40, 80), channel(400, 0x80, 40, 64), channel(10, 0xb0, 7, 100)];
const KIT = [...hit(5, 36), ...hit(10, 22), ...hit(490, 38), ...hit(495, 40, 60), ...hit(970, 36), ...hit(980, 56)];
const file: MidiFile = {
  format: 1,
  division: { kind: "ppq", ppq: 480 },
  tracks: [[TEMPO, MARKER], KIT, BASS].map((messages) => ({ messages: messages.toSorted((a, b) => a.tick - b.tick) })),
  unknownChunks: [],
  headerExtra: new Uint8Array(0),
};
const original = writeMidiFile(file);
const { pattern } = importTake(original, GENERAL_MIDI);
const notesOf = (bytes: Uint8Array, trackIndex = 1) =>
  readMidiFile(bytes).file.tracks[trackIndex]!.messages.flatMap((message) =>
    message.kind === "channel" && message.status >> 4 === 0x9
      ? [[message.tick, message.status % 16, message.data1]]
      : [],
  );
const withOutgoing = (outgoingMap: NoteMap): Pattern =>
  applyEdit(pattern, { kind: "setOutgoingMap", from: pattern.outgoingMap, to: outgoingMap });

/** A kit that knows a kick on another channel, a snare without a rim shot, and no cowbell. */
const OTHER_KIT: NoteMap = {
  ...GENERAL_MIDI,
  entries: [
    { note: 12, channel: 4, pedal: null, voiceId: "kick", articulationId: "main" },
    { note: 14, channel: null, pedal: null, voiceId: "snare", articulationId: "centre" },
  ],
};

describe("an outgoing map", () => {
  it("puts every hit on the note and channel of the kit that will play it", () => {
    expect(notesOf(exportTake(original, withOutgoing(OTHER_KIT)))).toEqual([
      [5, 4, 12],
      [10, 9, 22],
      [490, 9, 14],
      [495, 9, 14],
      [970, 4, 12],
      [980, 9, 56],
    ]);
  });

  it("changes nothing that was not drums", () => {
    const { tracks } = readMidiFile(exportTake(original, withOutgoing(OTHER_KIT))).file;
    const { tracks: before } = readMidiFile(original).file;
    expect(tracks[0]).toEqual(before[0]);
    expect(tracks[2]).toEqual(before[2]);
    expect(tracks[1]!.messages).toHaveLength(before[1]!.messages.length);
  });

  it("says beforehand what falls back, what has no note, and how many hits go where", () => {
    const voices = new Map(describeExport(withOutgoing(OTHER_KIT)).map((voice) => [voice.voiceId, voice]));
    expect(voices.get("snare")).toMatchObject({
      hitCount: 2,
      changedCount: 2,
      notes: [{ note: 14, channel: 9, hitCount: 2 }],
      fallbacks: ["Snare, rim shot is played as Snare, centre"],
    });
    expect(voices.get("kick")).toMatchObject({ notes: [{ note: 12, channel: 4, hitCount: 2 }], fallbacks: [] });
    expect(voices.get("cowbell")).toMatchObject({
      changedCount: 0,
      fallbacks: ["Cowbell has no note there: it keeps note 56"],
    });
  });

  it("can be part of the map by which the notes come in", () => {
    const kick = { voiceId: "kick", articulationId: "main" };
    const noteMap = setOutgoing(pattern.noteMap, kick, { note: 33, channel: null });
    const routed = applyEdit(pattern, setNoteMap(pattern, noteMap));
    expect(notesOf(exportTake(original, routed)).map(([, , note]) => note)).toEqual([33, 22, 38, 40, 33, 56]);
  });

  it("is not needed for a file that goes back to where it came from", () => {
    expect(exportTake(original, pattern)).toEqual(original);
    expect(describeExport(pattern).every(({ changedCount }) => changedCount === 0)).toBe(true);
  });
});

describe("a kit on several tracks", () => {
  const named = (name: string): MidiMessage => ({
    kind: "meta",
    tick: 0,
    metaType: META.trackName,
    data: writeText(name),
  });
  const onChannel = (channelIndex: number, messages: MidiMessage[]) =>
    messages.map((one) => (one.kind === "channel" ? { ...one, status: (one.status & 0xf0) | channelIndex } : one));
  // Kick and hats on channel 10, the snare on a channel of its own; a bass beside them.
  const tracks = [
    [named("Kick"), ...hit(5, 36), ...hit(960, 36)],
    [named("Snare pad"), ...onChannel(3, [...hit(480, 38), ...hit(1440, 38)])],
    [named("Hats"), ...hit(0, 42), ...hit(480, 42), ...hit(960, 42)],
    [named("Bass"), ...BASS],
  ];
  const sorted = tracks.map((messages) => ({ messages: messages.toSorted((a, b) => a.tick - b.tick) }));
  const apart = writeMidiFile({ ...file, tracks: sorted });
  const together = importTake(apart, GENERAL_MIDI).pattern;
  const countsOf = (bytes: Uint8Array) =>
    readMidiFile(bytes).file.tracks.map((_, index) => notesOf(bytes, index).length);

  it("stands together on one Bench, and what is not drums beside it", () => {
    expect(together.lanes.map(({ voiceId }) => voiceId)).toEqual(["hat", "snare", "kick"]);
    expect(together.streams.map(({ isDrums }) => isDrums)).toEqual([true, true, true, false]);
  });

  it("goes out as it came in, byte for byte, or on one track, or on one for each drum", () => {
    expect(exportTake(apart, together)).toEqual(apart);
    expect(countsOf(exportTake(apart, together, { layout: "merged" }))).toEqual([0, 0, 0, 1, 7]);
    const perVoice = exportTake(apart, together, { layout: "perVoice" });
    expect(countsOf(perVoice)).toEqual([0, 0, 0, 1, 3, 2, 2]);
    // The channels are those that the hits came in on.
    expect(new Set(notesOf(perVoice, 5).map(([, channelIndex]) => channelIndex))).toEqual(new Set([3]));
  });
});

describe("another map for what comes in", () => {
  it("moves every hit with its note, except those that a hand has moved", () => {
    const rim = { voiceId: "tom-1", articulationId: "centre" };
    const kick = pattern.hits.find(({ note }) => note === 36)!;
    const moved = applyEdit(pattern, revoiceHits(pattern, [kick], rim));
    const grown = addVoice(GENERAL_MIDI, "Ship's bell", "percussion");
    const map = {
      ...grown.map,
      entries: grown.map.entries.map((e) => (e.note === 36 ? { ...e, ...grown.meaning } : e)),
    };
    const edit = setNoteMap(moved, map);
    const after = applyEdit(moved, edit);
    expect(after.hits.filter(({ note }) => note === 36).map(({ voiceId }) => voiceId)).toEqual([
      "tom-1",
      "ship-s-bell",
    ]);
    expect(after.lanes.map(({ voiceId }) => voiceId)).toContain("ship-s-bell");
  });
});

describe("a voice taken out", () => {
  const snare = { voiceId: "snare", articulationId: null };
  const treated = () => {
    const tight = changeTiming(pattern, new Set(["snare"]), (timing) => ({ ...timing, isOn: true, pocketMs: 0 }));
    const once = applyEdit(pattern, tight);
    const rim = once.hits.find(({ note }) => note === 40)!;
    const louder = applyEdit(once, changeVelocityBy([rim], 20));
    return applyEdit(louder, pinHits(louder, [{ hit: rim, tick: 500 }]));
  };

  it("is a file with its hits alone, and what says where in the music they are", () => {
    const bytes = exportTake(original, treated(), { only: snare });
    const { file: out } = readMidiFile(bytes);
    expect(out.format).toBe(0);
    expect(notesOf(bytes, 0).map(([, , note]) => note)).toEqual([38, 40]);
    expect(out.tracks[0]!.messages).toEqual(expect.arrayContaining([TEMPO, MARKER]));
    expect(out.tracks[0]!.messages.some((message) => message.kind === "channel" && message.data1 === 7)).toBe(false);
    const rims = exportTake(original, pattern, { only: { voiceId: "snare", articulationId: "rim-shot" } });
    expect(notesOf(rims, 0)).toEqual([[495, 9, 40]]);
  });

  it("is a pattern with the recorded hits, what a hand did to them, and its settings", () => {
    const before = treated();
    const { bytes, pattern: own } = takeOut(original, before, snare);
    expect(notesOf(bytes, 0)).toEqual([
      [490, 9, 38],
      [495, 9, 40],
    ]);
    expect(own.lanes).toEqual(before.lanes.filter(({ voiceId }) => voiceId === "snare"));
    expect(
      own.hits.map(({ recordedTick, pinnedTick, pinnedVelocity }) => [recordedTick, pinnedTick, pinnedVelocity]),
    ).toEqual([
      [490, null, null],
      [495, 500, 80],
    ]);
    expect(own.lengthTicks).toBe(pattern.lengthTicks);
    expect(exportTake(bytes, own)).toBeInstanceOf(Uint8Array);
  });

  it("keeps strokes that a hand or a name has put on its lane", () => {
    const named = applyEdit(pattern, nameNote(pattern, 22, { voiceId: "snare", articulationId: "cross-stick" }));
    const kick = named.hits.find(({ note }) => note === 36)!;
    const mixed = applyEdit(named, revoiceHits(named, [kick], { voiceId: "snare", articulationId: "rim-shot" }));
    const { pattern: own } = takeOut(original, mixed, snare);
    expect(own.hits.map(({ articulationId }) => articulationId)).toEqual([
      "rim-shot",
      "cross-stick",
      "centre",
      "rim-shot",
    ]);
    const rest = applyEdit(mixed, removePart(mixed, snare));
    expect(rest.hits.length + own.hits.length).toBe(mixed.hits.length);
    expect(rest.lanes.map(({ voiceId }) => voiceId)).toEqual(["kick", "cowbell"]);
    expect(applyEdit(rest, invertEdit(removePart(mixed, snare)))).toEqual(mixed);
  });
});
