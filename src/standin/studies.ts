import type { Habits } from "./perform.ts";
import { createRandom, type Random } from "./random.ts";
import type { PartChange, WrittenBar, WrittenPart } from "./written-part.ts";

// Parts that are made up by chance, style by style, to measure how well takes are cleaned. Other seeds are other parts.

/** A part with the way it is played. */
export interface Study {
  readonly style: string;
  readonly tightness: Tightness;
  readonly part: WrittenPart;
  readonly habits: Habits;
}

export const TIGHTNESSES = { tight: 5, normal: 10, loose: 18 } as const;
export type Tightness = keyof typeof TIGHTNESSES;

interface Style {
  readonly name: string;
  readonly bpm: readonly [slowest: number, fastest: number];
  readonly meter?: readonly [numerator: number, denominator: number];
  readonly swing?: { readonly denominator: 8 | 16; readonly from: number; readonly to: number };
  bar(random: Random, barIndex: number, numerator: number): WrittenBar;
  changes?(random: Random, barCount: number): readonly PartChange[];
}

const BARS = 24;

/** A line of steps, each with its sign. */
const line = (steps: number, signAt: (step: number) => string): string =>
  Array.from({ length: steps }, (_, step) => signAt(step)).join("");

/** Kicks on the one and, by chance, on other steps. */
const kicks = (random: Random, steps: number, strong: readonly number[], chance: number) =>
  line(steps, (step) => (strong.includes(step) ? "a" : random.chance(chance) ? "s" : "-"));

/** A back-beat with ghosts between, by chance. */
const snares = (random: Random, steps: number, beats: readonly number[], ghosts: number, flams = 0) =>
  line(steps, (step) => {
    if (beats.includes(step)) return random.chance(flams) ? (random.chance(0.5) ? "f" : "d") : "a";
    return random.chance(ghosts) ? "g" : "-";
  });

const hats = (steps: number, every: number) =>
  line(steps, (step) => (step % every !== 0 ? "-" : (step / every) % 2 === 0 ? "s" : "g"));

const STYLES: readonly Style[] = [
  {
    name: "straight eighths and sixteenths",
    bpm: [84, 132],
    bar: (random) => ({
      hat: hats(16, 2),
      snare: snares(random, 16, [4, 12], 0.12),
      kick: kicks(random, 16, [0], 0.2),
    }),
  },
  {
    name: "shuffle",
    bpm: [96, 132],
    bar: (random) => ({
      ride: line(12, (step) => (step % 3 === 1 ? "-" : step % 3 === 0 ? "s" : "g")),
      snare: line(12, (step) => ([3, 9].includes(step) ? "a" : step % 3 === 2 && random.chance(0.3) ? "g" : "-")),
      kick: line(12, (step) => (step === 0 ? "a" : step % 3 !== 1 && random.chance(0.25) ? "s" : "-")),
    }),
  },
  {
    name: "swung sixteenths",
    bpm: [78, 104],
    swing: { denominator: 16, from: 56, to: 63 },
    bar: (random) => ({
      hat: hats(16, 1),
      snare: snares(random, 16, [4, 12], 0.15),
      kick: kicks(random, 16, [0], 0.22),
    }),
  },
  {
    name: "half-time with triplet fills",
    bpm: [84, 108],
    bar: (random, barIndex) =>
      barIndex % 4 === 3
        ? {
            hat: "s-g-s-g---------",
            snare: ["----------------", "------sss---"],
            "tom-2": "---------ss-",
            "tom-5": "-----------s",
            kick: "a--s------------",
          }
        : {
            hat: hats(16, 2),
            snare: snares(random, 16, [8], 0.2),
            kick: kicks(random, 16, [0], 0.18),
          },
  },
  {
    name: "12/8",
    bpm: [84, 120],
    meter: [12, 8],
    bar: (random) => ({
      hat: hats(12, 1),
      snare: snares(random, 12, [3, 9], 0.12),
      kick: kicks(random, 12, [0], 0.2),
    }),
  },
  {
    name: "6/8",
    bpm: [72, 108],
    meter: [6, 8],
    bar: (random) => ({
      ride: hats(6, 1),
      snare: snares(random, 12, [6], 0.1),
      kick: kicks(random, 6, [0], 0.25),
    }),
  },
  {
    name: "7/8",
    bpm: [110, 150],
    meter: [7, 8],
    bar: (random) => ({
      hat: hats(14, 2),
      snare: snares(random, 14, [4, 8], 0.1),
      kick: kicks(random, 14, [0], 0.18),
    }),
  },
  {
    name: "5/4",
    bpm: [96, 140],
    meter: [5, 4],
    bar: (random) => ({
      ride: hats(20, 2),
      snare: snares(random, 20, [4, 12], 0.1),
      kick: kicks(random, 20, [0], 0.16),
    }),
  },
  {
    name: "changing meters",
    bpm: [92, 126],
    bar: (random, _barIndex, numerator) => ({
      hat: hats(numerator * 4, 2),
      snare: snares(random, numerator * 4, [4], 0.12),
      kick: kicks(random, numerator * 4, [0], 0.2),
    }),
    changes: (random, barCount) =>
      Array.from({ length: Math.floor(barCount / 3) }, (_, index) => ({
        barIndex: index * 3,
        numerator: 2 + Math.floor(random.uniform() * 4),
        denominator: 4,
      })),
  },
  {
    name: "changing tempos",
    bpm: [90, 110],
    bar: (random) => ({
      hat: hats(16, 2),
      snare: snares(random, 16, [4, 12], 0.1),
      kick: kicks(random, 16, [0], 0.2),
    }),
    changes: (random, barCount) =>
      Array.from({ length: Math.floor(barCount / 6) }, (_, index) => ({
        barIndex: index * 6,
        bpm: 80 + Math.round(random.uniform() * 60),
      })),
  },
  {
    name: "ghosts, flams and drags",
    bpm: [84, 112],
    bar: (random) => ({
      hat: hats(16, 2),
      snare: snares(random, 16, [4, 12], 0.35, 0.4),
      kick: kicks(random, 16, [0], 0.2),
    }),
  },
  {
    name: "rolls and bursts",
    bpm: [84, 104],
    bar: (random, barIndex) => ({
      hat: hats(16, 1),
      snare:
        barIndex % 4 === 3
          ? ["----a-----------", line(32, (step) => (step < 24 ? "-" : step % 2 === 0 ? "s" : "g"))]
          : snares(random, 16, [4, 12], 0.15),
      kick: kicks(random, 16, [0], 0.2),
    }),
  },
];

