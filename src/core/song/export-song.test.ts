import { describe, expect, it } from "vitest";
import type { Pattern } from "../document/index.ts";
import { type KitMoves, NO_MOVES } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { META, type MidiMessage, readMidiFile, readText } from "../smf/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import {
  type Arrangement,
  cutInto,
  cutsEvery,
  exportSong,
  NO_ARRANGEMENT,
  repeatInSong,
  toggleEntry,
} from "./index.ts";

const BAR = 1920;
let ids = 0;
const newId = () => `id ${++ids}`;

const take = (arrangement: Arrangement, more: Partial<Pattern> = {}): Pattern =>
  patternOf(
    [
      hitAt(0, { voiceId: "kick", note: 36 }),
      hitAt(490),
      hitAt(BAR - 8, { voiceId: "kick", note: 36 }),
      hitAt(BAR + 470),
      hitAt(3 * BAR + 5, { voiceId: "hat", note: 42, pedal: 90, chokedTicks: 30 }),
    ],
    {
      lengthTicks: 4 * BAR,
      tempos: [{ tick: 0, usPerQuarter: 600_000 }],
      meters: [{ tick: 0, numerator: 4, denominator: 4 }],
      lanes: [laneOf("hat"), laneOf("snare", { isOn: true, strengthPercent: 100 }), laneOf("kick")],
      arrangement,
      ...more,
    },
  );
const read = (pattern: Pattern, moves: KitMoves = NO_MOVES) => readMidiFile(exportSong(pattern, moves)).file;
const textsOf = (messages: readonly MidiMessage[], metaType: number) =>
  messages.flatMap((one) =>
    one.kind === "meta" && one.metaType === metaType ? [[one.tick, readText(one.data)] as const] : [],
  );
const channel = (messages: readonly MidiMessage[], status: number) =>
  messages.flatMap((one) =>
    one.kind === "channel" && (one.status & 0xf0) === status ? [[one.tick, one.data1, one.data2] as const] : [],
  );
const halves = () => cutInto(NO_ARRANGEMENT, cutsEvery(4, 2), newId);

describe("a song as a file", () => {
  it("has its clock and markers on the first track, and each voice on one of its own, cleaned", () => {
    const song = halves();
    const { tracks } = read(take(repeatInSong(song, song.song[0]!.id, 2)));
    expect(tracks).toHaveLength(4);
    expect(textsOf(tracks[0]!.messages, META.marker)).toEqual([
      [0, "Bars 1 to 2"],
      [2 * BAR, "Bars 1 to 2"],
      [4 * BAR, "Bars 3 to 4"],
    ]);
    expect(tracks[0]!.messages.at(-1)).toMatchObject({ metaType: META.endOfTrack, tick: 6 * BAR });
    expect(tracks.slice(1).map(({ messages }) => textsOf(messages, META.trackName)[0]![1])).toEqual([
      "Hi-hat",
      "Snare",
      "Kick",
    ]);
    expect(channel(tracks[2]!.messages, 0x90)).toEqual(
      [480, BAR + 480, 2 * BAR + 480, 3 * BAR + 480].map((tick) => [tick, 38, 90]),
    );
    // A kick ahead of its bar line is so each time.
    expect(channel(tracks[3]!.messages, 0x90).map(([tick]) => tick)).toEqual([0, BAR - 8, 2 * BAR, 3 * BAR - 8]);
  });

  it("tells where the pedal was, ends what was choked, and ends every note before the next of its kind", () => {
    const { tracks } = read(take(halves()));
    expect(channel(tracks[1]!.messages, 0xb0)).toEqual([[3 * BAR + 5, 4, 90]]);
    expect(channel(tracks[1]!.messages, 0x80)).toEqual([[3 * BAR + 35, 42, 0]]);
    const near = take(halves(), { hits: [hitAt(0), hitAt(20)], lanes: [laneOf("snare")] });
    const { messages } = read(near).tracks[1]!;
    expect(channel(messages, 0x80).map(([tick]) => tick)).toEqual([20, 80]);
  });

  it("takes the pedal along up to the next stroke, and hands that press a cymbal, wherever their strokes go", () => {
    const hats = [0, 480, BAR + 960].map((tick) =>
      hitAt(tick, { voiceId: "hat", note: 42, pedal: tick === 0 ? 0 : 90 }),
    );
    const crash = hitAt(BAR, { voiceId: "crash-1", note: 49 });
    const moves: KitMoves = {
      pedals: new Map([
        [
          0,
          [
            { tick: 0, value: 0 },
            { tick: 200, value: 60 },
            { tick: 470, value: 90 },
            { tick: BAR, value: 20 },
            { tick: BAR + 950, value: 90 },
          ],
        ],
      ]),
      hands: new Map([
        [
          crash.id,
          [
            { tick: 100, value: 127 },
            { tick: 300, value: 0 },
          ],
        ],
      ]),
    };
    const song = cutInto(NO_ARRANGEMENT, cutsEvery(2, 1), newId);
    // The second bar comes first.
    const entries = [song.song[1]!, song.song[0]!];
    const turned = take(
      { ...song, song: entries },
      { hits: [...hats, crash], lanes: [laneOf("hat"), laneOf("crash-1")], lengthTicks: 2 * BAR },
    );
    const { tracks } = read(turned, moves);
    expect(channel(tracks[1]!.messages, 0xb0)).toEqual([
      [960, 4, 90],
      [BAR, 4, 0],
      [BAR + 200, 4, 60],
      [BAR + 470, 4, 90],
      [BAR + 480 + BAR - 480, 4, 20],
      [BAR + 480 + BAR + 470, 4, 90],
    ]);
    expect(channel(tracks[2]!.messages, 0xa0)).toEqual([
      [100, 49, 127],
      [300, 49, 0],
    ]);
  });

  it("keeps silence as long as it is, and goes out on the notes of the outgoing map", () => {
    const song = halves();
    const outgoingMap = {
      ...GENERAL_MIDI,
      id: "other",
      entries: GENERAL_MIDI.entries.map((entry) => (entry.voiceId === "snare" ? { ...entry, note: 61 } : entry)),
    };
    const { tracks } = read(take(toggleEntry(song, song.song[0]!.id), { outgoingMap }));
    expect(textsOf(tracks[0]!.messages, META.marker)[0]).toEqual([0, "Bars 1 to 2 (muted)"]);
    expect(channel(tracks[2]!.messages, 0x90)).toEqual([]);
    expect(channel(tracks[1]!.messages, 0x90)).toHaveLength(1);
    const heard = read(take(song, { outgoingMap }));
    expect(channel(heard.tracks[2]!.messages, 0x90).map(([, note]) => note)).toEqual([61, 61]);
  });

  it("of nothing is an empty file that can be read", () => {
    expect(read(patternOf([], { lanes: [laneOf("snare")] })).tracks).toHaveLength(2);
  });
});
