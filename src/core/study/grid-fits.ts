import { columnsOf, type Hit } from "../document/pattern.ts";
import { bordersOf } from "../dynamics/roles.ts";
import { GRID_CHOICES, type Grid, STRAIGHT_PERCENT, type TimeMaps } from "../time/index.ts";
import { isWithin } from "./bar-slots.ts";
import type { FoundGrid } from "./find-grid.ts";
import { fitGrid, shareExplained, USUAL_PLAYER } from "./grid-model.ts";
import { collectOnsets, thinned, thinnedHits } from "./onsets.ts";

/** How well a grid explains a voice: the share of hits that sit on a slot of it rather than anywhere, 0 to 1. */
export interface GridFit {
  readonly grid: Grid;
  readonly share: number;
  /** Where the voice sits by habit around the slots of this grid, late is positive. */
  readonly meanDriftMs: number;
}

/** Surer than this of a grid, nobody is asked. */
const SURE_GRID = 0.8;

/** The grid that may be meant as well; null where that is sure, or where the slots of one are those of the other and asking helps nobody. */
export function closeCall({ grid, runnerUp, confidence, isPoor }: FoundGrid): Grid | null {
  if (isPoor || !runnerUp || confidence >= SURE_GRID) return null;
  const areNested = isWithin(grid, runnerUp, 1) || isWithin(runnerUp, grid, 1);
  return areNested && (grid.swingPercent ?? STRAIGHT_PERCENT) === (runnerUp.swingPercent ?? STRAIGHT_PERCENT)
    ? null
    : runnerUp;
}

/** More hits than this make no difference that could be seen. */
const MOST_FOR_FITS = 300;
/** Of these some may have a grid of their own. */
const MOST_LOOKED_AT = 3 * MOST_FOR_FITS;

/**
 * How well each grid that can be chosen fits a voice, so that it can be seen before it is chosen. A finer grid fits what a coarser one
 * fits; which of them is meant, `findGrids` says.
 * Hits that have a grid of their own, as ghosts or in stretches, say nothing of the grid of the others.
 * @param found the voice as it was found: how late it sits is the same on any grid
 */
export function gridFits(hits: readonly Hit[], found: FoundGrid, maps: TimeMaps): readonly GridFit[] {
  const { ppq } = maps.meterMap;
  const ghostTop = found.ghostGrid ? bordersOf(columnsOf(hits), maps.meterMap).ghostTop : 0;
  const isOwn = ({ recordedTick, recordedVelocity }: Hit) =>
    (recordedVelocity ?? 127) <= ghostTop ||
    found.stretches.some(
      ({ startTick, endTick }) => recordedTick !== null && recordedTick >= startTick && recordedTick < endTick,
    );
  const others = thinnedHits(hits, MOST_LOOKED_AT).filter((hit) => !isOwn(hit));
  const onsets = thinned(collectOnsets(others, maps, found.meanDriftMs), MOST_FOR_FITS);
  if (onsets.ticks.length === 0) return [];
  return GRID_CHOICES.map((grid) => {
    const model = fitGrid(
      grid,
      onsets,
      ppq,
      { ...USUAL_PLAYER, lateMs: found.meanDriftMs, spreadMs: found.spreadMs },
      found.meanDriftMs,
    );
    // A coarse grid would take what it does not explain for loose playing: the hand is as steady as on the grid that was found.
    const spreadMs = found.isPoor ? USUAL_PLAYER.spreadMs : Math.max(found.spreadMs, STEADIEST_MS);
    const steady = { ...model, spreadMs, meanDriftMs: found.meanDriftMs };
    const share = shareExplained(steady, [], onsets, ppq);
    // Around slots that few hits were played for there is no habit.
    const meanDriftMs = share < LEAST_FOR_HABIT ? found.meanDriftMs : model.meanDriftMs;
    return { grid, share, meanDriftMs };
  });
}

const STEADIEST_MS = 4;
const LEAST_FOR_HABIT = 0.5;
