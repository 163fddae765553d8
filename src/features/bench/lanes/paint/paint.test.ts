import { describe, expect, it } from "vitest";
import { hitAt, laneOf, patternOf } from "../../../../core/testing/patterns.ts";
import {
  barAt,
  buildMeterMap,
  buildTempoMap,
  buildTimeMaps,
  type Grid,
  type MeterChange,
} from "../../../../core/time/index.ts";
import { deriveLanes } from "../../../../store/bench/lane-view.ts";
import { tickToX, type Viewport } from "../../../../store/bench/viewport.ts";
import type { Inks } from "./inks.ts";
import type { PaintContext } from "./paint-fins.ts";
import { forBarsInView, gridLinesOfBar } from "./paint-grid.ts";
import { paintOverviewFrame, paintOverviewHits } from "./paint-overview.ts";
import { countedBetween, paintRuler, type RulerScene } from "./paint-ruler.ts";

const viewport = (startTick: number, ticksPerPx: number): Viewport => ({ startTick, ticksPerPx, widthPx: 800 });
const inks = new Proxy({}, { get: (_, name) => String(name) }) as Inks;

/** Records rectangles with their colour, and texts with their place. */
function recorder() {
  const rects: { x: number; y: number; width: number; height: number; ink: unknown }[] = [];
  const texts: { text: string; x: number }[] = [];
  const nothing = () => {};
  const context = new Proxy({} as Record<string, unknown>, {
    get: (target, name) => {
      if (name === "fillRect") {
        return (x: number, y: number, width: number, height: number) =>
          rects.push({ x, y, width, height, ink: target.fillStyle });
      }
      if (name === "rect") {
        return (x: number, y: number, width: number, height: number) =>
          rects.push({ x, y, width, height, ink: target.strokeStyle });
      }
      if (name === "fillText") return (text: string, x: number) => texts.push({ text, x });
      return name in target ? target[String(name)] : nothing;
    },
  }) as unknown as PaintContext;
  return { context, rects, texts };
}

describe("bars in view", () => {
  const barsOf = (view: Viewport, changes: MeterChange[], narrowestPx: number, lengthTicks = 400 * 1920) => {
    const bars: number[] = [];
    forBarsInView(view, buildMeterMap(480, changes), lengthTicks, narrowestPx, (bar) => bars.push(bar.barIndex));
    return bars;
  };

  it("are those that the viewport shows", () => {
    expect(barsOf(viewport(1920 * 10 + 5, 4), [], 10)).toEqual([10, 11]);
    expect(barsOf(viewport(-50, 4), [], 10)).toEqual([0, 1]);
  });

  it("end with the pattern", () => {
    expect(barsOf(viewport(0, 20), [], 10, 3 * 1920)).toEqual([0, 1, 2]);
  });

  it("are thinned out where they are narrow, always to the same ones", () => {
    const bars = barsOf(viewport(0, 400), [], 30);
    expect(bars.length).toBeLessThanOrEqual(800 / 30 + 2);
    expect(bars.every((bar) => bar % 8 === 0)).toBe(true);
    expect(barsOf(viewport(1920 * 3, 400), [], 30).every((bar) => bar % 8 === 0)).toBe(true);
  });

  it("are few also for a meter of one thirty-second and for a pattern of days", () => {
    expect(barsOf(viewport(0, 1000), [{ tick: 0, numerator: 1, denominator: 32 }], 10).length).toBeLessThan(200);
    expect(barsOf(viewport(0, 1e7), [], 10, 8e9).length).toBeLessThan(200);
  });
});

describe("grid lines", () => {
  const linesOf = (ticksPerPx: number, denominator: 8 | 16, changes: MeterChange[] = []) => {
    const view = viewport(0, ticksPerPx);
    const lines: [x: number, isPulse: boolean][] = [];
    const grid = { family: "straight", denominator } as const;
    gridLinesOfBar(barAt(buildMeterMap(480, changes), 0), view, 480, grid, (x, isPulse) => lines.push([x, isPulse]));
    return {
      pulses: lines.filter(([, isPulse]) => isPulse).map(([x]) => x),
      steps: lines.filter(([, isPulse]) => !isPulse).map(([x]) => x),
      view,
    };
  };

  it("stand at the steps of the lane and at the pulses of the meter", () => {
    const { pulses, steps, view } = linesOf(4, 8);
    expect(pulses).toEqual([480, 960, 1440].map((tick) => tickToX(view, tick)));
    expect(steps).toHaveLength(7);
    expect(linesOf(4, 8, [{ tick: 0, numerator: 6, denominator: 8 }]).pulses).toEqual([tickToX(view, 720)]);
  });

  it("are left out where they would be a smear", () => {
    expect(linesOf(20, 16).steps).toEqual([]);
    expect(linesOf(20, 16).pulses).toHaveLength(3);
    expect(linesOf(100, 16).pulses).toEqual([]);
  });
});

