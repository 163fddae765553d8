import { describe, expect, it } from "vitest";
import { type Cells, NO_ARRANGEMENT, PATTERN_COLOURS } from "../document/arrangement.ts";
import { applyEdit, DEFAULT_TREATMENT, invertEdit } from "../document/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { takeOffLatency, withLatency, withQuantize, withTiming } from "./timing-setting.ts";

const off = DEFAULT_TREATMENT.timing;

describe("a change of a timing that is off", () => {
  it("of the grid or the strength switches it on", () => {
    expect(withTiming(off, { grid: { family: "straight", denominator: 8 } })).toMatchObject({
      isOn: true,
      strengthPercent: 80,
    });
    expect(withTiming(off, { strengthPercent: 60 })).toMatchObject({ isOn: true, strengthPercent: 60 });
  });

  it("of push or humanize does just that, and pulls nothing", () => {
    expect(withTiming(off, { pushMs: 6 })).toMatchObject({ isOn: true, strengthPercent: 0, pushMs: 6 });
    expect(withTiming(off, { humanizeMs: 3, humanizeSeed: 2 })).toMatchObject({ isOn: true, strengthPercent: 0 });
    expect(withTiming({ ...off, isOn: true }, { pushMs: 6 })).toMatchObject({ isOn: true, strengthPercent: 80 });
  });

  it("of latency takes it off, and quantizes nothing; it stays off whether hits are quantized or not", () => {
    const late = withLatency({ ...off, pocketMs: 42 }, 35);
    expect(late).toEqual({ ...off, latencyMs: 35, latencyStays: true, pocketMs: 7 });
    expect(withLatency(late, 30)).toEqual({ ...late, latencyMs: 30, pocketMs: 12 });
    expect(withLatency(late, 0)).toEqual({ ...off, pocketMs: 42 });
    expect(withQuantize(late, true)).toEqual({ ...late, isOn: true });
    expect(withQuantize(withQuantize(late, true), false)).toEqual(late);
    // As it was stored before latency could stay.
    const old = { ...off, isOn: true, latencyMs: 35 };
    expect(withQuantize(old, false)).toEqual({ ...old, isOn: false, latencyStays: true });
  });

  it("of how the grid is followed moves nothing", () => {
    expect(withTiming(off, { leaveWithinMs: 6 })).toMatchObject({ isOn: false, leaveWithinMs: 6 });
    expect(withTiming(off, { keepsGraceNotes: false }).isOn).toBe(false);
  });
});

describe("the latency of a take", () => {
  const hits = [hitAt(20), hitAt(500, { id: "k", voiceId: "kick", articulationId: "main", pass: 1 })];
  const pattern = patternOf(hits, { lanes: [laneOf("snare"), laneOf("kick", { isOn: true })] });

  it("is taken off every voice, and in patterns of the song that quantize one otherwise", () => {
    const verse = (cells: Cells) => ({ id: "v", name: "Verse", colour: PATTERN_COLOURS[0]!, bars: [0], cells });
    const otherwise = { ...off, isOn: true, strengthPercent: 30 };
    const song = { ...NO_ARRANGEMENT, patterns: [verse({ snare: { timing: otherwise }, kick: { pushMs: 4 } })] };
    const withSong = { ...pattern, arrangement: song };
    const edit = takeOffLatency(withSong, 20);
    const { lanes, arrangement } = applyEdit(withSong, edit);
    // What was played in here had no latency, and its habit stays.
    expect(lanes.map(({ treatment: { timing } }) => [timing.latencyMs, timing.pocketMs])).toEqual([
      [20, -20],
      [20, 0],
    ]);
    expect(arrangement!.patterns).toEqual([
      verse({ snare: { timing: withLatency(otherwise, 20) }, kick: { pushMs: 4 } }),
    ]);
    expect(applyEdit(applyEdit(withSong, edit), invertEdit(edit))).toEqual(withSong);
  });

  it("is a change of lanes alone where no pattern has settings of its own", () => {
    expect(takeOffLatency(pattern, 20).kind).toBe("setTreatments");
    expect(takeOffLatency({ ...pattern, arrangement: NO_ARRANGEMENT }, 20).kind).toBe("setTreatments");
  });
});
