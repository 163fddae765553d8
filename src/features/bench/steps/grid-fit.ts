import { isOfFile, type TimingTreatment } from "../../../core/document/index.ts";
import type { FoundGrid, GridFit } from "../../../core/study/index.ts";
import { type Grid, sameSteps } from "../../../core/time/index.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";

/** A share of hits this much smaller than that of the best grid is no matter of taste. */
const FAR_WORSE = 0.12;

/** How well a grid fits, 0 to 1; null while that is not known. */
export function shareOf(fits: readonly GridFit[], grid: Grid): number | null {
  return fits.find((fit) => sameSteps(fit.grid, grid))?.share ?? null;
}

/**
 * Where a voice sits on another grid, if its pocket is where it was found to sit on the one before; null where a hand has set it, or
 * nothing is known of the grids.
 * @param latencyMs of the voice, which is no habit
 */
export function pocketOn(
  fits: readonly GridFit[],
  { grid, pocketMs }: Pick<TimingTreatment, "grid" | "pocketMs">,
  to: Grid,
  latencyMs: number,
): number | null {
  const onGrid = (one: Grid) => {
    const fit = fits.find((candidate) => sameSteps(candidate.grid, one));
    return fit ? Math.round((fit.meanDriftMs - latencyMs) * 10) / 10 : null;
  };
  const [before, after] = [onGrid(grid), onGrid(to)];
  return before !== null && Math.abs(before - pocketMs) < BY_HAND_MS ? after : null;
}

/** How much of what a voice is late by is taken off as latency, and is no habit: only the file's hits came in late. */
export const latencyOfVoice = ({ hits, treatment }: Pick<LaneView, "hits" | "treatment">): number =>
  hits.some(isOfFile) ? treatment.timing.latencyMs : 0;

/** A pocket that is off by more than this was set by hand. */
const BY_HAND_MS = 0.6;

/** Whether a voice was surely not played on a grid. */
export function isFarWorse(fits: readonly GridFit[], grid: Grid, found: FoundGrid): boolean {
  const [share, best] = [shareOf(fits, grid), shareOf(fits, found.grid)];
  return !found.isPoor && share !== null && best !== null && best - share > FAR_WORSE;
}
