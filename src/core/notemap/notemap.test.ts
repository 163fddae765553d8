import { describe, expect, it } from "vitest";
import { META, type MidiFile, type MidiMessage, writeText } from "../smf/index.ts";
import {
  FAMILIES,
  findNoteStreams,
  findVoice,
  GENERAL_MIDI,
  isUnnamedVoice,
  meaningOfNote,
  outgoingNote,
  sortVoiceIds,
  withMeaning,
} from "./index.ts";

describe("General MIDI percussion", () => {
  it("names every note of GM and its GM2 additions exactly once", () => {
    const notes = GENERAL_MIDI.entries.map((entry) => entry.note).sort((a, b) => a - b);
    expect(notes).toEqual(Array.from({ length: 61 }, (_, index) => 27 + index));
  });

  it("gives each entry a voice and an articulation that exist", () => {
    for (const { voiceId, articulationId } of GENERAL_MIDI.entries) {
      const voice = GENERAL_MIDI.voices.find((candidate) => candidate.id === voiceId);
      expect(FAMILIES).toContain(voice?.family);
      expect(voice?.articulations.map(({ id }) => id)).toContain(articulationId);
    }
  });

  it("gathers the strokes of one drum in one voice", () => {
    expect([42, 44, 46].map((note) => meaningOfNote(GENERAL_MIDI, note).voiceId)).toEqual(["hat", "hat", "hat"]);
    expect(meaningOfNote(GENERAL_MIDI, 37)).toMatchObject({ voiceId: "snare", articulationId: "cross-stick" });
  });

  it("gives a note it does not know a voice of its own", () => {
    const { voiceId, articulationId } = meaningOfNote(GENERAL_MIDI, 22);
    expect(isUnnamedVoice(voiceId)).toBe(true);
    expect(findVoice(GENERAL_MIDI, voiceId)).toMatchObject({
      name: "Note 22",
      articulations: [{ id: articulationId }],
    });
  });

  it("orders lanes as on a drum staff, unnamed notes last", () => {
    const sorted = sortVoiceIds(GENERAL_MIDI, ["note-3", "kick", "cowbell", "note-100", "hat", "crash", "snare"]);
    expect(sorted).toEqual(["crash", "hat", "snare", "kick", "cowbell", "note-100", "note-3"]);
  });
});

describe("naming notes", () => {
  const bell = { voiceId: "ride", articulationId: "bell" };

  it("replaces what a note meant, and keeps the entries in order", () => {
    const named = withMeaning(GENERAL_MIDI, 38, bell);
    expect(meaningOfNote(named, 38)).toMatchObject(bell);
    expect(named.entries).toHaveLength(GENERAL_MIDI.entries.length);
    expect(named.entries.map((entry) => entry.note)).toEqual(
      [...named.entries.map((entry) => entry.note)].sort((a, b) => a - b),
    );
    expect(meaningOfNote(GENERAL_MIDI, 38).voiceId).toBe("snare");
  });

  it("takes a name away, so that the note has a voice of its own", () => {
    const nameless = withMeaning(GENERAL_MIDI, 38, { voiceId: "note-38", articulationId: "unnamed" });
    expect(nameless.entries.some((entry) => entry.note === 38)).toBe(false);
    expect(meaningOfNote(nameless, 38)).toEqual({ voiceId: "note-38", articulationId: "unnamed" });
  });
});

describe("the note that a hit goes out on", () => {
  it("is the one it came in on, also under another name", () => {
    expect(outgoingNote(GENERAL_MIDI, 38, { voiceId: "snare", articulationId: "centre" })).toBe(38);
    const bell = { voiceId: "ride", articulationId: "bell" };
    expect(outgoingNote(withMeaning(GENERAL_MIDI, 22, bell), 22, bell)).toBe(22);
    expect(outgoingNote(GENERAL_MIDI, 22, { voiceId: "note-22", articulationId: "unnamed" })).toBe(22);
  });

  it("is that of the drum it was moved to, or of another stroke of that drum", () => {
    expect(outgoingNote(GENERAL_MIDI, 38, { voiceId: "snare", articulationId: "rim-shot" })).toBe(40);
    expect(outgoingNote(GENERAL_MIDI, 38, { voiceId: "tom-1", articulationId: "rim" })).toBe(50);
    expect(outgoingNote(GENERAL_MIDI, 38, { voiceId: "gong", articulationId: "strike" })).toBe(38);
  });
});

const note = (channel: number, key: number, tick: number): MidiMessage => ({
  kind: "channel",
  tick,
  status: 0x90 | channel,
  data1: key,
  data2: 90,
});
const named = (name: string): MidiMessage => ({
  kind: "meta",
  tick: 0,
  metaType: META.trackName,
  data: writeText(name),
});
const fileOf = (...tracks: MidiMessage[][]): MidiFile => ({
  format: 1,
  division: { kind: "ppq", ppq: 480 },
  tracks: tracks.map((messages) => ({ messages })),
  unknownChunks: [],
  headerExtra: new Uint8Array(0),
});
const beat = (channel: number, keys: number[]) =>
  Array.from({ length: 32 }, (_, index) => note(channel, keys[index % keys.length]!, index * 240));

describe("finding drums", () => {
  const isDrums = (file: MidiFile) => findNoteStreams(file, GENERAL_MIDI).map((stream) => stream.isDrums);

  it("takes channel 10 for drums, on whatever track it is", () => {
    expect(isDrums(fileOf([...beat(0, [60, 64, 67]), note(9, 36, 9000)]))).toEqual([false, true]);
  });

  it("takes a track for drums by its name", () => {
    expect(
      isDrums(fileOf([named("Drum pads"), ...beat(3, [36, 38, 60])], [named("Lead"), ...beat(1, [60, 62])])),
    ).toEqual([true, false]);
  });

  it("takes a stream for drums that keeps to kick, snare, hats and cymbals", () => {
    const [kit, melody] = findNoteStreams(
      fileOf(beat(0, [36, 42, 38, 42]), beat(1, [55, 57, 59, 60, 62])),
      GENERAL_MIDI,
    );
    expect(kit).toMatchObject({ isDrums: true, reason: expect.stringContaining("kick, snare") });
    expect(melody).toMatchObject({ isDrums: false, reason: "it does not look like drums" });
  });

  it("takes the only notes of a file, for somebody recorded them on purpose", () => {
    expect(isDrums(fileOf(beat(2, [60, 61, 62, 63, 64, 65])))).toEqual([true]);
    expect(isDrums(fileOf([]))).toEqual([]);
  });
});