function rulerOf(
  view: Viewport,
  lengthTicks: number,
  meterMap = buildMeterMap(480, []),
  loop: RulerScene["loop"] = null,
): RulerScene {
  const tempoMap = buildTempoMap(480, []);
  return { viewport: view, maps: { meterMap, tempoMap }, lengthTicks, loop, markers: [], countGrid: null, inks };
}

describe("the ruler", () => {
  it("counts between the beats as a drummer does, where there is room", () => {
    const words = (quarters: number, widthPx: number, grid: Grid | null) =>
      countedBetween(quarters, widthPx, grid).map(({ word }) => word);
    const triplets: Grid = { family: "triplet", denominator: 8 };
    expect(words(1, 200, null)).toEqual(["e", "&", "a"]);
    expect(words(1, 60, null)).toEqual(["&"]);
    expect(words(1, 40, null)).toEqual([]);
    expect(words(1, 200, triplets)).toEqual(["trip", "let"]);
    expect(words(1.5, 200, null)).toEqual(["&", "a"]);
    expect(words(0.5, 200, null)).toEqual([]);
  });

  it("counts bars and beats from 1, and shows the loop", () => {
    const { context, rects, texts } = recorder();
    const map = buildMeterMap(480, [{ tick: 0, numerator: 3, denominator: 4 }]);
    paintRuler(context, rulerOf(viewport(0, 4), 2880, map, { startTick: 1440, endTick: 2880 }), 26);
    const numbers = texts.filter(({ text }) => /\d/.test(text));
    expect(numbers.map(({ text }) => text)).toEqual(["1", "2", "3", "2", "2", "3"]);
    expect(numbers[3]!.x).toBe(360 + 5);
    expect(rects[0]).toMatchObject({ x: 360, width: 360, ink: "amber-tint" });
  });

  it("leaves beats out where there is no room for their numbers", () => {
    const { context, texts } = recorder();
    paintRuler(context, rulerOf(viewport(0, 24), 19_200), 26);
    expect(texts.map(({ text }) => text)).toEqual(["1", "2", "3", "4", "5", "6", "7", "8", "9", "10"]);
  });
});

describe("the ruler of a very long take", () => {
  it("keeps its numbers apart, however long they are", () => {
    const { context, texts } = recorder();
    const lengthTicks = 22_369_620 * 1920;
    paintRuler(context, rulerOf(viewport(0, lengthTicks / 800), lengthTicks), 26);
    expect(texts.length).toBeGreaterThan(3);
    for (const [index, { text, x }] of texts.entries()) {
      const next = texts[index + 1];
      if (next) expect(x + text.length * 7.5).toBeLessThan(next.x);
    }
  });
});

describe("the overview", () => {
  const hits = Array.from({ length: 40_000 }, (_, index) =>
    hitAt(index * 2, { voiceId: index % 2 === 0 ? "snare" : "kick" }),
  );
  const pattern = patternOf(hits, { lengthTicks: 96_000, lanes: [laneOf("snare"), laneOf("kick")] });
  const maps = buildTimeMaps(pattern);
  const scene = {
    lanes: deriveLanes(pattern, [], maps),
    side: "recorded" as const,
    lengthTicks: 96_000,
    viewport: viewport(9600, 12),
    loop: { startTick: 0, endTick: 48_000 },
    markers: [],
    sections: [],
    widthPx: 1000,
    heightPx: 50,
    inks,
  };

  it("paints a mark a pixel for each voice, in its ink", () => {
    const { context, rects } = recorder();
    paintOverviewHits(context, scene);
    expect(rects.length).toBeLessThanOrEqual(2 * 1000);
    expect(new Set(rects.map(({ ink }) => ink))).toEqual(new Set(["snare", "kick"]));
    expect(rects.every(({ y, height }) => y >= 0 && y + height <= 50)).toBe(true);
  });

  it("frames what the lanes show, and underlines the loop", () => {
    const { context, rects } = recorder();
    paintOverviewFrame(context, scene);
    expect(rects[0]).toMatchObject({ x: 0, width: 500, ink: "amber" });
    expect(rects[1]!.x).toBeCloseTo(100.8, 6);
    expect(rects[1]!.width).toBeCloseTo(100 - 1.6, 6);
  });
});
