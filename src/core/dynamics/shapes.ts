import type { Edit } from "../document/index.ts";
import { baseVelocity, type Hit } from "../document/pattern.ts";

// Commands that shape loudness by hand. They return the edit and change nothing; what they set is whole and 1 to 127. Each can
// start from how loud hits sound, with what their treatment does, and not from how they are before it.

/** Makes each hit as loud as a function says. */
export function setVelocities(hits: readonly Hit[], velocityOf: (hit: Hit) => number): Edit {
  const changes = hits.map((hit) => ({
    hitId: hit.id,
    fromVelocity: hit.pinnedVelocity,
    toVelocity: limitVelocity(velocityOf(hit)),
  }));
  return { kind: "setVelocity", changes };
}

export function limitVelocity(velocity: number): number {
  return Math.max(1, Math.min(127, Math.round(velocity)));
}

/** Louder or softer in proportion: the shape stays. @param factor 1 changes nothing; never below 0 */
export function scaleVelocities(hits: readonly Hit[], factor: number, velocityOf = baseVelocity): Edit {
  return setVelocities(hits, (hit) => velocityOf(hit) * Math.max(0, factor));
}

/**
 * More or less dynamic around a middle that stays where it is.
 * @param factor 0 makes all as loud as the middle, 1 changes nothing, above 1 expands; below 0 would turn the shape over and counts as 0
 * @source v' = pivot + (v − pivot) · factor
 */
export function scaleAround(
  hits: readonly Hit[],
  pivotVelocity: number,
  factor: number,
  velocityOf = baseVelocity,
): Edit {
  return setVelocities(hits, (hit) => pivotVelocity + (velocityOf(hit) - pivotVelocity) * Math.max(0, factor));
}

/** The mean loudness of hits, 1 to 127. */
export function meanVelocity(hits: readonly Hit[], velocityOf = baseVelocity): number {
  return hits.reduce((sum, hit) => sum + velocityOf(hit), 0) / Math.max(1, hits.length);
}

/** Makes hits as loud as their mean. */
export function levelVelocities(hits: readonly Hit[], velocityOf = baseVelocity): Edit {
  const mean = meanVelocity(hits, velocityOf);
  return setVelocities(hits, () => mean);
}

/** A place in time and a loudness. */
export interface ShapePoint {
  readonly tick: number;
  readonly velocity: number;
}

/** The loudness of a straight line between two points at a tick; outside of them, that of the nearer one. */
export function lineAt(a: ShapePoint, b: ShapePoint, tick: number): number {
  const [first, last] = a.tick <= b.tick ? [a, b] : [b, a];
  if (tick <= first.tick) return first.velocity;
  if (tick >= last.tick) return last.velocity;
  return first.velocity + ((tick - first.tick) / (last.tick - first.tick)) * (last.velocity - first.velocity);
}
