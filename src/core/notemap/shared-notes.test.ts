import { describe, expect, it } from "vitest";
import { nameNote, revoiceHits, setNoteMap } from "../commands/index.ts";
import { applyEdit, invertEdit, type Pattern } from "../document/index.ts";
import { exportTake, importTake } from "../file/index.ts";
import { META, type MidiMessage, readMidiFile, writeMidiFile, writeText } from "../smf/index.ts";
import { checkMap, GENERAL_MIDI, removeEntry } from "./index.ts";

type Strokes = readonly (readonly [tick: number, note: number])[];

/** A file of tracks on channel 1, each with its name and its strokes. */
function fileOf(...tracks: readonly (readonly [name: string, strokes: Strokes])[]): Uint8Array {
  return writeMidiFile({
    format: 1,
    division: { kind: "ppq", ppq: 480 },
    headerExtra: new Uint8Array(0),
    unknownChunks: [],
    tracks: tracks.map(([name, strokes]) => ({
      messages: [
        ...(name === "" ? [] : [{ kind: "meta", tick: 0, metaType: META.trackName, data: writeText(name) } as const]),
        ...strokes.flatMap(([tick, note]): MidiMessage[] => [
          { kind: "channel", tick, status: 0x90, data1: note, data2: 90 },
          { kind: "channel", tick: tick + 60, status: 0x80, data1: note, data2: 64 },
        ]),
      ],
    })),
  });
}

const on60 = (...ticks: readonly number[]): Strokes => ticks.map((tick) => [tick, 60]);
const SAMPLERS = fileOf(["BD deep", on60(0, 960)], ["Snare", on60(480, 1440)], ["Hats", on60(0, 240, 480, 720)]);
const lanesOf = ({ lanes, hits, noteMap }: Pattern) =>
  lanes.map(({ voiceId }) => {
    const name = noteMap.voices.find(({ id }) => id === voiceId)?.name ?? voiceId;
    return `${name} ${hits.filter((hit) => hit.voiceId === voiceId).length}`;
  });
const onsetsOf = (bytes: Uint8Array) =>
  readMidiFile(bytes).file.tracks.map(({ messages }) =>
    messages.flatMap((one) => (one.kind === "channel" && one.status >> 4 === 9 ? [[one.tick, one.data1]] : [])),
  );

describe("tracks that share a note", () => {
  const { pattern } = importTake(SAMPLERS, GENERAL_MIDI);

  it("are drums, each on a lane of its own that is called as its track, and go out as they came", () => {
    expect(pattern.streams.map(({ isDrums }) => isDrums)).toEqual([true, true, true]);
    expect(lanesOf(pattern).toSorted()).toEqual(["BD deep 2", "Hats 4", "Snare 2"]);
    checkMap(pattern.noteMap);
    expect(exportTake(SAMPLERS, pattern)).toEqual(SAMPLERS);
  });

  it("get what is drawn, and what is reassigned to their drum, on their own note", () => {
    const [kick] = pattern.hits.filter(({ voiceId }) => voiceId === "kick");
    const moved = applyEdit(pattern, revoiceHits(pattern, [kick!], { voiceId: "snare", articulationId: "centre" }));
    expect(onsetsOf(exportTake(SAMPLERS, moved))).toEqual([
      [[960, 60]],
      [
        [0, 60],
        [480, 60],
        [1440, 60],
      ],
      [
        [0, 60],
        [240, 60],
        [480, 60],
        [720, 60],
      ],
    ]);
    // Played in on the usual note of a kick, on the first track that is drums.
    const played = {
      ...kick!,
      id: "played",
      note: 38,
      voiceId: "snare",
      articulationId: "centre",
      pass: 1,
      recordedTick: 1900,
    };
    const added = applyEdit(pattern, { kind: "addHits", hits: [played] });
    expect(onsetsOf(exportTake(SAMPLERS, added))[1]).toEqual([
      [480, 60],
      [1440, 60],
      [1900, 60],
    ]);
  });

  it("can be told from one another no longer, and again", () => {
    const entry = pattern.noteMap.entries.find(({ track }) => track === "Hats")!;
    const edit = setNoteMap(pattern, removeEntry(pattern.noteMap, entry));
    const without = applyEdit(pattern, edit);
    expect(without.hits.filter(({ voiceId }) => voiceId === "hat")).toHaveLength(0);
    expect(exportTake(SAMPLERS, without)).toEqual(SAMPLERS);
    expect(applyEdit(without, invertEdit(edit))).toEqual(pattern);
    // A name for the note as such leaves the tracks that have their own.
    const named = applyEdit(pattern, nameNote(pattern, 60, { voiceId: "clap", articulationId: "clap" }));
    expect(lanesOf(named).toSorted()).toEqual(["BD deep 2", "Hats 4", "Snare 2"]);
  });

  it("are known to a map that was kept", () => {
    const again = importTake(SAMPLERS, pattern.noteMap).pattern;
    expect(again.noteMap).toEqual(pattern.noteMap);
    expect(lanesOf(again)).toEqual(lanesOf(pattern));
  });

  it("need no name of a drum, if they are three", () => {
    const bytes = fileOf(["One", on60(0)], ["Two", on60(480)], ["", on60(960)]);
    expect(lanesOf(importTake(bytes, GENERAL_MIDI).pattern).toSorted()).toEqual(["One 1", "Track 3 1", "Two 1"]);
  });

  it("are not those of one drum, nor those with notes of their own, nor a bass beside them", () => {
    const twice = fileOf(["Snare top", on60(0)], ["Snare bottom", on60(480)]);
    expect(importTake(twice, GENERAL_MIDI).pattern.noteMap.entries.some(({ track }) => track)).toBe(false);
    const own = fileOf(["Kick", [[0, 36]]], ["Snare", [[480, 38]]]);
    expect(importTake(own, GENERAL_MIDI).pattern.noteMap.entries.some(({ track }) => track)).toBe(false);
    const beside = fileOf(["Kick", on60(0)], ["Snare", on60(480)], ["Bass", on60(0, 960)]);
    expect(lanesOf(importTake(beside, GENERAL_MIDI).pattern).toSorted()).toEqual(["Kick 1", "Snare 1"]);
  });
});
