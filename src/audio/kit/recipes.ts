/** A ringing part of a sound: one sine that dies away. */
export type Mode = readonly [frequencyHz: number, gain: number, decayS: number];

/** The noisy part of a sound: wires, shot, breath. */
export interface Noise {
  readonly gain: number;
  readonly decayS: number;
  readonly lowHz: number;
  readonly highHz: number;
  /** Times at which the noise starts anew, in seconds: hands that clap, teeth of a scraper. */
  readonly bursts?: readonly number[];
  /** Seconds until it is loudest, for sounds that swell. */
  readonly attackS?: number;
  /** How much of it a soft stroke has, 0 to 1: wires speak when they are hardly touched. Left out, less than half. */
  readonly softShare?: number;
}

/** How the stand-in kit makes one stroke. */
export interface Recipe {
  /** Loudness against the other sounds of the kit, 0 to 1. */
  readonly level: number;
  readonly modes: readonly Mode[];
  /** How much of them a soft stroke has, 0 to 1. Left out, all. */
  readonly softBody?: number;
  /** The pitch starts this many times higher and falls within this time. */
  readonly sweep?: { readonly ratio: number; readonly timeS: number };
  readonly noise?: Noise;
  /** A metal plate: so many modes spread without harmony between two frequencies. */
  readonly metal?: {
    readonly count: number;
    readonly lowHz: number;
    readonly highHz: number;
    readonly gain: number;
    readonly decayS: number;
  };
}

const hiss = (gain: number, decayS: number, lowHz: number, highHz: number, bursts?: readonly number[]): Noise =>
  bursts ? { gain, decayS, lowHz, highHz, bursts } : { gain, decayS, lowHz, highHz };

const cymbal = (level: number, lowHz: number, decayS: number, wash: number): Recipe => ({
  level,
  modes: [],
  metal: { count: 42, lowHz, highHz: 11_500, gain: 0.7, decayS },
  noise: hiss(wash, decayS * 0.7, 3500, 15_000),
});

const hat = (level: number, decayS: number): Recipe => ({
  level,
  modes: [],
  metal: { count: 28, lowHz: 3800, highHz: 13_000, gain: 0.5, decayS },
  noise: hiss(0.6, decayS * 0.8, 6500, 16_000),
});

const tom = (frequencyHz: number): Recipe => ({
  // Low drums need more to be heard as loud as high ones.
  level: Math.min(1, 0.85 * (150 / frequencyHz) ** 0.5),
  modes: [
    [frequencyHz, 1, 0.3],
    [frequencyHz * 1.59, 0.5, 0.16],
    [frequencyHz * 2.14, 0.5, 0.09],
  ],
  sweep: { ratio: 1.5, timeS: 0.05 },
  noise: hiss(2.4, 0.014, 700, 6000),
});

const skin = (frequencyHz: number, decayS: number, slap = 0.2): Recipe => ({
  level: 0.65,
  modes: [
    [frequencyHz, 1, decayS],
    [frequencyHz * 1.6, 0.4, decayS * 0.5],
  ],
  sweep: { ratio: 1.12, timeS: 0.03 },
  noise: hiss(slap, 0.015, 900, 7000),
});

const bar = (level: number, frequencyHz: number, decayS: number): Recipe => ({
  level,
  modes: [
    [frequencyHz, 1, decayS],
    [frequencyHz * 2.76, 0.4, decayS * 0.5],
  ],
  noise: hiss(0.1, 0.004, 2000, 9000),
});

const bell = (level: number, frequencyHz: number, decayS: number): Recipe => ({
  level,
  modes: [
    [frequencyHz, 1, decayS],
    [frequencyHz * 1.49, 0.7, decayS * 0.8],
    [frequencyHz * 2.52, 0.35, decayS * 0.5],
    [frequencyHz * 3.9, 0.2, decayS * 0.35],
  ],
});

const shot = (level: number, decayS: number, lowHz: number, highHz: number, bursts?: readonly number[]): Recipe => ({
  level,
  modes: [],
  noise: hiss(1, decayS, lowHz, highHz, bursts),
});

const teeth = (count: number, everyS: number) => Array.from({ length: count }, (_, index) => index * everyS);
const SNARE_BODY: readonly Mode[] = [
  [186, 0.9, 0.11],
  [331, 0.5, 0.07],
];

