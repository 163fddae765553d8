import { readFileSync } from "node:fs";
import { lab, rgb } from "d3";
import { describe, expect, it } from "vitest";

// Whether the inks of the drum families can be told apart by eyes that lack one kind of cone.
// Source: Machado, Oliveira and Fernandes 2009, matrices for full severity, on linear RGB.

const SIGHTS = {
  "full colour": [1, 0, 0, 0, 1, 0, 0, 0, 1],
  protanopia: [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998],
  deuteranopia: [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881],
  tritanopia: [1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039],
} as const;

const FAMILIES = ["cymbals", "hats", "snare", "toms", "kick", "percussion"] as const;
/** A distance in Lab that is plain to see in areas as small as fins. */
const TELLS_APART = 11;
const SMALLEST_CONTRAST = 3;

const css = readFileSync("app/globals.css", "utf8");

/** The colours of one theme, by name. */
function coloursOf(block: string): ReadonlyMap<string, string> {
  return new Map([...block.matchAll(/--([\w-]+):\s*(#[0-9a-f]{6})/gi)].map(([, name, value]) => [name!, value!]));
}

const linear = (channel: number) => (channel <= 0.04045 ? channel / 12.92 : ((channel + 0.055) / 1.055) ** 2.4);
const encoded = (channel: number) =>
  channel <= 0.0031308 ? channel * 12.92 : 1.055 * Math.max(0, channel) ** (1 / 2.4) - 0.055;

function linearOf(colour: string): readonly [number, number, number] {
  const { r, g, b } = rgb(colour);
  return [linear(r / 255), linear(g / 255), linear(b / 255)];
}

function seen(colour: string, matrix: readonly number[]) {
  const parts = linearOf(colour);
  const [r, g, b] = [0, 3, 6].map((row) =>
    Math.max(
      0,
      Math.min(
        1,
        parts.reduce((sum, part, column) => sum + part * matrix[row + column]!, 0),
      ),
    ),
  ) as [number, number, number];
  return lab(rgb(encoded(r) * 255, encoded(g) * 255, encoded(b) * 255));
}

function contrast(a: string, b: string): number {
  const luminance = (colour: string) => {
    const [r, g, b] = linearOf(colour);
    return 0.2126 * r + 0.7152 * g + 0.0722 * b;
  };
  const [dark, light] = [luminance(a), luminance(b)].sort((x, y) => x - y) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

const blocks = css.split(/(?=\[data-theme="?night|\.night|:root)/).filter((block) => block.includes("--cymbals: #"));

describe("the inks of the families", () => {
  it("are set for day and night", () => {
    expect(blocks).toHaveLength(2);
    for (const block of blocks) for (const family of FAMILIES) expect(coloursOf(block).get(family)).toBeDefined();
  });

  it.each(Object.entries(SIGHTS))("can be told apart with %s", (_name, matrix) => {
    for (const block of blocks) {
      const colours = coloursOf(block);
      for (const [index, one] of FAMILIES.entries()) {
        for (const other of FAMILIES.slice(index + 1)) {
          const [a, b] = [seen(colours.get(one)!, matrix), seen(colours.get(other)!, matrix)];
          const distance = Math.hypot(a.l - b.l, a.a - b.a, a.b - b.b);
          expect(distance, `${one} and ${other}`).toBeGreaterThan(TELLS_APART);
        }
      }
    }
  });

  it("have lines of bars, beats and steps under them that are seen on every ground they cross", () => {
    const over = (top: string, ground: string, share: number) => {
      const [a, b] = [rgb(top), rgb(ground)];
      const mixed = (channel: "r" | "g" | "b") => share * a[channel] + (1 - share) * b[channel];
      return rgb(mixed("r"), mixed("g"), mixed("b")).formatHex();
    };
    const least = { "line-bar": 3, "line-beat": 2, "line-step": 1.25 };
    for (const block of blocks) {
      const colours = coloursOf(block);
      const [paper, sheet] = [colours.get("paper")!, colours.get("sheet")!];
      const bands = [over(colours.get("spruce-tint")!, sheet, 0.6), over(colours.get("hairline")!, sheet, 0.4)];
      for (const [line, wanted] of Object.entries(least)) {
        for (const ground of [paper, sheet, ...bands]) {
          expect(contrast(colours.get(line)!, ground), `${line} on ${ground}`).toBeGreaterThanOrEqual(wanted);
        }
      }
    }
  });

  it("stand out from the paper", () => {
    for (const block of blocks) {
      const colours = coloursOf(block);
      for (const family of FAMILIES) {
        for (const ground of ["paper", "sheet"]) {
          expect(contrast(colours.get(family)!, colours.get(ground)!), `${family} on ${ground}`).toBeGreaterThanOrEqual(
            SMALLEST_CONTRAST,
          );
        }
      }
    }
  });
});
