import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { NO_ARRANGEMENT, PATTERN_COLOURS, type SongPattern } from "../document/arrangement.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { cutRhythm, rhythmOf, twinKey } from "../pattern/index.ts";
import { anyState } from "../testing/documents.ts";
import { hitAt, laneOf, MS_PER_TICK, patternOf } from "../testing/patterns.ts";
import { rhythmsOfTake } from "./rhythms-of-take.ts";

const BAR = 1920;
/** Four bars of snares in eighths, 30 ticks late and some ticks off. */
const hits = Array.from({ length: 32 }, (_, index) =>
  hitAt(index * 240 + 30 + ((index * 7) % 11), { id: `${index}`, recordedVelocity: 70 + (index % 5) }),
);
const eighths = { family: "straight", denominator: 8 } as const;
const whole = { lengthTicks: 4 * BAR, lanes: [laneOf("snare", { grid: eighths, strengthPercent: 100 })] };
const song = (...patterns: readonly (readonly (number | null)[])[]) => ({
  ...NO_ARRANGEMENT,
  patterns: patterns.map(
    (bars, index): SongPattern => ({ id: `${index}`, name: `P${index}`, colour: PATTERN_COLOURS[0], bars }),
  ),
});
const placesOf = (take: ReturnType<typeof patternOf>) =>
  rhythmsOfTake(take, 2).map(({ rhythm }) => rhythm.strokes.map(({ quarters }) => quarters));

describe("the patterns of a take", () => {
  it("are two bars each where it was never cut, and as they were played where nothing was done", () => {
    const take = patternOf(hits, whole);
    const found = rhythmsOfTake(take, 2);
    expect(found.map(({ bars, name }) => [bars, name])).toEqual([
      [[0, 1], ""],
      [[2, 3], ""],
    ]);
    for (const { rhythm, played, bars } of found) {
      const cut = cutRhythm(rhythmOf(take), bars[0]!, bars.at(-1)! + 1);
      expect(rhythm.bars).toEqual(cut.bars);
      expect(rhythm.strokes.map(({ hit, velocity }) => [hit, velocity])).toEqual(
        cut.strokes.map(({ hit, velocity }) => [hit, velocity]),
      );
      for (const [at, { quarters }] of rhythm.strokes.entries())
        expect(quarters).toBeCloseTo(cut.strokes[at]!.quarters, 9);
      expect(played).toBe(twinKey(cut));
    }
  });

  it("are as the take goes out: cleaned, on time, without what is muted, and known by what was recorded", () => {
    const late = { latencyMs: 30 * MS_PER_TICK, latencyStays: true } as const;
    const onTime = patternOf(hits, { ...whole, lanes: [laneOf("snare", { grid: eighths, ...late })] });
    expect(placesOf(onTime)[0]!.slice(0, 3)).toEqual([0, 247 / 480, 483 / 480]);
    const quantized = laneOf("snare", { grid: eighths, strengthPercent: 100, isOn: true, ...late });
    const muted = hits.map((hit) => (hit.id === "1" ? { ...hit, isMuted: true as const } : hit));
    const cleaned = patternOf(muted, { ...whole, lanes: [quantized] });
    expect(placesOf(cleaned)[0]!.slice(0, 3)).toEqual([0, 1, 1.5]);
    expect(rhythmsOfTake(cleaned, 2)[0]!.rhythm.strokes[1]!.velocity).toBe(72);
    const [before] = rhythmsOfTake(onTime, 2);
    const [after] = rhythmsOfTake(patternOf(hits, { ...whole, lanes: [quantized] }), 2);
    expect(after!.played).toBe(before!.played);
  });

  it("are those of its song, with silent bars and bars that come again, and with what the song does to them", () => {
    const one = song([2, 3], [0, null, 0]);
    const pushed = one.patterns.map((pattern) => ({ ...pattern, cells: { snare: { pushMs: 24 * MS_PER_TICK } } }));
    const quantized = [laneOf("snare", { grid: eighths, strengthPercent: 100, isOn: true })];
    const take = patternOf(hits, { ...whole, lanes: quantized, arrangement: { ...one, patterns: pushed } });
    const found = rhythmsOfTake(take, 2);
    expect(found.map(({ name, bars, rhythm }) => [name, bars, rhythm.bars.length])).toEqual([
      ["P0", [2, 3], 2],
      ["P1", [0, 0], 3],
    ]);
    const bar = Array.from({ length: 8 }, (_, at) => at / 2 + 24 / 480);
    expect(placesOf(take)[1]).toEqual([...bar, ...bar.map((at) => at + 8)]);
  });

  it("have the notes that the take goes out on", () => {
    const outgoingMap = {
      ...GENERAL_MIDI,
      entries: GENERAL_MIDI.entries.map((entry) => (entry.voiceId === "snare" ? { ...entry, note: 61 } : entry)),
    };
    const [first] = rhythmsOfTake(patternOf(hits, { ...whole, outgoingMap }), 2);
    expect(new Set(first!.rhythm.strokes.map(({ hit }) => hit.note))).toEqual(new Set([61]));
  });

  it("hold every hit that is heard once where a take is not cut, whatever was done to it", () => {
    fc.assert(
      fc.property(anyState, ({ arrangement: _, ...take }) => {
        const heard = take.hits.filter(({ id, isMuted, voiceId }) => {
          const lane = take.lanes.find((one) => one.voiceId === voiceId);
          return lane && !isMuted && !lane.treatment.repair?.leftOut.includes(id);
        });
        const found = rhythmsOfTake(take, 2).flatMap(({ rhythm }) => rhythm.strokes.map(({ hit }) => hit.id));
        expect(found.toSorted()).toEqual(heard.map(({ id }) => id).toSorted());
      }),
    );
  });
});
