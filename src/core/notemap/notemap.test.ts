import { describe, expect, it } from "vitest";
import {
  FAMILIES,
  findVoice,
  isUnnamedVoice,
  meaningOf,
  type NoteMap,
  type NoteMapEntry,
  type Strike,
  sortVoiceIds,
  withMeaning,
} from "../document/index.ts";
import { META, type MidiFile, type MidiMessage, writeText } from "../smf/index.ts";
import {
  addEntry,
  addStroke,
  addVoice,
  checkMap,
  findNoteStreams,
  GENERAL_MIDI,
  moveVoice,
  NoteMapError,
  outgoingStroke,
  removeVoice,
  renameStroke,
  renameVoice,
  setFamily,
  setInk,
  setOutgoing,
  splitByPedal,
} from "./index.ts";

const strike = (note: number, more: Partial<Strike> = {}): Strike => ({ note, channel: 9, pedal: null, ...more });

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
    expect([42, 44, 46].map((note) => meaningOf(GENERAL_MIDI, strike(note)).voiceId)).toEqual(["hat", "hat", "hat"]);
    expect(meaningOf(GENERAL_MIDI, strike(37))).toMatchObject({ voiceId: "snare", articulationId: "cross-stick" });
  });

  it("gives a note it does not know a voice of its own", () => {
    const { voiceId, articulationId } = meaningOf(GENERAL_MIDI, strike(22));
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
    expect(meaningOf(named, strike(38))).toMatchObject(bell);
    expect(named.entries).toHaveLength(GENERAL_MIDI.entries.length);
    expect(named.entries.map((entry) => entry.note)).toEqual(
      [...named.entries.map((entry) => entry.note)].sort((a, b) => a - b),
    );
    expect(meaningOf(GENERAL_MIDI, strike(38)).voiceId).toBe("snare");
  });

  it("takes a name away, so that the note has a voice of its own", () => {
    const nameless = withMeaning(GENERAL_MIDI, 38, { voiceId: "note-38", articulationId: "unnamed" });
    expect(nameless.entries.some((entry) => entry.note === 38)).toBe(false);
    expect(meaningOf(nameless, strike(38))).toEqual({ voiceId: "note-38", articulationId: "unnamed" });
  });
});

describe("the note that a stroke goes out on", () => {
  const out = (map: NoteMap, voiceId: string, articulationId: string) =>
    outgoingStroke(map, { voiceId, articulationId });

  it("is the one that plays it, unless the outgoing side names another", () => {
    expect(out(GENERAL_MIDI, "snare", "rim-shot")).toMatchObject({ note: 40, channel: null });
    const rim = { voiceId: "snare", articulationId: "rim-shot" };
    const other = setOutgoing(GENERAL_MIDI, rim, { note: 91, channel: 3 });
    expect(out(other, "snare", "rim-shot")).toEqual({ note: 91, channel: 3, meaning: rim });
    expect(outgoingStroke(setOutgoing(other, rim, null), rim)).toMatchObject({ note: 40 });
  });

  it("is that of the nearest stroke of the drum where its own is missing", () => {
    const half = out(GENERAL_MIDI, "hat", "half-open");
    expect(half).toMatchObject({ note: 46, meaning: { voiceId: "hat", articulationId: "open" } });
    const noOpen = { ...GENERAL_MIDI, entries: GENERAL_MIDI.entries.filter(({ note }) => note !== 46) };
    expect(out(noOpen, "hat", "half-open")).toMatchObject({ note: 42 });
    expect(out(GENERAL_MIDI, "tom-1", "rim")).toMatchObject({ note: 50 });
    expect(out(GENERAL_MIDI, "gong", "strike")).toBeNull();
  });
});

