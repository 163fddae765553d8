import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { findVoice } from "../../core/document/index.ts";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import { namedKeys } from "../../store/page/keyboard.ts";
import { COMMANDS } from "./commands/commands.ts";
import { boxAt, finHeightOf, type LaneLook, layoutLanes } from "./lanes/lane-layout.ts";

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

  const look = (change: Partial<LaneLook> = {}): LaneLook => ({
    openVoiceId: null,
    keptOpen: new Set(),
    laneZoom: 1,
    laneSizes: new Map(),
    lanesViewPx: 0,
    ...change,
  });

  it("stacks lanes without gaps, whichever are open and however tall", () => {
    for (const openVoiceId of [null, "hat", "snare", "kick"]) {
      const keptOpen = new Set(["kick"]);
      const boxes = layoutLanes(lanes, look({ openVoiceId, keptOpen, laneZoom: 0.7 }));
      for (let index = 1; index < boxes.length; index++) {
        expect(boxes[index]!.top).toBe(boxes[index - 1]!.top + boxes[index - 1]!.height);
      }
      for (const box of boxes) expect(boxAt(boxes, box.base)).toBe(box);
    }
  });

  it("lets closed lanes grow where the screen has room, and leaves room for the open one", () => {
    const heights = (open: string | null, viewHeightPx: number) =>
      layoutLanes(lanes, look({ openVoiceId: open, lanesViewPx: viewHeightPx })).map(({ height }) => height);
    expect(heights(null, 0)).toEqual([44, 44, 44]);
    expect(heights(null, 300 + 3 * 50)).toEqual([50, 50, 50]);
    expect(heights(null, 5000)).toEqual([72, 72, 72]);
    const opened = heights("snare", 300 + 3 * 50);
    expect([opened[0], opened[2]]).toEqual([50, 50]);
    expect(layoutLanes(lanes, look({ laneZoom: 0.6 }))[0]!.height).toBe(26);
  });

  it("makes lanes as tall as a hand made them, closed and open", () => {
    const laneSizes = new Map([
      ["hat", { closedPx: 100 }],
      ["snare", { fieldPx: 200 }],
    ]);
    const [hat, snare, kick] = layoutLanes(lanes, look({ openVoiceId: "snare", laneSizes }));
    expect([hat!.height, snare!.finHeight, kick!.height]).toEqual([100, 194, 44]);
  });

  it("gives the open lane a field, a rail and a row for each articulation", () => {
    const snare = layoutLanes(lanes, look({ openVoiceId: "snare" }))[1]!;
    expect(snare.open?.articulations.map((row) => row.name)).toEqual(["centre", "rim shot", "cross-stick"]);
    expect(snare.open!.railZero).toBeGreaterThan(snare.base);
    expect(finHeightOf(snare, 127)).toBe(snare.finHeight);
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