/** For each `voice/articulation` of the General MIDI map, how it sounds. */
export const RECIPES: Readonly<Record<string, Recipe>> = {
  "kick/main": {
    level: 1,
    modes: [
      [54, 1, 0.11],
      [108, 0.7, 0.06],
      [236, 0.75, 0.035],
    ],
    sweep: { ratio: 3.2, timeS: 0.028 },
    // The beater's click: without it a kick is silent on small loudspeakers.
    noise: { ...hiss(4.6, 0.011, 900, 7500), softShare: 0.35 },
  },
  "kick/second": {
    level: 0.95,
    modes: [
      [48, 1, 0.13],
      [97, 0.7, 0.07],
      [204, 0.75, 0.04],
    ],
    sweep: { ratio: 2.8, timeS: 0.032 },
    noise: { ...hiss(4.2, 0.012, 800, 6500), softShare: 0.35 },
  },
  "snare/centre": {
    level: 0.66,
    modes: SNARE_BODY,
    softBody: 0.3,
    sweep: { ratio: 1.3, timeS: 0.02 },
    noise: { ...hiss(1.5, 0.12, 1400, 11_000), softShare: 0.8 },
  },
  "snare/rim-shot": {
    level: 0.78,
    modes: [...SNARE_BODY, [870, 0.7, 0.05], [1630, 0.4, 0.03]],
    softBody: 0.5,
    sweep: { ratio: 1.2, timeS: 0.015 },
    noise: { ...hiss(1.3, 0.14, 1800, 12_500), softShare: 0.7 },
  },
  "snare/cross-stick": {
    level: 0.55,
    modes: [
      [1120, 1, 0.028],
      [1790, 0.7, 0.02],
      [480, 0.35, 0.03],
    ],
    noise: hiss(0.25, 0.008, 1500, 8000),
  },
  "hat/closed": hat(0.26, 0.055),
  "hat/loose": hat(0.29, 0.11),
  "hat/half-open": hat(0.31, 0.2),
  "hat/nearly-open": hat(0.31, 0.34),
  "hat/open": hat(0.3, 0.5),
  "hat/foot": hat(0.2, 0.03),
  "crash/crash": cymbal(0.62, 380, 1.5, 0.6),
  "crash-2/crash": cymbal(0.66, 560, 1.15, 0.85),
  "splash/crash": cymbal(0.48, 900, 0.45, 0.6),
  "china/crash": cymbal(0.6, 290, 1.1, 0.95),
  "ride/bow": {
    ...cymbal(0.22, 620, 1.3, 0.14),
    modes: [
      [3150, 0.5, 0.25],
      [4720, 0.3, 0.18],
    ],
  },
  "ride/bell": {
    ...cymbal(0.26, 640, 1.1, 0.06),
    modes: [
      [815, 0.8, 0.8],
      [1330, 0.7, 0.7],
      [2670, 0.5, 0.5],
    ],
  },
  "ride/edge": cymbal(0.4, 560, 1.3, 0.4),
  "ride-2/bow": {
    ...cymbal(0.22, 540, 1.4, 0.18),
    modes: [
      [2640, 0.5, 0.28],
      [4020, 0.3, 0.2],
    ],
  },
  "tom-1/centre": tom(196),
  "tom-2/centre": tom(164),
  "tom-3/centre": tom(138),
  "tom-4/centre": tom(116),
  "tom-5/centre": tom(92),
  "tom-6/centre": tom(76),
  "clap/clap": shot(0.7, 0.06, 900, 5200, [0, 0.011, 0.021, 0.032]),
  "tambourine/shake": {
    level: 0.5,
    modes: [
      [6300, 0.3, 0.08],
      [8100, 0.3, 0.07],
    ],
    noise: hiss(0.8, 0.09, 5200, 14_000, [0, 0.018]),
  },
  "cowbell/strike": bell(0.5, 560, 0.16),
  "shaker/shake": {
    level: 0.4,
    modes: [],
    noise: { gain: 1, decayS: 0.05, lowHz: 4800, highHz: 12_000, attackS: 0.03 },
  },
  "maracas/shake": shot(0.4, 0.03, 5500, 14_000),
  "cabasa/scrape": shot(0.4, 0.045, 6500, 15_000, teeth(3, 0.012)),
  "claves/strike": bar(0.6, 2480, 0.05),
  "wood-block/high": bar(0.6, 1010, 0.06),
  "wood-block/low": bar(0.6, 740, 0.07),
  "triangle/open": bell(0.35, 4230, 1.4),
  "triangle/muted": bell(0.35, 4230, 0.07),
  "bongos/high": skin(398, 0.12),
  "bongos/low": skin(288, 0.16),
  "congas/open-high": skin(232, 0.28),
  "congas/muted-high": skin(246, 0.05, 0.5),
  "congas/low": skin(174, 0.34),
  "timbales/high": { ...skin(372, 0.22, 0.3), metal: { count: 8, lowHz: 900, highHz: 5000, gain: 0.2, decayS: 0.12 } },
  "timbales/low": { ...skin(268, 0.28, 0.3), metal: { count: 8, lowHz: 700, highHz: 4200, gain: 0.2, decayS: 0.14 } },
  "agogo/high": bell(0.45, 1190, 0.3),
  "agogo/low": bell(0.45, 890, 0.34),
  "surdo/open": skin(68, 0.5, 0.1),
  "surdo/muted": skin(72, 0.12, 0.12),
  "cuica/open": {
    level: 0.5,
    modes: [
      [410, 1, 0.2],
      [820, 0.4, 0.14],
    ],
    sweep: { ratio: 0.6, timeS: 0.09 },
  },
  "cuica/muted": {
    level: 0.5,
    modes: [
      [520, 1, 0.06],
      [1040, 0.4, 0.05],
    ],
    sweep: { ratio: 0.8, timeS: 0.03 },
  },
  "guiro/long": shot(0.45, 0.014, 2200, 8000, teeth(16, 0.018)),
  "guiro/short": shot(0.45, 0.014, 2200, 8000, teeth(5, 0.013)),
  "whistle/long": {
    level: 0.35,
    modes: [
      [2310, 1, 0.5],
      [2360, 0.6, 0.5],
    ],
    noise: hiss(0.15, 0.4, 2000, 6000),
  },
  "whistle/short": {
    level: 0.35,
    modes: [
      [2310, 1, 0.1],
      [2360, 0.6, 0.1],
    ],
    noise: hiss(0.15, 0.08, 2000, 6000),
  },
  "vibraslap/strike": shot(0.5, 0.02, 1800, 6000, teeth(24, 0.026)),
  "castanets/strike": {
    level: 0.5,
    modes: [
      [1560, 0.7, 0.02],
      [2890, 0.5, 0.014],
    ],
    noise: hiss(0.3, 0.006, 2000, 9000, [0, 0.02]),
  },
  "jingle-bell/shake": {
    level: 0.4,
    modes: [
      [5150, 0.4, 0.2],
      [6480, 0.4, 0.17],
      [7920, 0.3, 0.14],
    ],
    noise: hiss(0.3, 0.08, 6000, 15_000, [0, 0.03, 0.055]),
  },
  "bell-tree/sweep": {
    level: 0.35,
    modes: [
      [3320, 0.5, 1],
      [4410, 0.5, 0.9],
      [5630, 0.4, 0.8],
      [7240, 0.3, 0.7],
    ],
    sweep: { ratio: 1.6, timeS: 0.5 },
  },
  "sticks/strike": bar(0.5, 1830, 0.03),
  "slap/strike": shot(0.6, 0.025, 1200, 7500),
  "scratch/push": { level: 0.45, modes: [], noise: { gain: 1, decayS: 0.05, lowHz: 900, highHz: 3800, attackS: 0.06 } },
  "scratch/pull": { level: 0.45, modes: [], noise: { gain: 1, decayS: 0.06, lowHz: 600, highHz: 2600, attackS: 0.08 } },
  "high-q/strike": { level: 0.5, modes: [[900, 1, 0.05]], sweep: { ratio: 4, timeS: 0.03 } },
  "square-click/strike": bar(0.45, 1480, 0.02),
  "metronome/click": bar(0.5, 1200, 0.015),
  "metronome/bell": bell(0.4, 2100, 0.3),
};

/** What a note without a name sounds like: a dry tap that is like no drum. */
export const UNNAMED_RECIPE: Recipe = { level: 0.5, modes: [[620, 1, 0.03]], noise: hiss(0.3, 0.01, 800, 4000) };

/** The click is no drum of the kit: bar lines, beats and off-beats differ in pitch. */
export const CLICK_RECIPES = {
  bar: { level: 0.7, modes: [[1760, 1, 0.03]] },
  beat: { level: 0.7, modes: [[1320, 1, 0.025]] },
  offBeat: { level: 0.7, modes: [[1050, 1, 0.018]] },
  // A count-in sounds like wood, and not like the click that goes on after it.
  countBar: {
    level: 0.9,
    modes: [
      [640, 1, 0.06],
      [1490, 0.5, 0.03],
    ],
  },
  countBeat: {
    level: 0.8,
    modes: [
      [520, 1, 0.05],
      [1210, 0.5, 0.025],
    ],
  },
} as const satisfies Record<string, Recipe>;
