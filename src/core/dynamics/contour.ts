import { barAt, type MeterMap } from "../time/index.ts";

export const CONTOURS = ["straight", "slow start", "slow end", "slow at both ends", "swell", "sag"] as const;
/** How loudness goes from one value to another; a swell goes there and back, a sag the other way round. */
export type Contour = (typeof CONTOURS)[number];

export const CONTOUR_SPANS = ["once", "every beat", "every bar"] as const;
/** Whether a contour is laid over all hits, or begins anew. */
export type ContourSpan = (typeof CONTOUR_SPANS)[number];

/** A hit's place and loudness as it sounds. */
export interface LoudPlace {
  readonly tick: number;
  readonly velocity: number;
}

/** How far along a contour is, 0 to 1. @param share 0 at its start, 1 at its end */
export function contourAt(contour: Contour, share: number): number {
  switch (contour) {
    case "straight":
      return share;
    case "slow start":
      return share ** 2;
    case "slow end":
      return 1 - (1 - share) ** 2;
    case "slow at both ends":
      return share * share * (3 - 2 * share);
    case "swell":
      return Math.sin(Math.PI * share);
    case "sag":
      return 1 - Math.sin(Math.PI * share);
    default:
      return contour satisfies never;
  }
}

/**
 * Loudness along a contour for some hits, by when they sound.
 * @param places ascending
 * @returns a velocity for each, not rounded
 */
export function alongContour(
  places: readonly LoudPlace[],
  { contour, from, to, span }: { contour: Contour; from: number; to: number; span: ContourSpan },
  meterMap: MeterMap,
): readonly number[] {
  const value = (share: number) => from + (to - from) * contourAt(contour, Math.max(0, Math.min(1, share)));
  if (span === "once") {
    const [first, last] = [places[0]?.tick ?? 0, places.at(-1)?.tick ?? 0];
    // One hit alone ends where the contour ends.
    return places.map(({ tick }) => value(last > first ? (tick - first) / (last - first) : 1));
  }
  return places.map(({ tick }) => {
    const bar = barAt(meterMap, Math.max(0, tick));
    if (span === "every bar") return value((tick - bar.startTick) / (bar.endTick - bar.startTick));
    const inBar = tick - bar.startTick;
    const beat = bar.pulseTicks.findLastIndex((pulse) => pulse <= inBar);
    const start = bar.pulseTicks[beat] ?? 0;
    const end = bar.pulseTicks[beat + 1] ?? bar.endTick - bar.startTick;
    return value((inBar - start) / (end - start));
  });
}

/** The shape of some hits: how loud each is in proportion to their mean, from the bar line of the first. */
export interface CopiedContour {
  /** Whole bars, after which it goes round. */
  readonly lengthTicks: number;
  readonly meanVelocity: number;
  /** Ascending. */
  readonly points: readonly { readonly atTick: number; readonly proportion: number }[];
}

/** @param places ascending; @returns null for none */
export function copyContour(places: readonly LoudPlace[], meterMap: MeterMap): CopiedContour | null {
  const [first, last] = [places[0], places.at(-1)];
  if (!first || !last) return null;
  const { startTick } = barAt(meterMap, first.tick);
  const { endTick } = barAt(meterMap, last.tick);
  const meanVelocity = places.reduce((sum, { velocity }) => sum + velocity, 0) / places.length;
  const points = places.map(({ tick, velocity }) => ({
    atTick: tick - startTick,
    proportion: velocity / meanVelocity,
  }));
  return { lengthTicks: endTick - startTick, meanVelocity, points };
}

/**
 * Lays a copied shape on other hits, from the bar line of the first, over and over. Between the hits that it was copied from it
 * goes straight.
 * @param keepsMean around their own mean; otherwise as loud as where it was copied
 * @returns a velocity for each, not rounded
 */
export function layContour(
  places: readonly LoudPlace[],
  { lengthTicks, meanVelocity, points }: CopiedContour,
  meterMap: MeterMap,
  keepsMean: boolean,
): readonly number[] {
  const [first] = places;
  if (!first) return [];
  const { startTick } = barAt(meterMap, first.tick);
  const proportions = places.map(({ tick }) => {
    const at = (((tick - startTick) % lengthTicks) + lengthTicks) % lengthTicks;
    const next = points.findIndex(({ atTick }) => atTick >= at);
    if (next === -1) return points.at(-1)!.proportion;
    const [before, after] = [points[next - 1], points[next]!];
    if (!before || after.atTick === at) return after.proportion;
    const share = (at - before.atTick) / (after.atTick - before.atTick);
    return before.proportion + share * (after.proportion - before.proportion);
  });
  if (!keepsMean) return proportions.map((proportion) => proportion * meanVelocity);
  const ownMean = places.reduce((sum, { velocity }) => sum + velocity, 0) / places.length;
  const laidMean = proportions.reduce((sum, one) => sum + one, 0) / proportions.length;
  return proportions.map((proportion) => (proportion * ownMean) / laidMean);
}