describe("which entry a strike matches", () => {
  const hat = { note: 8, voiceId: "hat", channel: null, pedal: null, articulationId: "closed" };
  const map = (...entries: Partial<NoteMapEntry>[]): NoteMap => ({
    ...GENERAL_MIDI,
    entries: entries.map((entry) => ({ ...hat, ...entry })),
  });
  const stroke = (noteMap: NoteMap, more: Partial<Strike>) => meaningOf(noteMap, strike(8, more)).articulationId;

  it("prefers its channel to any channel, and its pedal to any pedal", () => {
    const split = map(
      {},
      { pedal: { from: 0, to: 29 }, articulationId: "open" },
      { channel: 2, articulationId: "foot" },
    );
    expect(stroke(split, {})).toBe("closed");
    expect(stroke(split, { pedal: 29 })).toBe("open");
    expect(stroke(split, { pedal: 30 })).toBe("closed");
    expect(stroke(split, { pedal: 10, channel: 2 })).toBe("foot");
  });

  it("leaves a note without a name where no condition holds", () => {
    const onlyOpen = map({ pedal: { from: 0, to: 29 }, articulationId: "open" });
    expect(stroke(onlyOpen, { pedal: 90 })).toBe("unnamed");
    expect(stroke(onlyOpen, {})).toBe("unnamed");
  });

  it("splits one pad by the pedal, without a gap and without an overlap", () => {
    const plain = map({});
    const split = splitByPedal(plain, plain.entries[0]!);
    const strokes = Array.from({ length: 128 }, (_, pedal) => stroke(split, { pedal }));
    expect(strokes.slice(0, 30).every((one) => one === "open")).toBe(true);
    expect(strokes.slice(30, 90).every((one) => one === "half-open")).toBe(true);
    expect(strokes.slice(90).every((one) => one === "closed")).toBe(true);
  });
});

