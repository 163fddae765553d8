import { describe, expect, it } from "vitest";
import { changeTreatments } from "../commands/index.ts";
import { applyEdit, invertEdit, type Pattern, type Treatment, USUAL_LENGTHS } from "../document/index.ts";
import { exportTake, importTake } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { META, type MidiFile, type MidiMessage, readMidiFile, writeMidiFile, writeText } from "../smf/index.ts";
import { channel, fileOf, meta, note } from "../testing/midi.ts";
import { buildTimeMaps } from "../time/index.ts";
import {
  bytesOf,
  changeMessages,
  csvRow,
  findOddMessages,
  isInFile,
  kindOf,
  lengthAt,
  messageAt,
  messageIdAt,
  messageWords,
  type OddKind,
  rawBytes,
  tabulateMessages,
  velocityAt,
} from "./index.ts";

interface Take {
  readonly bytes: Uint8Array;
  readonly file: MidiFile;
  readonly pattern: Pattern;
}

function takeOf(...tracks: MidiMessage[][]): Take {
  const bytes = writeMidiFile(fileOf(...tracks));
  return { bytes, file: readMidiFile(bytes).file, pattern: importTake(bytes, GENERAL_MIDI).pattern };
}

function wordsOf({ file, pattern }: Take): string[] {
  const table = tabulateMessages(file, pattern);
  return Array.from({ length: table.count }, (_, row) => {
    const lane = pattern.lanes[table.laneIndexes[row]!];
    const words = `${table.ticks[row]} ${messageWords(messageAt(table, row), lane?.voiceId ?? null)}`;
    const velocity = velocityAt(table, row);
    return velocity === null ? words : `${words}, velocity ${velocity}, ${lengthAt(table, row)} ticks`;
  });
}

function oddOf({ file, pattern }: Take): Partial<Record<OddKind, number>> {
  const table = tabulateMessages(file, pattern);
  const found = findOddMessages(table, buildTimeMaps(pattern), (row) => table.statuses[row]! % 16 === 9);
  return Object.fromEntries(found.map(({ kind, rows }) => [kind, rows.length]));
}

const TEMPO_120 = [0x07, 0xa1, 0x20];
const HEAD = [meta(0, META.tempo, ...TEMPO_120), meta(0, META.meter, 4, 2, 24, 8), meta(0, META.key, 0xfd, 0)];

describe("the list of messages", () => {
  it("has every message in order of time, in words", () => {
    const take = takeOf(HEAD, [
      { kind: "meta", tick: 0, metaType: META.trackName, data: writeText("Kit") },
      channel(0, 0xc9, 3),
      channel(0, 0xb9, 4, 90),
      ...note(240, 38),
      channel(260, 0xa9, 49, 127),
      channel(300, 0xe9, 0, 96),
      channel(310, 0xd9, 12),
      { kind: "sysex", tick: 480, status: 0xf0, data: Uint8Array.of(1, 2, 0xf7) },
    ]);
    expect(wordsOf(take)).toEqual([
      "0 Tempo 120 bpm",
      "0 Meter 4/4",
      "0 Key of E flat major",
      "0 End of the track",
      "0 Track name: Kit",
      "0 Program 4",
      "0 Controller 4, hat pedal: 90",
      "240 snare, note 38, velocity 90, 60 ticks",
      "260 Pressure on note 49: 127",
      "300 snare ends",
      "300 Pitch bend +4096",
      "310 Pressure on the channel: 12",
      "480 3 bytes for one make of device",
      "480 End of the track",
    ]);
  });

  it("gives back the very message of every row, and joins a note with its end", () => {
    const { file, pattern } = takeOf(HEAD, [...note(0, 36), ...note(480, 36), ...note(480, 42)]);
    const table = tabulateMessages(file, pattern);
    for (let row = 0; row < table.count; row++) {
      const [track = 0, index = 0] = messageIdAt(table, row).split(":").map(Number);
      expect(messageAt(table, row)).toEqual(file.tracks[track]!.messages[index]);
      const partner = table.partnerRows[row]!;
      if (partner < 0) continue;
      expect(table.partnerRows[partner]).toBe(row);
      expect(kindOf(messageAt(table, row))).toMatch(/^note/);
    }
    expect([...table.partnerRows].filter((row) => row >= 0)).toHaveLength(6);
  });

  it("writes bytes as the file has them", () => {
    expect(rawBytes(channel(0, 0x99, 38, 84))).toBe("99 26 54");
    expect(rawBytes(channel(0, 0xc9, 3))).toBe("C9 03");
    expect(rawBytes(meta(0, META.tempo, ...TEMPO_120))).toBe("FF 51 07 A1 20");
    expect(bytesOf(channel(0, 0xd2, 7))).toEqual([0xd2, 7]);
  });
});

