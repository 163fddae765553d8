import type { NoiseShape } from "./document/treatment.ts";

/**
 * The deviation of one hit. It depends on the hit and the seed alone, so that a hit keeps its own whatever else changes, and
 * rolling twice piles nothing up.
 * @param hitId whatever the hit is called
 * @param seed a whole number; another one is another roll of the dice
 * @returns in units of the spread: -1 to 1 if even, within 3 if bell-shaped
 */
export function noiseOf(hitId: string, seed: number, shape: NoiseShape): number {
  // Four numbers, 0 to 1, from one hash: their mean is as good as bell-shaped.
  let state = hashOf(hitId) ^ Math.imul(seed | 0, 0x9e3779b1);
  const next = () => {
    state = Math.imul(state ^ (state >>> 16), 0x85ebca6b);
    state = Math.imul(state ^ (state >>> 13), 0xc2b2ae35);
    state ^= state >>> 16;
    return (state >>> 0) / 0x1_0000_0000;
  };
  next();
  if (shape === "even") return next() * 2 - 1;
  const sum = next() + next() + next() + next();
  // The sum of four has a variance of 4/12.
  return Math.max(-3, Math.min(3, (sum - 2) / Math.sqrt(1 / 3)));
}

/** How far apart the points of a wander are, in quarters. */
const WANDER_QUARTERS = 4;

/**
 * The slow wander of a drummer: hits near one another are early or late together. It depends on the place and the seed alone, so
 * that voices with one seed wander together.
 * @param quarter where in the pattern
 * @returns in units of the spread, as `noiseOf`
 */
export function wanderAt(quarter: number, seed: number, shape: NoiseShape): number {
  const place = quarter / WANDER_QUARTERS;
  const point = Math.floor(place);
  const share = place - point;
  const eased = share * share * (3 - 2 * share);
  const [before, after] = [pointAt(point, seed, shape), pointAt(point + 1, seed, shape)];
  // Between two points that have nothing to do with each other the mean is narrower than either.
  const wide = (before + eased * (after - before)) / Math.sqrt((1 - eased) ** 2 + eased ** 2);
  const most = shape === "even" ? 1 : 3;
  return Math.max(-most, Math.min(most, wide));
}

/** A take has few points, and thousands of hits ask for them. */
let points: { readonly key: string; readonly values: Map<number, number> } | null = null;

function pointAt(point: number, seed: number, shape: NoiseShape): number {
  const key = `${shape} ${seed}`;
  if (points?.key !== key) points = { key, values: new Map() };
  const value = points.values.get(point) ?? noiseOf(`wander ${point}`, seed, shape);
  points.values.set(point, value);
  return value;
}

/** FNV-1a over the characters. */
function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let index = 0; index < text.length; index++) hash = Math.imul(hash ^ text.charCodeAt(index), 0x01000193);
  return hash;
}
