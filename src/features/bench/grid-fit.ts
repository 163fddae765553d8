import { type Grid, sameSteps } from "../../core/time/index.ts";
import type { FoundGrid, GridFit } from "../../core/timing/index.ts";

/** A share of hits this much smaller than that of the best grid is no matter of taste. */
const FAR_WORSE = 0.12;

/** How well a grid fits, 0 to 1; null while that is not known. */
export function shareOf(fits: readonly GridFit[], grid: Grid): number | null {
  return fits.find((fit) => sameSteps(fit.grid, grid))?.share ?? null;
}

/** Whether a voice was surely not played on a grid. */
export function isFarWorse(fits: readonly GridFit[], grid: Grid, found: FoundGrid): boolean {
  const [share, best] = [shareOf(fits, grid), shareOf(fits, found.grid)];
  return !found.isPoor && share !== null && best !== null && best - share > FAR_WORSE;
}