describe("changing a map", () => {
  const kick = GENERAL_MIDI.entries.find(({ note }) => note === 36)!;
  const failure = (change: () => unknown) => {
    try {
      change();
    } catch (error) {
      if (error instanceof NoteMapError) return error;
      throw error;
    }
    throw new Error("It was not refused.");
  };

  it("refuses a second claim on a note, and says by whom it is claimed", () => {
    const error = failure(() => addEntry(GENERAL_MIDI, { ...kick, voiceId: "snare", articulationId: "centre" }));
    expect(error.message).toBe("Note 36 is claimed twice: by Kick, main and by Snare, centre.");
    expect(error.remedy).toContain("channel");
  });

  it("lets two entries share a note that a channel or the pedal tells apart", () => {
    const shared = addEntry(GENERAL_MIDI, { ...kick, channel: 3, voiceId: "snare", articulationId: "centre" });
    expect(meaningOf(shared, strike(36, { channel: 3 })).voiceId).toBe("snare");
    expect(meaningOf(shared, strike(36)).voiceId).toBe("kick");
    const low = { ...kick, pedal: { from: 0, to: 60 } };
    expect(failure(() => addEntry(addEntry(shared, low), { ...low, pedal: { from: 60, to: 90 } })).message).toBe(
      "Note 36, pedal 60 is claimed twice: by Kick, main and by Kick, main.",
    );
  });

  it("refuses 128 entries on one note at the second of them", () => {
    const entries = Array.from({ length: 128 }, () => kick);
    expect(failure(() => checkMap({ ...GENERAL_MIDI, entries })).code).toBe("map.conflict");
  });

  it("refuses names that cannot be read", () => {
    const long = failure(() => renameVoice(GENERAL_MIDI, "kick", "x".repeat(10_000)));
    expect(long.message).toBe("This name has 10,000 characters.");
    expect(long.remedy).toBe("Names can have 60.");
    expect(failure(() => renameVoice(GENERAL_MIDI, "kick", "  ")).message).toContain("empty");
    expect(failure(() => renameVoice(GENERAL_MIDI, "kick", "snare")).message).toBe("Another drum is called Snare.");
    expect(failure(() => renameStroke(GENERAL_MIDI, kick, "second")).message).toContain("has a stroke second");
  });

  it("refuses notes, channels and pedals that do not exist, and entries that lead nowhere", () => {
    for (const bad of [{ note: 128 }, { channel: 16 }, { pedal: { from: 90, to: 20 } }]) {
      expect(failure(() => addEntry(GENERAL_MIDI, { ...kick, note: 3, ...bad })).code).toBe("map.range");
    }
    expect(failure(() => addEntry(GENERAL_MIDI, { ...kick, note: 3, voiceId: "gong" })).code).toBe("map.unknown");
  });

  it("keeps an id when a name changes, and never gives one twice", () => {
    const renamed = renameVoice(GENERAL_MIDI, "kick", "Bass drum");
    expect(meaningOf(renamed, strike(36)).voiceId).toBe("kick");
    const { map: once, meaning } = addVoice(renamed, "Kick", "kick");
    expect(meaning).toEqual({ voiceId: "kick-2", articulationId: "strike" });
    const { meaning: odd } = addVoice(once, "Note 38", "snare");
    expect(isUnnamedVoice(odd.voiceId)).toBe(false);
    expect(addStroke(once, "kick-2", "heel").meaning).toEqual({ voiceId: "kick-2", articulationId: "heel" });
  });

  it("orders voices, and lets the ink follow the family until another is chosen", () => {
    const moved = moveVoice(GENERAL_MIDI, "kick", "hat");
    expect(sortVoiceIds(moved, ["hat", "kick", "crash"])).toEqual(["crash", "kick", "hat"]);
    expect(moveVoice(moved, "crash", null).voices.at(-1)?.id).toBe("crash");
    const inked = setInk(setFamily(moved, "kick", "toms"), "kick", "snare");
    expect(findVoice(inked, "kick")).toMatchObject({ family: "toms", ink: "snare" });
    expect(findVoice(setFamily(inked, "kick", "hats"), "kick")).toMatchObject({ family: "hats", ink: "snare" });
    expect(findVoice(setFamily(moved, "kick", "toms"), "kick").ink).toBe("toms");
  });

  it("takes a drum away with its notes, which are without a name then", () => {
    const without = removeVoice(GENERAL_MIDI, "kick");
    expect(meaningOf(without, strike(36)).voiceId).toBe("note-36");
    checkMap(without);
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

  it("takes no other instrument of a one-track file for drums because its track is named like them", () => {
    const kit = beat(9, [36, 42, 38, 42]);
    const [drums, bass] = findNoteStreams(
      fileOf([named("Drum take"), ...kit, ...beat(1, [36, 38, 40, 43])]),
      GENERAL_MIDI,
    );
    expect(drums).toMatchObject({ channel: 9, isDrums: true });
    expect(bass).toMatchObject({ isDrums: false, reason: "channel 10 of its track is the drums" });
    // A second kit beside it keeps time.
    expect(isDrums(fileOf([named("Drum take"), ...kit, ...beat(1, [36, 42, 38, 42])]))).toEqual([true, true]);
  });

  it("leaves a bass alone that keeps to the numbers of a kick or a snare, and what is named like something else", () => {
    const kit = beat(9, [36, 42, 38, 42]);
    expect(isDrums(fileOf(kit, beat(0, [40]), beat(1, [36, 38])))).toEqual([true, false, false]);
    expect(isDrums(fileOf([named("Bass"), ...beat(0, [36, 38, 40, 42])], kit))).toEqual([false, true]);
    expect(isDrums(fileOf(kit, [named("Pad"), ...beat(1, [60, 64, 67])]))).toEqual([true, false]);
    expect(isDrums(fileOf([named("Bass drum"), ...beat(0, [36])], kit))).toEqual([true, true]);
  });

  it("takes tracks of a drum each, on any channel, where there is no kit, and pads", () => {
    expect(isDrums(fileOf(beat(0, [36]), beat(1, [38]), beat(2, [42])))).toEqual([true, true, true]);
    expect(isDrums(fileOf([named("Pads"), ...beat(3, [36, 60, 61])], beat(1, [60, 62])))).toEqual([true, false]);
  });

  it("takes the only notes of a file, for somebody recorded them on purpose", () => {
    expect(isDrums(fileOf(beat(2, [60, 61, 62, 63, 64, 65])))).toEqual([true]);
    expect(isDrums(fileOf([]))).toEqual([]);
  });

  it("asks first where the only notes are of another instrument by name, or wander as a piano does", () => {
    const scale = Array.from({ length: 30 }, (_, step) => 40 + step);
    expect(isDrums(fileOf([named("Piano"), ...beat(0, [36, 38, 42])]))).toEqual([false]);
    expect(findNoteStreams(fileOf(beat(0, scale)), GENERAL_MIDI)).toMatchObject([
      { isDrums: false, reason: "it plays more different notes than a kit has" },
    ]);
    // A kit of many articulations mostly plays its core, and one on the drum channel may play what it likes.
    expect(isDrums(fileOf([...beat(0, scale), ...beat(0, [36, 38, 42])]))).toEqual([true]);
    expect(isDrums(fileOf(beat(9, scale)))).toEqual([true]);
  });
});
