import type { Family } from "../../../core/document/index.ts";
import { PATTERN_COLOURS } from "../../../core/song/index.ts";

const NAMES = [
  "paper",
  "sheet",
  "ink",
  "muted",
  "hairline",
  "hairline-strong",
  "spruce",
  "spruce-tint",
  "amber",
  "amber-tint",
  "cymbals",
  "hats",
  "snare",
  "toms",
  "kick",
  "percussion",
  ...PATTERN_COLOURS,
] as const satisfies readonly (Family | string)[];

/** The colours of the theme, for canvases, which cannot read CSS variables themselves. */
export type Inks = Readonly<Record<(typeof NAMES)[number], string>>;

export function readInks(): Inks {
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(NAMES.map((name) => [name, style.getPropertyValue(`--${name}`).trim()])) as Inks;
}

export const CANVAS_FAMILY = "Atkinson Hyperlegible Next Variable";
export const CANVAS_FONT = `"${CANVAS_FAMILY}", system-ui, sans-serif`;
