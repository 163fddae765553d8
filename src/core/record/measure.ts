import { median } from "./clock.ts";

/** Strokes that a measurement asks for. */
export const MEASURED_STROKES = 8;
/** Strokes that lie further apart measure the player, and not the device. */
const MOST_SPREAD_MS = 25;
/** A stroke this far from every click was meant for none. */
const FARTHEST_MS = 250;

/** What strokes to a click say of an input. */
export interface Measured {
  /** How late the input is; negative if it is early. */
  readonly latencyMs: number;
  /** Half of the strokes lie at most this far from it. */
  readonly spreadMs: number;
  /** Of each stroke, how far after its click it came. */
  readonly offsetsMs: readonly number[];
}

/** Why strokes measure nothing, in words. */
export interface NotMeasured {
  readonly problem: string;
  readonly offsetsMs: readonly number[];
}

/**
 * How late an input is, by strokes to a click.
 * @param strokesMs when strokes came, on the clock of the clicks
 * @param clicksMs when the clicks sounded, ascending
 */
export function measureLatency(strokesMs: readonly number[], clicksMs: readonly number[]): Measured | NotMeasured {
  const offsetsMs = strokesMs.flatMap((strokeMs) => {
    const offsets = clicksMs.map((clickMs) => strokeMs - clickMs);
    const nearest = offsets.reduce((best, one) => (Math.abs(one) < Math.abs(best) ? one : best), Infinity);
    return Math.abs(nearest) <= FARTHEST_MS ? [nearest] : [];
  });
  if (offsetsMs.length < MEASURED_STROKES) {
    return {
      problem: `Only ${offsetsMs.length} of ${MEASURED_STROKES} strokes fell near a click. Strike with each click, and measure again.`,
      offsetsMs,
    };
  }
  const latencyMs = median(offsetsMs);
  const spreadMs = median(offsetsMs.map((offset) => Math.abs(offset - latencyMs)));
  if (spreadMs > MOST_SPREAD_MS) {
    return {
      problem: `The strokes lie ${Math.round(spreadMs)} ms apart, which is too much to tell the device from the hand. Measure again.`,
      offsetsMs,
    };
  }
  return { latencyMs, spreadMs, offsetsMs };
}
