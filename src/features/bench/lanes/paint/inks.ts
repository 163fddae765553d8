import type { Family } from "../../../../core/document/index.ts";
import { PATTERN_COLOURS } from "../../../../core/song/index.ts";

const NAMES = [
  "paper",
  "sheet",
  "ink",
  "muted",
  "hairline",
  "hairline-strong",
  "line-bar",
  "line-beat",
  "line-step",
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

/** How large words are, in rem. */
const WORD_SIZES = { fine: 0.857, small: 0.929 } as const;

/** The colours of the theme and the sizes of its words, for canvases, which cannot read CSS variables themselves. */
export type Inks = Readonly<Record<(typeof NAMES)[number] | keyof typeof WORD_SIZES, string>>;

export function readInks(): Inks {
  const root = document.documentElement;
  const remPx = Number.parseFloat(getComputedStyle(root).fontSize);
  const sizes = Object.entries(WORD_SIZES).map(([name, rem]) => [name, `${Math.round(rem * remPx)}px`]);
  // Names such as CanvasText mean nothing to a painter in a worker: an element says what they are on this screen.
  const probe = root.appendChild(document.createElement("i"));
  probe.style.setProperty("forced-color-adjust", "none");
  // It is to say each at once, also where changes are made short instead of none.
  probe.style.setProperty("transition", "none", "important");
  const colours = NAMES.map((name) => {
    probe.style.color = `var(--${name})`;
    return [name, getComputedStyle(probe).color];
  });
  probe.remove();
  return Object.fromEntries([...colours, ...sizes]) as Inks;
}

export const CANVAS_FAMILY = "Atkinson Hyperlegible Next Variable";
export const CANVAS_FONT = `"${CANVAS_FAMILY}", system-ui, sans-serif`;
