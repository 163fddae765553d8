import { markHits } from "../../commands/index.ts";
import {
  ALWAYS,
  CHANCE_LIMITS,
  type Hit,
  type HitChance,
  type HitMarks,
  isSameValue,
  OWN_LIMITS,
} from "../../document/index.ts";
import { type Limit, shapeOf } from "../../limit.ts";
import type { ActKind } from "./act-kind.ts";

// Hits that are played sometimes, and what they have of their own.

const always = (chance: HitChance): HitChance | undefined => (isSameValue(chance, ALWAYS) ? undefined : chance);
const usualIs = (usual: number, value: number) => (value === usual ? undefined : value);

/** How often a hit is played, drawn anew for each repeat. */
export interface ChanceAct {
  readonly kind: "chance";
  readonly percent: number;
}

const ofRepeats: Limit = {
  ...CHANCE_LIMITS.chancePercent,
  say: (value) => (value === 100 ? "every time" : value === 0 ? "never" : `${value} % of the time`),
};

export const chance: ActKind<ChanceAct> = {
  offers: [{ name: "play sometimes", act: { kind: "chance", percent: 60 } }],
  fields: { percent: shapeOf(ofRepeats) },
  phrase: (act) => [
    "play ",
    { kind: "number", limit: ofRepeats, value: act.percent, set: (percent) => ({ ...act, percent }) },
  ],
  strike: (_pattern, hits, { percent }) =>
    marked(hits, (hit) => ({ chance: always({ ...(hit.chance ?? ALWAYS), chancePercent: percent }) })),
};

/** How full the part is to be for a hit to be played in it. */
export interface WindowAct {
  readonly kind: "window";
  readonly from: number;
  readonly to: number;
}

export const window: ActKind<WindowAct> = {
  offers: [{ name: "play by fullness", act: { kind: "window", from: 60, to: 100 } }],
  fields: { from: shapeOf(CHANCE_LIMITS.fromPercent), to: shapeOf(CHANCE_LIMITS.toPercent) },
  phrase: (act) => [
    "play where fullness is ",
    {
      kind: "number",
      limit: CHANCE_LIMITS.fromPercent,
      value: act.from,
      set: (from) => ({ ...act, from, to: Math.max(from, act.to) }),
    },
    " to ",
    {
      kind: "number",
      limit: CHANCE_LIMITS.toPercent,
      value: act.to,
      set: (to) => ({ ...act, to, from: Math.min(to, act.from) }),
    },
  ],
  strike: (_pattern, hits, { from, to }) =>
    marked(hits, (hit) => ({ chance: always({ ...(hit.chance ?? ALWAYS), fromPercent: from, toPercent: to }) })),
};

/** How much of the deviation of its lane a hit takes. */
export interface OwnDeviationAct {
  readonly kind: "ownDeviation";
  readonly percent: number;
}

export const ownDeviation: ActKind<OwnDeviationAct> = {
  offers: [{ name: "own share of humanize", act: { kind: "ownDeviation", percent: 50 } }],
  fields: { percent: shapeOf(OWN_LIMITS.deviationPercent) },
  phrase: (act) => [
    "take ",
    {
      kind: "number",
      limit: OWN_LIMITS.deviationPercent,
      value: act.percent,
      set: (percent) => ({ ...act, percent }),
    },
    " of humanize",
  ],
  strike: (_pattern, hits, { percent }) =>
    marked(hits, () => ({ deviationPercent: usualIs(OWN_LIMITS.deviationPercent.usual, percent) })),
};

/** How far a hit is off its place, whatever the tempo; later is positive. */
export interface OffsetAct {
  readonly kind: "offset";
  readonly ms: number;
}

export const offset: ActKind<OffsetAct> = {
  offers: [{ name: "offset, at any tempo", act: { kind: "offset", ms: 6 } }],
  fields: { ms: shapeOf(OWN_LIMITS.offsetMs) },
  phrase: (act) => [
    "offset ",
    { kind: "number", limit: OWN_LIMITS.offsetMs, value: act.ms, set: (ms) => ({ ...act, ms }) },
    " at any tempo",
  ],
  strike: (_pattern, hits, { ms }) => marked(hits, () => ({ offsetMs: usualIs(OWN_LIMITS.offsetMs.usual, ms) })),
};

/** Nothing where the hits are so already. */
function marked(
  hits: readonly Hit[],
  marksOf: (hit: Hit) => { readonly [Mark in keyof HitMarks]: HitMarks[Mark] | undefined },
) {
  const changed = hits.filter((hit) =>
    Object.entries(marksOf(hit)).some(([mark, value]) => !isSameValue(hit[mark as keyof HitMarks], value)),
  );
  return changed.length > 0 ? { edit: markHits(changed, marksOf) } : {};
}