describe("the list of what an export writes", () => {
  const take = takeOf(HEAD, [...note(10, 38, 90), ...note(490, 36), ...note(950, 38, 40)]);
  const [first, , last] = take.pattern.hits;
  const treated = (change: (treatment: Treatment) => Treatment): Pattern =>
    applyEdit(
      take.pattern,
      changeTreatments(take.pattern, new Set(take.pattern.lanes.map(({ voiceId }) => voiceId)), change),
    );
  const notesOf = (pattern: Pattern) => wordsOf({ ...take, pattern }).filter((line) => line.includes("velocity"));

  it("has hits where they are cleaned, and says where they were recorded", () => {
    const tight = treated((treatment) => ({
      ...treatment,
      timing: { ...treatment.timing, isOn: true, strengthPercent: 100 },
    }));
    expect(notesOf(tight)).toEqual([
      "0 snare, note 38, velocity 90, 60 ticks",
      "480 kick, note 36, velocity 90, 60 ticks",
      "960 snare, note 38, velocity 40, 60 ticks",
    ]);
    const table = tabulateMessages(take.file, tight);
    const recorded = [...table.recordedTicks].filter((tick) => !Number.isNaN(tick));
    expect(recorded).toEqual([10, 490, 950]);
    expect([...table.recordedVelocities].filter(Boolean)).toEqual([90, 90, 40]);
  });

  it("has what is added, with its end, and not what is muted or taken out", () => {
    const added = {
      ...first!,
      id: "drawn",
      recordedTick: null,
      recordedVelocity: null,
      pinnedTick: 700,
      pinnedVelocity: 55,
    };
    const muted = applyEdit(take.pattern, { kind: "muteHits", hitIds: [last!.id], toIsMuted: true });
    const pattern = applyEdit(applyEdit(muted, { kind: "removeHits", hits: [first!] }), {
      kind: "addHits",
      hits: [added],
    });
    expect(notesOf(pattern)).toEqual([
      "490 kick, note 36, velocity 90, 60 ticks",
      "700 snare, note 38, velocity 55, 60 ticks",
    ]);
    const table = tabulateMessages(take.file, pattern);
    const row = [...table.ticks].indexOf(700);
    expect(messageIdAt(table, row)).toBe("drawn");
    expect(isInFile(table, row)).toBe(false);
    expect(messageIdAt(table, table.partnerRows[row]!)).toBe("drawn end");
    // Taken out by its row, it is taken out of the take.
    const without = applyEdit(pattern, changeMessages(pattern, take.file, [{ messageId: "drawn", to: null }]));
    expect(without.hits.map(({ id }) => id)).not.toContain("drawn");
  });

  it("calls each message by another name, those of a hand on a recorded cymbal, too", () => {
    const gripped = { ...first!, id: "recorded", pass: 1, recordedTick: 700, chokedTicks: 100, pedal: 64 };
    const pattern = applyEdit(take.pattern, { kind: "addHits", hits: [gripped] });
    const table = tabulateMessages(take.file, pattern);
    const ids = Array.from({ length: table.count }, (_, row) => messageIdAt(table, row));
    expect(ids.filter((id) => id.startsWith("recorded"))).toHaveLength(5);
    expect(new Set(ids).size).toBe(ids.length);
  });

  it("has lengths as they are written", () => {
    const short = treated((treatment) => ({ ...treatment, lengths: { ...USUAL_LENGTHS, mode: "fixed", fixedMs: 25 } }));
    expect(notesOf(short).every((line) => line.endsWith(", 24 ticks"))).toBe(true);
  });

  it("leaves to the treatment what was not typed", () => {
    const tight = treated((treatment) => ({
      ...treatment,
      timing: { ...treatment.timing, isOn: true, strengthPercent: 100 },
    }));
    const edit = changeMessages(tight, take.file, [{ messageId: first!.id, to: { tick: 0, bytes: [0x99, 38, 33] } }]);
    expect(applyEdit(tight, edit).hits[0]).toMatchObject({ pinnedTick: null, pinnedVelocity: 33 });
  });

  it("is what the exported file holds, message for message", () => {
    const pattern = treated((treatment) => ({
      ...treatment,
      timing: { ...treatment.timing, isOn: true, strengthPercent: 60 },
      lengths: { ...USUAL_LENGTHS, mode: "next" },
    }));
    const bytes = exportTake(take.bytes, pattern);
    const { file } = readMidiFile(bytes);
    const written = tabulateMessages(file, importTake(bytes, GENERAL_MIDI).pattern);
    const listed = tabulateMessages(take.file, pattern);
    expect(written.count).toBe(listed.count);
    for (let row = 0; row < listed.count; row++) expect(messageAt(written, row)).toEqual(messageAt(listed, row));
  });
});

