import { describe, expect, it } from "vitest";
import { META, type MidiMessage, writeText } from "../smf/index.ts";
import { patternOf } from "../testing/patterns.ts";
import { readMarkers } from "./index.ts";

const meta = (tick: number, metaType: number, text: string): MidiMessage => ({
  kind: "meta",
  tick,
  metaType,
  data: writeText(text),
});
const file = {
  format: 1,
  headerExtra: new Uint8Array(0),
  division: { kind: "ppq", ppq: 240 },
  unknownChunks: [],
  tracks: [
    { messages: [meta(480, META.marker, "Verse"), meta(0, META.trackName, "Song"), meta(960, META.marker, " ")] },
    { messages: [meta(0, META.cuePoint, "Door slams"), meta(9999, META.marker, "Behind the end")] },
  ],
} as const;

describe("markers", () => {
  it("are markers and cue points of all tracks, in pattern ticks and in order", () => {
    expect(readMarkers(file, patternOf([]))).toEqual([
      { tick: 0, text: "Door slams" },
      { tick: 960, text: "Verse" },
    ]);
  });

  it("follow what a hand made of them", () => {
    const moved = { tick: 240, bytes: [...writeText("Bridge")] };
    const pattern = patternOf([], { changedMessages: { "0:0": moved, "1:0": null } });
    expect(readMarkers(file, pattern)).toEqual([{ tick: 240, text: "Bridge" }]);
  });
});
