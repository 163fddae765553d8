import {
  GRID_CHOICES,
  type Grid,
  gridAt,
  isSameGrid,
  PlanFinder,
  SlotFinder,
  type TimeMaps,
  withStretch,
} from "../time/index.ts";
import { hitsByPulse } from "../timing/pulses.ts";
import { isPlayable, isUnusual } from "./best-stretches.ts";
import type { FoundGrid } from "./find-grid.ts";
import type { Onsets } from "./onsets.ts";
import { FAR_SPREADS } from "./voice-in-fills.ts";

// One stroke says too little for a grid of its own, but no hand is so far off as where the next slot would have it: it is on a step that
// the voice does not play as a rule.

/** Nor is a stroke far from its slot that is no farther than this. */
const FAR_MS = 35;
/** So near a slot of another grid it must be. */
const NEAR_SPREADS = 2.5;
/** How much less likely steps are that the take has nowhere else, and such as few parts have: a logarithm. */
const NEW_PRICE = 1;
const FINE_PRICE = 2.5;

/** A voice with what was found of it. */
interface Played {
  readonly found: FoundGrid;
  readonly onsets: Onsets;
}

/** What a voice plays in a beat in which a stroke of it is far from every slot. */
interface LoneBeat {
  readonly voice: number;
  readonly startTick: number;
  readonly endTick: number;
  readonly strokes: readonly LoneStroke[];
  readonly msPerTick: number;
}

interface LoneStroke {
  /** Its habit taken off. */
  readonly placeTick: number;
  /** How far it is from the nearest slot of its voice. */
  readonly offMs: number;
  /** Too far for that slot to be meant. */
  readonly isFar: boolean;
}

/**
 * Gives beats in which single strokes are far from every slot to the plainest grid that has a slot for each of them. Voices that have such
 * strokes in the same beat are read together.
 */
export function withLoneStrokes(voices: readonly Played[], maps: TimeMaps): readonly FoundGrid[] {
  const beats = new Map<number, LoneBeat[]>();
  for (const [index, voice] of voices.entries())
    for (const beat of loneBeats(voice, index, maps))
      beats.set(beat.startTick, [...(beats.get(beat.startTick) ?? []), beat]);
  const stretchesOf = voices.map(({ found }) => found.stretches);
  for (const [tick, parts] of beats) {
    const grid = plainestFor(parts, voices, tick, maps);
    if (!grid) continue;
    for (const { voice, startTick, endTick } of parts) {
      const plan = { ...voices[voice]!.found, stretches: stretchesOf[voice]! };
      stretchesOf[voice] = withStretch(plan, startTick, endTick, grid);
    }
  }
  return voices.map(({ found }, index) => ({ ...found, stretches: stretchesOf[index]! }));
}

function loneBeats({ found, onsets }: Played, voice: number, { meterMap }: TimeMaps): readonly LoneBeat[] {
  if (found.isPoor) return [];
  const { ticks, msPerTick } = onsets;
  const plans = [found, ...(found.ghostGrid ? [{ ...found, grid: found.ghostGrid }] : [])];
  const finders = plans.map((plan) => new PlanFinder(plan, meterMap));
  const placeOf = (row: number) => ticks[row]! - found.meanDriftMs / msPerTick[row]!;
  const farMs = Math.max(FAR_MS, FAR_SPREADS * found.spreadMs);
  const offMsAt = (row: number) => {
    const place = placeOf(row);
    return (
      finders.reduce(
        (least, finder) => Math.min(least, Math.abs(finder.find(place).slotTick - place)),
        Number.POSITIVE_INFINITY,
      ) * msPerTick[row]!
    );
  };
  const beats: LoneBeat[] = [];
  for (const { startTick, endTick, firstRow, endRow } of hitsByPulse(ticks.length, placeOf, meterMap)) {
    // Hot: nothing is made of the many beats that have none.
    let row = firstRow;
    while (row < endRow && offMsAt(row) <= farMs) row++;
    if (row === endRow) continue;
    const strokes = Array.from({ length: endRow - firstRow }, (_, index): LoneStroke => {
      const offMs = offMsAt(firstRow + index);
      return { placeTick: placeOf(firstRow + index), offMs, isFar: offMs > farMs };
    });
    beats.push({ voice, startTick, endTick, strokes, msPerTick: msPerTick[firstRow]! });
  }
  return beats;
}

/** @returns null where none has a slot for all of them */
function plainestFor(
  parts: readonly LoneBeat[],
  voices: readonly Played[],
  tick: number,
  { meterMap }: TimeMaps,
): Grid | null {
  const { ppq } = meterMap;
  const known = voices.flatMap(({ found }) => [found.grid, gridAt(found, tick)]);
  let best: Grid | null = null;
  let bestScore = Number.NEGATIVE_INFINITY;
  for (const grid of GRID_CHOICES) {
    if (isUnusual(grid, ppq)) continue;
    const finder = new SlotFinder(grid, meterMap);
    let score = 0;
    if (!known.some((one) => isSameGrid(one, grid))) score -= NEW_PRICE;
    if (grid.denominator > 16 || (grid.family === "triplet" && grid.denominator > 8)) score -= FINE_PRICE;
    for (const { voice, strokes, msPerTick } of parts) {
      const { spreadMs } = voices[voice]!.found;
      if (!isPlayable(grid, spreadMs, msPerTick, ppq)) score = Number.NEGATIVE_INFINITY;
      for (const { placeTick, offMs, isFar } of strokes) {
        const spreads = (Math.abs(finder.find(placeTick).slotTick - placeTick) * msPerTick) / spreadMs;
        // A stroke that has a slot speaks against a grid only as far as it is farther from one there.
        const own = isFar ? 0 : offMs / spreadMs;
        score -= spreads > Math.max(NEAR_SPREADS, own) ? Number.POSITIVE_INFINITY : 0.5 * (spreads ** 2 - own ** 2);
      }
    }
    if (score <= bestScore) continue;
    best = grid;
    bestScore = score;
  }
  return best;
}
