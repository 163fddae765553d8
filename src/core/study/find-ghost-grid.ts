import { GRID_CHOICES, type Grid, type GridStretch, gridStepTicks, isSameGrid, stretchAt } from "../time/index.ts";
import { BarSlots, isWithin } from "./bar-slots.ts";
import type { GridModel } from "./grid-model.ts";
import type { Onsets } from "./onsets.ts";

/** Of fewer strokes, or ghosts, nothing can be said on their own. */
const FEWEST_OF_ROLE = 12;
/** A hit speaks against a coarser grid if it is farther than this from its slot, in spreads … */
const ON_SLOT_SPREADS = 3;
/** … and nearer to a slot that only the finer one has: by this share of the finer step. */
const ON_SLOT_SHARE = 0.5;

/** The grids of a voice whose strokes and ghosts are on different ones. */
export interface GridsByRole {
  readonly grid: Grid;
  readonly ghostGrid: Grid;
}

/**
 * Whether the strokes of a voice stay on a coarser grid than its ghosts, or the other way round. A coarser grid takes slots away
 * that nobody plays so loud, so that a loose stroke is not pulled to them; but it is believed only if every single hit of that
 * loudness fits it.
 * @param ghostTop the loudest of the ghosts; 0 if there are none
 * @param model the grid that explains strokes and ghosts together
 * @returns null if they share it
 */
export function findGhostGrid(
  ghostTop: number,
  model: Pick<GridModel, "grid" | "meanDriftMs" | "spreadMs">,
  stretches: readonly GridStretch[],
  onsets: Onsets,
  ppq: number,
): GridsByRole | null {
  if (ghostTop === 0) return null;
  const [ghosts, strokes]: [number[], number[]] = [[], []];
  for (let row = 0; row < onsets.ticks.length; row++) {
    // A stretch has its own grid, for all that is in it.
    if (stretchAt({ grid: model.grid, stretches }, onsets.ticks[row]!)) continue;
    (onsets.velocities[row]! <= ghostTop ? ghosts : strokes).push(row);
  }
  if (ghosts.length < FEWEST_OF_ROLE || strokes.length < FEWEST_OF_ROLE) return null;
  const grid = coarsestFor(strokes, model, onsets, ppq);
  const ghostGrid = coarsestFor(ghosts, model, onsets, ppq);
  // Ghosts that are on a coarser grid lie on slots of the finer one too, unless it is of another family.
  return isSameGrid(grid, ghostGrid) || isWithin(ghostGrid, grid, ppq) ? null : { grid, ghostGrid };
}

/** The coarsest grid within that of a model that fits some hits without exception. */
function coarsestFor(
  rows: readonly number[],
  { grid, meanDriftMs, spreadMs }: Pick<GridModel, "grid" | "meanDriftMs" | "spreadMs">,
  { inBarTicks, barTicks, msPerTick }: Onsets,
  ppq: number,
): Grid {
  const finestTicks = gridStepTicks(grid, ppq);
  const coarser = GRID_CHOICES.filter(
    (other) => other.family !== "dotted" && gridStepTicks(other, ppq) > finestTicks && isWithin(other, grid, ppq),
  ).toSorted((a, b) => gridStepTicks(b, ppq) - gridStepTicks(a, ppq));
  const fits = (other: Grid) => {
    const finder = new BarSlots(other, ppq);
    return rows.every((row) => {
      const centred = inBarTicks[row]! - meanDriftMs / msPerTick[row]!;
      finder.find(centred, barTicks[row]!);
      const offTicks = Math.abs(centred - finder.slot);
      return offTicks <= ON_SLOT_SHARE * finestTicks || offTicks * msPerTick[row]! <= ON_SLOT_SPREADS * spreadMs;
    });
  };
  return coarser.find(fits) ?? grid;
}
