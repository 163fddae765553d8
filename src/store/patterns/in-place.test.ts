import { describe, expect, it } from "vitest";
import { rhythmOf } from "../../core/pattern/index.ts";
import { hitAt, laneOf, patternOf } from "../../core/testing/patterns.ts";
import { buildTimeMaps } from "../../core/time/index.ts";
import { deriveLanes } from "../bench/lane-view.ts";
import { framedBy, settledIn } from "./in-place.ts";
import { PatternScore } from "./pattern-score.ts";

const BAR = 1920;
const quantized = { isOn: true, strengthPercent: 100, grid: { family: "straight", denominator: 8 } } as const;
/** Four bars with a snare on each beat. */
const take = patternOf(
  Array.from({ length: 16 }, (_, beat) => hitAt(beat * 480, { id: `${beat}`, recordedVelocity: 60 })),
  { lengthTicks: 4 * BAR, lanes: [laneOf("snare", { ...quantized, pushMs: 10 })] },
);
const maps = buildTimeMaps(take);
const lanes = deriveLanes(take, [], maps);
/** One bar, loosely played, with a drum that the take has no lane for. */
const loose = rhythmOf(
  patternOf(
    [hitAt(0), hitAt(260, { id: "late" }), hitAt(940, { id: "early" }), hitAt(500, { id: "kick", voiceId: "kick" })],
    {
      lengthTicks: BAR,
    },
  ),
);

describe("a pattern in its place in a take", () => {
  it("is pulled and pushed as the lanes there are, and is left alone where there is no lane", () => {
    const settled = settledIn(take, maps, BAR, loose, loose.strokes);
    const places = settled.map(({ hit, quarters }) => [hit.id, Math.round(quarters * 480)]);
    // 10 ms are 9.6 ticks at 120 bpm.
    expect(places).toEqual([
      ["0:0", 10],
      ["late", 250],
      ["kick", 500],
      ["early", 970],
    ]);
  });

  it("is not earlier by what the take came in late by, and has not the habit of its player", () => {
    const own = { ...quantized, latencyMs: 40, latencyStays: true, pocketMs: 100 } as const;
    const late = patternOf(take.hits, { lengthTicks: 4 * BAR, lanes: [laneOf("snare", own)] });
    const settled = settledIn(late, maps, BAR, loose, loose.strokes);
    expect(settled.map(({ quarters }) => Math.round(quarters * 480))).toEqual([0, 240, 500, 960]);
    const off = patternOf(take.hits, { lengthTicks: 4 * BAR, lanes: [laneOf("snare", { ...own, isOn: false })] });
    expect(settledIn(off, maps, BAR, loose, loose.strokes).map(({ hit }) => hit.id)).toEqual(
      loose.strokes.map(({ hit }) => hit.id),
    );
    expect(settledIn(off, maps, BAR, loose, loose.strokes).map(({ quarters }) => quarters)).toEqual(
      loose.strokes.map(({ quarters }) => quarters),
    );
  });

  it("keeps the places that the lane's grid does not have", () => {
    const sixteenths = rhythmOf(
      patternOf(
        [0, 130, 250, 345].map((tick) => hitAt(tick)),
        { lengthTicks: BAR },
      ),
    );
    const settled = settledIn(take, maps, BAR, sixteenths, sixteenths.strokes);
    expect(settled.map(({ quarters }) => Math.round(quarters * 480))).toEqual([10, 130, 250, 345]);
  });

  it("is heard between the bars before and after it, as far as there are any", () => {
    const inside = framedBy(take, lanes, maps, BAR, loose, loose.strokes);
    expect(inside.bars.map(({ startQuarters }) => startQuarters)).toEqual([0, 4, 8]);
    expect(inside.strokes[0]!.quarters).toBe(4);
    expect(inside.around.map(({ quarters }) => Math.floor(quarters))).toEqual([0, 1, 2, 3, 8, 9, 10, 11]);
    expect(framedBy(take, lanes, maps, 0, loose, loose.strokes).bars).toHaveLength(2);
    const behind = framedBy(take, lanes, maps, 4 * BAR, loose, loose.strokes);
    expect(behind.bars).toHaveLength(2);
    expect(behind.around.every(({ quarters }) => quarters < 4)).toBe(true);
  });

  it("is as loud as what is around it, which is as loud as it goes out", () => {
    const score = new PatternScore(120);
    const { bars, strokes, around } = framedBy(take, lanes, maps, BAR, loose, loose.strokes);
    score.choose("a", { bars }, strokes, null, around);
    const events = score.score().eventsBetween(0, 6000, 0);
    expect(events).toHaveLength(strokes.length + around.length);
    for (const { key, velocity, gain } of events) {
      expect((gain ?? 1) * velocity).toBeCloseTo(60, 5);
      if (key.includes("around")) expect(gain).toBe(1);
    }
  });
});
