import type { Limit } from "../limit.ts";

/** How loud a drum is in the mix that is listened to, and where it stands. What goes out as a file is not changed by it. */
export interface DrumLevel {
  readonly gainDb: number;
  /** -100 is left, 100 right. */
  readonly panPercent: number;
}

/** By drum; the click has one of its own. What is not in it is as the kit has it, in the middle. */
export type Levels = Readonly<Record<string, DrumLevel>>;

export const NO_LEVELS: Levels = {};
export const PLAIN_LEVEL: DrumLevel = { gainDb: 0, panPercent: 0 };
/** The level of the click goes by this name, as that of a drum. */
export const CLICK_ID = "click";

const side = (value: number) => (value === 0 ? "middle" : `${Math.abs(value)} ${value < 0 ? "left" : "right"}`);

export const LEVEL_LIMITS = {
  gainDb: { label: "Level", min: -48, max: 12, handy: [-24, 12], step: 0.5, unit: "dB", usual: 0 },
  panPercent: { label: "Pan", min: -100, max: 100, step: 5, unit: "", usual: 0, say: side },
} as const satisfies Readonly<Record<keyof DrumLevel, Limit>>;

/** The levels with one of them changed; a plain one is left out. */
export function withLevel(levels: Levels, voiceId: string, level: DrumLevel): Levels {
  const { [voiceId]: _, ...others } = levels;
  const isPlain = level.gainDb === 0 && level.panPercent === 0;
  return isPlain ? others : { ...others, [voiceId]: level };
}
