import { type Grid, type GridStretch, isSameGrid, stretchAt } from "../time/index.ts";
import { summarizeDrifts } from "../timing/drift.ts";
import { AHEAD_QUARTERS } from "../timing/pulses.ts";
import { BarSlots } from "./bar-slots.ts";
import type { PlayedFills } from "./find-fills.ts";
import type { FoundGrid } from "./find-grid.ts";
import { type KnownOfTake, sureness } from "./grid-model.ts";
import { type Onsets, someOnsets, stepMsOf } from "./onsets.ts";

// A voice of a few hits, some of which belong to fills of the take: those say nothing of what it follows elsewhere.

/** So far from its slot nobody plays a stroke, in spreads. */
export const FAR_SPREADS = 4;

/** So near to a slot a hit is explained by it, in spreads. */
const ON_SLOT_SPREADS = 2.5;

/** That a voice plays on one grid throughout, and not on it in fills alone, is worth this, as a logarithm. */
const WORTH_OF_ONE = 2;

/** The hits of a voice that are in none of some stretches. @param lateMs how late it sits */
export function onsetsOutside(onsets: Onsets, stretches: readonly GridStretch[], lateMs: number, ppq: number): Onsets {
  const { ticks, msPerTick } = onsets;
  const rows = Array.from(ticks.keys()).filter((row) => {
    const place = ticks[row]! - lateMs / msPerTick[row]! + AHEAD_QUARTERS * ppq;
    return !stretches.some(({ startTick, endTick }) => place >= startTick && place < endTick);
  });
  return someOnsets(onsets, rows);
}

/** What was found outside fills, with them. */
export function withFills(rest: FoundGrid, restCount: number, hitCount: number, { stretches }: PlayedFills): FoundGrid {
  const isFree = (one: GridStretch) =>
    !stretches.some((fill) => fill.startTick < one.endTick && fill.endTick > one.startTick);
  return {
    ...rest,
    stretches: [...rest.stretches.filter(isFree), ...stretches].sort((one, other) => one.startTick - other.startTick),
    shareExplained: (rest.shareExplained * restCount + hitCount - restCount) / hitCount,
  };
}

/**
 * A voice of which little can be told on its own: it plays as the take does, and in its fills.
 * @param main what it follows where fills differ
 */
export function asTakePlays(
  onsets: Onsets,
  { stretches, gain }: PlayedFills,
  main: Grid,
  known: KnownOfTake,
  ppq: number,
): FoundGrid {
  const { lateMs, spreadMs, worthHits } = known;
  const [first] = stretches;
  const outside = onsetsOutside(onsets, stretches, lateMs, ppq);
  const isOne =
    first !== undefined &&
    stretches.every(({ grid }) => isSameGrid(grid, first.grid)) &&
    farness(first.grid, outside, known, ppq) < farness(main, outside, known, ppq) + WORTH_OF_ONE;
  const plan = isOne ? { grid: first.grid, stretches: [] } : { grid: main, stretches };
  const { ticks, inBarTicks, barTicks, msPerTick } = onsets;
  const driftsMs = Array.from(ticks, (tick, row) => {
    const lateTicks = lateMs / msPerTick[row]!;
    const finder = new BarSlots(stretchAt(plan, tick - lateTicks + AHEAD_QUARTERS * ppq)?.grid ?? plan.grid, ppq);
    finder.find(inBarTicks[row]! - lateTicks, barTicks[row]!);
    return (inBarTicks[row]! - finder.slot) * msPerTick[row]!;
  });
  // A stroke beside the steps says nothing of how steadily it is played.
  const nearMs = driftsMs.filter((driftMs) => Math.abs(driftMs - lateMs) < FAR_SPREADS * spreadMs);
  const own = nearMs.length > 0 ? summarizeDrifts(nearMs, stepMsOf(onsets)) : { meanMs: lateMs, spreadMs };
  const count = nearMs.length;
  const isOnSlot = (driftMs: number) => Math.abs(driftMs - lateMs) <= ON_SLOT_SPREADS * spreadMs;
  return {
    ...plan,
    shareExplained: driftsMs.filter(isOnSlot).length / driftsMs.length,
    meanDriftMs: (count * own.meanMs + worthHits * lateMs) / (count + worthHits),
    spreadMs: Math.sqrt((count * own.spreadMs ** 2 + worthHits * spreadMs ** 2) / (count + worthHits)),
    // One hit alone is on its slot to the tick by chance.
    isExact: false,
    runnerUp: isOne ? main : null,
    confidence: isOne ? sureness(gain) : 1,
    isPoor: false,
  };
}

/** How unlikely some hits are on a grid, as a logarithm: the squares of how far they are from its slots. */
function farness(
  grid: Grid,
  { ticks, inBarTicks, barTicks, msPerTick }: Onsets,
  { lateMs, spreadMs }: KnownOfTake,
  ppq: number,
): number {
  const finder = new BarSlots(grid, ppq);
  let sum = 0;
  for (let row = 0; row < ticks.length; row++) {
    const place = inBarTicks[row]! - lateMs / msPerTick[row]!;
    finder.find(place, barTicks[row]!);
    sum += 0.5 * (((place - finder.slot) * msPerTick[row]!) / spreadMs) ** 2;
  }
  return sum;
}