/**
 * Makes up studies: every style in every tightness, as many of each as wanted, each from a seed of its own.
 * @param seed another one gives other parts, tempos, faults and chance
 */
export function makeStudies(seed: number, ofEach: number): readonly { readonly study: Study; readonly seed: number }[] {
  const studies: { study: Study; seed: number }[] = [];
  for (const [styleIndex, style] of STYLES.entries()) {
    for (const [tightnessIndex, tightness] of (Object.keys(TIGHTNESSES) as Tightness[]).entries()) {
      for (let turn = 0; turn < ofEach; turn++) {
        const own = seed * 1_000_003 + styleIndex * 10_007 + tightnessIndex * 1009 + turn;
        studies.push({ study: makeStudy(style, tightness, createRandom(own)), seed: own + 500_009 });
      }
    }
  }
  return studies;
}

function makeStudy(style: Style, tightness: Tightness, random: Random): Study {
  const between = ([low, high]: readonly [number, number]) => low + random.uniform() * (high - low);
  const [numerator, denominator] = style.meter ?? [4, 4];
  const swing = style.swing && {
    denominator: style.swing.denominator,
    percent: Math.round(between([style.swing.from, style.swing.to])),
  };
  const changes = style.changes?.(random, BARS);
  const numeratorAt = (barIndex: number) =>
    changes?.findLast((change) => change.barIndex <= barIndex)?.numerator ?? numerator;
  const bars = Array.from({ length: BARS }, (_, barIndex) => style.bar(random, barIndex, numeratorAt(barIndex)));
  const part: WrittenPart = {
    title: style.name,
    bpm: Math.round(between(style.bpm)),
    numerator,
    denominator,
    bars,
    ...(swing ? { swing } : {}),
    ...(changes ? { changes } : {}),
  };
  const spreadMs = TIGHTNESSES[tightness];
  const habit = () => ({ biasMs: (random.uniform() * 2 - 1) * 25, spreadMs });
  const habits: Habits = {
    ppq: random.chance(0.5) ? 480 : 960,
    voices: { any: habit(), hat: habit(), ride: habit(), snare: habit(), kick: habit() },
    wanderMs: 2,
    velocities: {
      ghost: { mean: 34, spread: 6 },
      stroke: { mean: 82, spread: 8 },
      accent: { mean: 112, spread: 6 },
    },
    doubleTriggerShare: random.chance(0.5) ? 0.06 : 0,
    graceMs: 24 + random.uniform() * 8,
    latencyMs: random.chance(0.3) ? 15 + random.uniform() * 25 : 0,
    ...(random.chance(0.4)
      ? { crossTalk: { fromVoiceId: "snare", toVoiceId: "tom-2", share: 0.5, loudness: 0.12 } }
      : {}),
  };
  return { style: style.name, tightness, part, habits };
}
