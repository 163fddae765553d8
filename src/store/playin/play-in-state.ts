import { createStore, type StoreApi } from "zustand/vanilla";
import { checkOf } from "../../api/check-shape.ts";
import { TIMING_LIMITS } from "../../core/document/index.ts";
import { record, sevenBits, withOptional } from "../../core/json-shape.ts";
import type { Limit } from "../../core/limit.ts";
import { type Measured, type NotMeasured, REPEAT_LOUDNESSES, type RepeatLoudness } from "../../core/record/index.ts";
import { GRID_DENOMINATORS, GRID_FAMILIES, type Grid } from "../../core/time/index.ts";
import { TIGHTNESSES, type Tightness } from "../../standin/player.ts";
import { keep, readKept } from "../project/browser-store.ts";

/** What is recorded over, by which rule, and by whom. */
const OVERS = ["loop", "on"] as const;
export const MODES = ["add", "replaceDrums", "replaceAll", "replaceHeld"] as const;
export const PLAYERS = ["hand", "player"] as const;
export const PLAYER_TIGHTNESSES = Object.keys(TIGHTNESSES) as readonly Tightness[];
/** What the stand-in player plays: one thing after the other, round by round, or always the same. */
export const PLAYED_PASSES = ["kick,snare;hats,cymbals;ghosts", "kick,snare", "hats,cymbals", "ghosts", "all"] as const;

/** How playing in goes, as a person set it. Kept in the browser: it is about their hands and their devices. */
export interface PlayInSettings {
  readonly over: (typeof OVERS)[number];
  readonly countInBars: number;
  /** Bars of the take that are heard after the count-in, before recording begins. */
  readonly preRollBars: number;
  /** Whether recording waits for the first stroke, and begins with it. */
  readonly waitsForStroke: boolean;
  readonly mode: (typeof MODES)[number];
  readonly quantizes: boolean;
  readonly grid: Grid;
  readonly strengthPercent: number;
  readonly repeats: boolean;
  readonly repeatGrid: Grid;
  readonly repeatLoudness: RepeatLoudness;
  /** Whether a pad goes on repeating until it is struck again. */
  readonly isLatched: boolean;
  /** Whether pads that are held together repeat by turns. Left out, each repeats for itself. */
  readonly takesTurns?: boolean;
  /** How far the second of two repeats swings, as in a grid. Left out, they are straight. */
  readonly repeatSwingPercent?: number;
  readonly from: (typeof PLAYERS)[number];
  readonly part: string;
  readonly tightness: Tightness;
  readonly plays: (typeof PLAYED_PASSES)[number];
  /** The note of a pad that starts and stops recording, and plays nothing. Left out, none does. */
  readonly startNote?: number;
  /** How late each input is, by its name. */
  readonly lateMs: Readonly<Record<string, number>>;
}

export const PLAY_IN_LIMITS = {
  countInBars: { label: "Count-in", min: 0, max: 4, step: 1, unit: "bars" },
  preRollBars: { label: "Pre-roll", min: 0, max: 8, step: 1, unit: "bars" },
  strengthPercent: { label: "Strength", min: 0, max: 100, step: 1, unit: "%" },
  repeatSwingPercent: { ...TIMING_LIMITS.swingPercent, label: "Swing of repeats" },
  lateMs: { label: "Late by", min: -200, max: 200, step: 0.5, unit: "ms" },
} as const satisfies Readonly<Record<string, Limit>>;

/** The stand-in player is a device like others: what it sends comes a little late. */
export const PLAYER_NAME = "the stand-in player";
const PLAYER_LATE_MS = 9;

export const USUAL_PLAY_IN: PlayInSettings = {
  over: "loop",
  countInBars: 1,
  preRollBars: 0,
  waitsForStroke: false,
  mode: "add",
  quantizes: true,
  grid: { family: "straight", denominator: 16 },
  strengthPercent: 100,
  repeats: false,
  repeatGrid: { family: "straight", denominator: 16 },
  repeatLoudness: "as struck",
  isLatched: false,
  from: "hand",
  part: "ferry-lights",
  tightness: "normal",
  plays: PLAYED_PASSES[0],
  lateMs: { [PLAYER_NAME]: PLAYER_LATE_MS },
};