describe("odd messages", () => {
  const part = (from: number) => Array.from({ length: 8 }, (_, index) => note(from + index * 480, 38)).flat();

  it("are none in a clean take", () => {
    expect(oddOf(takeOf(HEAD, [channel(0, 0xc9, 0), channel(0, 0xb9, 4, 90), ...part(0)]))).toEqual({});
  });

  it("are found, each for what it is", () => {
    const jitter = Array.from({ length: 40 }, (_, index) => channel(index * 7, 0xb9, 16, 60 + (index % 4)));
    const take = takeOf(
      [...HEAD, meta(960, META.tempo, ...TEMPO_120)],
      [
        ...part(0),
        ...jitter,
        channel(4000, 0x99, 45, 80), // never ends
        ...note(4100, 47, 80, 0),
        ...note(4200, 43, 80, 480 * 11),
        channel(500, 0xc9, 12),
        channel(510, 0xd9, 90),
        channel(520, 0xa9, 57, 40),
      ],
    );
    expect(oddOf(take)).toEqual({
      hanging: 1,
      zeroLength: 1,
      overlong: 1,
      pressure: 2,
      jitter: 40,
      program: 1,
      repeatedTempo: 1,
    });
  });

  it("are no pedal that is worked, and no hand that chokes a cymbal", () => {
    const pedal = Array.from({ length: 40 }, (_, index) => channel(index * 7, 0xb9, 4, (index % 2) * 100));
    expect(oddOf(takeOf(HEAD, [...part(0), ...pedal, ...note(900, 49), channel(940, 0xa9, 49, 127)]))).toEqual({});
  });

  it("are strokes that were tried before the part, but not a slow part", () => {
    expect(oddOf(takeOf(HEAD, [...note(0, 38), ...note(200, 36), ...part(1920 * 4)]))).toEqual({ beforeFirstBar: 2 });
    expect(oddOf(takeOf(HEAD, [...part(0), ...part(1920 * 6)]))).toEqual({});
  });
});

describe("changing messages", () => {
  const take = takeOf(
    [...HEAD, meta(960, META.tempo, 0x0f, 0x42, 0x40)],
    [channel(480, 0xc9, 12), ...note(480, 38), ...note(960, 36)],
  );
  const idOf = (word: string) => {
    const table = tabulateMessages(take.file, take.pattern);
    const rows = Array.from({ length: table.count }, (_, row) => row);
    const row = rows.find((candidate) => messageWords(messageAt(table, candidate), null).includes(word));
    return messageIdAt(table, row!);
  };
  const exported = (pattern: Pattern) => {
    const bytes = exportTake(take.bytes, pattern);
    return wordsOf({ bytes, file: readMidiFile(bytes).file, pattern: importTake(bytes, GENERAL_MIDI).pattern });
  };

  it("takes one out of the list and of what is exported, and undoing brings it back", () => {
    const edit = changeMessages(take.pattern, take.file, [{ messageId: idOf("Program"), to: null }]);
    const after = applyEdit(take.pattern, edit);
    expect(wordsOf({ ...take, pattern: after }).join()).not.toContain("Program");
    expect(exported(after)).toEqual(wordsOf(take).filter((line) => !line.includes("Program")));
    const back = applyEdit(after, invertEdit(JSON.parse(JSON.stringify(edit))));
    expect(back).toEqual(take.pattern);
    expect(exportTake(take.bytes, back)).toEqual(take.bytes);
  });

  it("changes values and place", () => {
    const to = { tick: 1200, bytes: [0xc9, 30] };
    const after = applyEdit(
      take.pattern,
      changeMessages(take.pattern, take.file, [{ messageId: idOf("Program"), to }]),
    );
    expect(exported(after)).toContain("1200 Program 31");
  });

  it("takes a hit out with its end, and pins what is changed of one", () => {
    const snare = idOf("Note 38");
    const without = applyEdit(take.pattern, changeMessages(take.pattern, take.file, [{ messageId: snare, to: null }]));
    expect(without.hits).toHaveLength(1);
    expect(exported(without).join()).not.toContain("38");
    const to = { tick: 500, bytes: [0x99, 38, 33] };
    const edit = changeMessages(take.pattern, take.file, [{ messageId: snare, to }]);
    expect(edit.kind).toBe("together");
    const moved = applyEdit(take.pattern, edit);
    expect(moved.hits[0]).toMatchObject({ pinnedTick: 500, pinnedVelocity: 33 });
    expect(exported(moved)).toContain("500 snare, note 38, velocity 33, 60 ticks");
    expect(applyEdit(moved, invertEdit(edit))).toEqual(take.pattern);
  });

  it("changes the time of the pattern with its tempo", () => {
    const edit = changeMessages(take.pattern, take.file, [{ messageId: idOf("Tempo 60"), to: null }]);
    const after = applyEdit(take.pattern, edit);
    expect(take.pattern.tempos).toHaveLength(2);
    expect(after.tempos).toEqual([{ tick: 0, usPerQuarter: 500_000 }]);
    expect(applyEdit(after, invertEdit(edit))).toEqual(take.pattern);
  });
});

describe("a CSV row", () => {
  it("quotes what needs it, and lets no text be a formula", () => {
    expect(csvRow([1, "plain", 'a "b", c', "=SUM(A1)"])).toBe(`1,plain,"a ""b"", c",'=SUM(A1)\r\n`);
  });
});
