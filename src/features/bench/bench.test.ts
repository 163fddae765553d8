import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { namedKeys } from "../../components/keyboard.ts";
import { findVoice, GENERAL_MIDI } from "../../core/notemap/index.ts";
import { hitAt, laneOf, patternOf } from "../../core/testing/patterns.ts";
import { buildTimeMaps } from "../../core/time/index.ts";
import { STAND_IN_KIT } from "../../store/kit-choice.ts";
import { deriveLanes } from "../../store/lane-view.ts";
import { COMMANDS } from "./commands.ts";
import { boxAt, finHeightOf, layoutLanes } from "./lane-layout.ts";
import type { Inks } from "./paint/inks.ts";
import type { PaintContext } from "./paint/paint-fins.ts";
import { paintLanes } from "./paint/paint-lanes.ts";

const key = (name: string, held: Partial<Record<"ctrlKey" | "metaKey" | "shiftKey", boolean>> = {}) =>
  namedKeys({ key: name, ctrlKey: false, metaKey: false, shiftKey: false, ...held });

describe("keys", () => {
  it("are named as the sheet shows them", () => {
    expect(key(" ")).toBe("Space");
    expect(key("ArrowLeft", { shiftKey: true })).toBe("Shift+←");
    expect(key("z", { metaKey: true })).toBe("Ctrl+Z");
    expect(key("Z", { ctrlKey: true, shiftKey: true })).toBe("Ctrl+Shift+Z");
    expect(key("?", { shiftKey: true })).toBe("?");
    expect(key("+", { shiftKey: true })).toBe("+");
  });

  it("mean one command each", () => {
    const keys = COMMANDS.flatMap((command) => command.keys);
    expect(new Set(keys).size).toBe(keys.length);
  });
});

describe("lane layout", () => {
  const lanes = ["hat", "snare", "kick"].map((voiceId) => ({ voice: findVoice(GENERAL_MIDI, voiceId) }));

  it("stacks lanes without gaps, whichever is open", () => {
    for (const open of [null, "hat", "snare", "kick"]) {
      const boxes = layoutLanes(lanes, open, false);
      for (let index = 1; index < boxes.length; index++) {
        expect(boxes[index]!.top).toBe(boxes[index - 1]!.top + boxes[index - 1]!.height);
      }
      for (const box of boxes) expect(boxAt(boxes, box.base)).toBe(box);
    }
  });

  it("gives the open lane a field, a rail and a row for each articulation", () => {
    const snare = layoutLanes(lanes, "snare", false)[1]!;
    expect(snare.open?.articulations.map((row) => row.name)).toEqual(["centre", "rim shot", "cross-stick"]);
    expect(snare.open!.railZero).toBeGreaterThan(snare.base);
    expect(finHeightOf(snare, 127)).toBe(snare.finHeight);
  });
});

/** Records what a painter does instead of drawing it. */
function recorder() {
  const moves: [x: number, y: number][] = [];
  let fills = 0;
  const cleared: number[][] = [];
  const nothing = () => {};
  const context = {
    beginPath: nothing,
    moveTo: (x: number, y: number) => moves.push([x, y]),
    lineTo: nothing,
    quadraticCurveTo: nothing,
    closePath: nothing,
    rect: nothing,
    arc: nothing,
    fill: nothing,
    stroke: nothing,
    fillRect: () => fills++,
    clearRect: (x: number, y: number, width: number, height: number) => cleared.push([x, y, width, height]),
    fillText: nothing,
    measureText: () => ({ width: 0 }) as TextMetrics,
    setLineDash: nothing,
    fillStyle: "",
    strokeStyle: "",
    lineWidth: 1,
    globalAlpha: 1,
    font: "",
    textBaseline: "",
    textAlign: "",
  } satisfies PaintContext;
  return { context, moves, cleared, fillCount: () => fills };
}

const inks = new Proxy({}, { get: () => "#000" }) as Inks;

function paint(hitCount: number, ticksPerPx: number, { isOn = true, openVoiceId = null as string | null } = {}) {
  const hits = Array.from({ length: hitCount }, (_, index) => hitAt(index * 120 + 10));
  const pattern = patternOf(hits, {
    lengthTicks: hitCount * 120 + 1920,
    lanes: [laneOf("snare", { isOn, strengthPercent: 100 })],
  });
  const maps = buildTimeMaps(pattern);
  const lanes = deriveLanes(pattern, [], maps);
  const record = recorder();
  paintLanes(
    record.context,
    {
      lanes,
      boxes: layoutLanes(lanes, openVoiceId, false),
      summaries: new Map(),
      maps,
      lengthTicks: pattern.lengthTicks,
      viewport: { startTick: 0, ticksPerPx, widthPx: 800 },
      side: "cleaned",
      asRecorded: new Set<string>(),
      colourBy: "family",
      streams: [],
      picked: new Set(["0:10"]),
      seen: new Set<string>(),
      fadesOthers: false,
      kit: STAND_IN_KIT,
      isClear: () => true,
      inks,
    },
    null,
  );
  return record;
}

