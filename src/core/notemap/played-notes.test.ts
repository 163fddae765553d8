import { describe, expect, it } from "vitest";
import { entryOf } from "../document/index.ts";
import { GENERAL_MIDI } from "./general-midi.ts";
import { mapForNotes } from "./played-notes.ts";

const strokeOf = (played: readonly number[], note: number) =>
  entryOf(mapForNotes(GENERAL_MIDI, new Set(played)), { note, channel: 9, pedal: null })?.articulationId;

describe("the map of what is played", () => {
  it("has a snare, and no rim shots, for a take whose only snare is the second note of it", () => {
    expect(strokeOf([36, 40, 42], 40)).toBe("centre");
  });

  it("leaves rim shots where both notes are played, and maps that name the note otherwise", () => {
    expect(strokeOf([38, 40], 40)).toBe("rim-shot");
    const own = { ...GENERAL_MIDI, entries: GENERAL_MIDI.entries.filter(({ note }) => note !== 38) };
    expect(mapForNotes(own, new Set([40]))).toBe(own);
  });
});
