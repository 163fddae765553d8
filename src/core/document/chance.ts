import { type Limit, sayLimited, shapeOf } from "../limit.ts";

/** When a hit is played that is not played always. */
export interface HitChance {
  /** In so many of a hundred repeats. */
  readonly chancePercent: number;
  /** It is played only where the part is as full as this, */
  readonly fromPercent: number;
  /** and no fuller than this. */
  readonly toPercent: number;
}

/** Played in every repeat, however full the part is. */
export const ALWAYS: HitChance = { chancePercent: 100, fromPercent: 0, toPercent: 100 };

/** What decides which of the hits that are not played always are played. */
export interface Fullness {
  /** 0 for the sparsest way to play the part, 100 for the fullest. */
  readonly percent: number;
  /** Another number plays others of them; the same one always the same. */
  readonly seed: number;
}

export const USUAL_FULLNESS: Fullness = { percent: 50, seed: 1 };

const percent = { min: 0, max: 100, step: 1, unit: "%" } as const;

export const CHANCE_LIMITS = {
  chancePercent: { label: "Chance", ...percent, usual: 100 },
  fromPercent: { label: "From fullness", ...percent, usual: 0 },
  toPercent: { label: "Up to fullness", ...percent, usual: 100 },
} as const satisfies Readonly<Record<keyof HitChance, Limit>>;

export const FULLNESS_LIMITS = {
  percent: { label: "Fullness", ...percent, usual: USUAL_FULLNESS.percent },
  seed: { label: "Seed", min: 1, max: 1_000_000_000, step: 1, unit: "", isWhole: true },
} as const satisfies Readonly<Record<keyof Fullness, Limit>>;

/** What a hit has of its own beside that: how much of the deviation it takes, and how far off it is at any tempo. */
export const OWN_LIMITS = {
  deviationPercent: { label: "Own deviation", min: 0, max: 200, step: 5, unit: "%", usual: 100 },
  offsetMs: {
    label: "Offset",
    min: -200,
    max: 200,
    handy: [-60, 60],
    step: 0.5,
    unit: "ms",
    usual: 0,
    say: (ms) => (ms === 0 ? "0 ms" : `${Math.abs(ms)} ms ${ms < 0 ? "earlier" : "later"}`),
  },
} as const satisfies Readonly<Record<string, Limit>>;

/** A length of its own that a voice repeats within a pattern, in sixteenths; 0 for that of the pattern. */
export const OWN_LENGTH_LIMIT: Limit = {
  label: "Own length",
  min: 0,
  max: 512,
  handy: [0, 64],
  step: 1,
  unit: "sixteenths",
  usual: 0,
  isWhole: true,
  say: (count) => (count === 0 ? "as the pattern" : count === 1 ? "1 sixteenth" : `${count} sixteenths`),
};

/** `60 % of the time, where fullness is 60 to 100 %`. */
function chanceWords({ chancePercent, fromPercent, toPercent }: HitChance): string {
  const often = chancePercent === 100 ? [] : [`${chancePercent} % of the time`];
  const isWindow = fromPercent > 0 || toPercent < 100;
  return [...often, ...(isWindow ? [`where fullness is ${fromPercent} to ${toPercent} %`] : [])].join(", ");
}

/** What is not as usual of a hit's own: when it is played, how much of the deviation it takes, how far it is set off; empty for nothing. */
export function ownWords({
  chance,
  deviationPercent,
  offsetMs,
}: {
  readonly chance?: HitChance;
  readonly deviationPercent?: number;
  readonly offsetMs?: number;
}): readonly string[] {
  return [
    ...(chance ? [`played ${chanceWords(chance)}`] : []),
    ...(deviationPercent === undefined ? [] : [`${deviationPercent} % of humanize`]),
    ...(offsetMs === undefined ? [] : [`offset ${sayLimited(OWN_LIMITS.offsetMs, offsetMs)}`]),
  ];
}

export const fullnessShape = Object.fromEntries(
  Object.entries(FULLNESS_LIMITS).map(([field, limit]) => [field, shapeOf(limit)]),
);
export const hitChanceShape = Object.fromEntries(
  Object.entries(CHANCE_LIMITS).map(([field, limit]) => [field, shapeOf(limit)]),
);