const grid = record({ family: { enum: GRID_FAMILIES }, denominator: { enum: GRID_DENOMINATORS } });
const within = ({ min, max }: Limit) => ({ type: "number", minimum: min, maximum: max });
const settingsShape = record({
  over: { enum: OVERS },
  countInBars: within(PLAY_IN_LIMITS.countInBars),
  preRollBars: within(PLAY_IN_LIMITS.preRollBars),
  waitsForStroke: { type: "boolean" },
  mode: { enum: MODES },
  quantizes: { type: "boolean" },
  grid,
  strengthPercent: within(PLAY_IN_LIMITS.strengthPercent),
  repeats: { type: "boolean" },
  repeatGrid: grid,
  repeatLoudness: { enum: REPEAT_LOUDNESSES },
  isLatched: { type: "boolean" },
  from: { enum: PLAYERS },
  part: { type: "string", maxLength: 100 },
  tightness: { enum: PLAYER_TIGHTNESSES },
  plays: { enum: PLAYED_PASSES },
  lateMs: { type: "object", maxProperties: 200, additionalProperties: within(PLAY_IN_LIMITS.lateMs) },
});
const isSettings = checkOf(
  withOptional(settingsShape, {
    takesTurns: { type: "boolean" },
    startNote: sevenBits,
    repeatSwingPercent: within(PLAY_IN_LIMITS.repeatSwingPercent),
  }),
);
const STORAGE_KEY = "marten.playIn";

/** What an input is measured by, while it is, and what came of it. */
export type Measuring =
  | { readonly kind: "striking"; readonly strokes: number }
  | { readonly kind: "done"; readonly input: string; readonly result: Measured | NotMeasured };

export interface PlayInState {
  readonly settings: PlayInSettings;
  readonly phase: "idle" | "waiting" | "countIn" | "recording";
  /** The pass that is played now; null before its first stroke. */
  readonly pass: number | null;
  /** Strokes that were recorded since it began. */
  readonly strokeCount: number;
  readonly devices: readonly string[];
  /** Why no device can be heard; null if one could. */
  readonly inputProblem: string | null;
  /** The tempo of a clock that a device sends, in bpm; null where none does. */
  readonly clockBpm: number | null;
  /** What a person has to know of what is played just now; null for nothing. */
  readonly trouble: string | null;
  /** The input that the last stroke came from. */
  readonly lastInput: string | null;
  /** The note of it. */
  readonly lastNote: number | null;
  /** Pads that sound at this moment, by note. */
  readonly lit: ReadonlySet<number>;
  readonly measuring: Measuring | null;
}

export type PlayInStore = StoreApi<PlayInState>;

export function createPlayInStore(): PlayInStore {
  return createStore<PlayInState>(() => ({
    settings: readKept<PlayInSettings>(STORAGE_KEY, isSettings) ?? USUAL_PLAY_IN,
    phase: "idle",
    pass: null,
    strokeCount: 0,
    devices: [],
    inputProblem: null,
    clockBpm: null,
    trouble: null,
    lastInput: null,
    lastNote: null,
    lit: new Set(),
    measuring: null,
  }));
}

/** Changes how playing in goes, and keeps it. Undefined takes away what can be left out. */
export function changePlayIn(
  store: PlayInStore,
  change: { readonly [Field in keyof PlayInSettings]?: PlayInSettings[Field] | undefined },
): void {
  const all = Object.entries({ ...store.getState().settings, ...change }).filter(([, value]) => value !== undefined);
  const settings = Object.fromEntries(all) as unknown as PlayInSettings;
  store.setState({ settings });
  keep(STORAGE_KEY, settings);
}

/** Tells of the devices that are plugged in. One that goes while it is recorded is said. */
export function tellDevices(store: PlayInStore, devices: readonly string[]): void {
  const { devices: before, phase } = store.getState();
  const gone = before.filter((name) => !devices.includes(name));
  store.setState({ devices });
  if (phase === "idle" || gone.length === 0) return;
  const trouble = `${gone.join(" and ")} was unplugged. What was played is recorded; plug it in and go on.`;
  store.setState({ trouble });
}

/** Tells why no device can be heard; null if they can. */
export const tellInput = (store: PlayInStore, inputProblem: string | null) => store.setState({ inputProblem });

/** Tells the tempo of a device's clock; null for none. */
export function tellClock(store: PlayInStore, clockBpm: number | null): void {
  if (clockBpm !== store.getState().clockBpm) store.setState({ clockBpm });
}

const LIT_MS = 140;

/** Lights a pad for a moment. */
export function light(store: PlayInStore, note: number): void {
  const turn = (isLit: boolean) => {
    const lit = new Set(store.getState().lit);
    if (isLit) lit.add(note);
    else lit.delete(note);
    store.setState({ lit });
  };
  turn(true);
  setTimeout(() => turn(false), LIT_MS);
}