describe("painting lanes", () => {
  it("puts the upright edge of a fin at its cleaned time, and the recorded tick under the line", () => {
    const { moves } = paint(3, 1);
    const { base } = layoutLanes([{ voice: findVoice(GENERAL_MIDI, "snare") }], null, false)[0]!;
    expect(moves).toContainEqual([120, base]);
    expect(moves).toContainEqual([130.5, base + 3]);
  });

  it("ends the tail of an open hat where the foot shuts it, and marks where a hand chokes a cymbal", () => {
    const hat = { voiceId: "hat", articulationId: "open", note: 46 };
    const crash = { voiceId: "crash", articulationId: "crash", note: 49 };
    const hits = [
      hitAt(0, { ...hat, id: "a", shutTicks: 100 }),
      hitAt(0, { ...crash, id: "b", chokedTicks: 60 }),
      hitAt(400, { ...hat, id: "c" }),
      hitAt(600, { ...hat, id: "d", articulationId: "half-open" }),
    ];
    const pattern = patternOf(hits, { lanes: [laneOf("crash"), laneOf("hat")] });
    const maps = buildTimeMaps(pattern);
    const lanes = deriveLanes(pattern, [], maps);
    expect([...lanes[1]!.ringTicks]).toEqual([100, Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY]);
    expect([...lanes[0]!.ringTicks]).toEqual([60]);
    const { context } = recorder();
    const rects: number[][] = [];
    const lines: number[][] = [];
    const painter: PaintContext = {
      ...context,
      fillRect: (...rect: number[]) => rects.push(rect),
      lineTo: (...point: number[]) => lines.push(point),
    };
    const boxes = layoutLanes(lanes, null, false);
    const viewport = { startTick: 0, ticksPerPx: 1, widthPx: 800 };
    const more = {
      summaries: new Map(),
      picked: new Set<string>(),
      seen: new Set<string>(),
      fadesOthers: false,
      kit: STAND_IN_KIT,
      isClear: () => true,
      inks,
      streams: [],
    };
    const view = { viewport, side: "cleaned" as const, asRecorded: new Set<string>(), colourBy: "family" as const };
    paintLanes(painter, { ...view, ...more, lanes, boxes, maps, lengthTicks: 7680 }, null);
    expect(rects).toContainEqual([60, boxes[0]!.base - 9, 2, 9]);
    expect(lines).toContainEqual([99, boxes[1]!.base]);
    expect(lines).toContainEqual([599, boxes[1]!.base]);
  });

  it("paints only the lanes that have changed, on their own ground", () => {
    const hits = [hitAt(0), hitAt(480, { voiceId: "kick", articulationId: "main" })];
    const pattern = patternOf(hits, { lanes: [laneOf("snare"), laneOf("kick")] });
    const maps = buildTimeMaps(pattern);
    const before = deriveLanes(pattern, [], maps);
    const lanes = deriveLanes({ ...pattern, lanes: [laneOf("snare"), laneOf("kick", { isOn: true })] }, before, maps);
    const { context, cleared, moves } = recorder();
    const boxes = layoutLanes(lanes, null, false);
    const viewport = { startTick: 0, ticksPerPx: 1, widthPx: 800 };
    const scene = {
      lanes,
      boxes,
      summaries: new Map(),
      maps,
      lengthTicks: 7680,
      viewport,
      side: "cleaned" as const,
      asRecorded: new Set<string>(),
      colourBy: "family" as const,
      streams: [],
      picked: new Set<string>(),
      seen: new Set<string>(),
      fadesOthers: false,
      kit: STAND_IN_KIT,
      isClear: () => true,
      inks,
    };
    paintLanes(context, scene, [lanes[0]!, before[1]!]);
    expect(cleared).toEqual([[0, boxes[1]!.top, 800, boxes[1]!.height]]);
    expect(moves.every(([, y]) => y >= boxes[1]!.top)).toBe(true);
  });

  it("paints only what is in view", () => {
    const few = paint(20, 1).moves.length;
    const many = paint(5000, 1).moves.length;
    expect(many).toBeLessThan(few * 2);
  });

  it("draws at most a mark a pixel where hits are denser than pixels", () => {
    expect(paint(50_000, (50_000 * 120) / 780).fillCount()).toBeLessThan(2 * 800 + 50);
    // The open lane has fins, a rail and a row of articulations.
    expect(paint(50_000, (50_000 * 120) / 780, { openVoiceId: "snare" }).fillCount()).toBeLessThan(4 * 800 + 50);
  });
});

describe("the themes", () => {
  const css = readFileSync("app/globals.css", "utf8");
  const inksOf = (block: string) =>
    Object.fromEntries([...block.matchAll(/--([a-z-]+): (#[0-9a-f]{6});/g)].map((match) => [match[1]!, match[2]!]));
  const day = inksOf(css.slice(css.indexOf(":root {"), css.indexOf("}")));
  const night = { ...day, ...inksOf(css.slice(css.indexOf('[data-theme="night"]'))) };
  const light = (hex: string) => {
    const [red, green, blue] = [1, 3, 5].map((at) => {
      const share = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
      return share <= 0.03928 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
    }) as [number, number, number];
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
  };
  /** @source WCAG 2.2, contrast ratio */
  const contrast = (a: string, b: string) => {
    const [dark, bright] = [light(a), light(b)].sort((one, other) => one - other) as [number, number];
    return (bright + 0.05) / (dark + 0.05);
  };

  it.each([
    ["day", day],
    ["night", night],
  ] as const)("have text of 4.5:1 and marks of 3:1 by %s", (_, theme) => {
    for (const ground of ["paper", "sheet"]) {
      for (const text of ["ink", "muted", "spruce", "amber-text", "brick"])
        expect(contrast(theme[text]!, theme[ground]!), `${text} on ${ground}`).toBeGreaterThanOrEqual(4.5);
      for (const mark of ["amber", "edge", "cymbals", "hats", "snare", "toms", "kick", "percussion"]) {
        expect(contrast(theme[mark]!, theme[ground]!), `${mark} on ${ground}`).toBeGreaterThanOrEqual(3);
      }
    }
    expect(contrast(theme["on-spruce"]!, theme.spruce!)).toBeGreaterThanOrEqual(4.5);
    for (const tint of ["amber-tint", "spruce-tint", "brick-tint"])
      expect(contrast(theme.ink!, theme[tint]!), tint).toBeGreaterThanOrEqual(4.5);
  });
});
