import { type GridStretch, gridName } from "../time/index.ts";
import type { FoundGrid } from "./find-grid.ts";

/** What a voice was played on: `sixteenths with eighth triplets in 6 places`. */
export function foundGridName({ grid, ghostGrid, stretches }: FoundGrid): string {
  const others = otherGridWords(stretches);
  if (!ghostGrid) return `${gridName(grid)}${others}`;
  return `${gridName(grid)}, ghosts on ${gridName(ghostGrid)}${others ? `,${others}` : ""}`;
}

/** ` with eighth triplets in 6 places`; empty if there is one grid throughout. */
function otherGridWords(stretches: readonly GridStretch[]): string {
  const counts = new Map<string, number>();
  for (const { grid } of stretches) counts.set(gridName(grid), (counts.get(gridName(grid)) ?? 0) + 1);
  const words = [...counts].map(([name, count]) => `${name} in ${count} ${count === 1 ? "place" : "places"}`);
  return words.length === 0 ? "" : ` with ${words.join(" and ")}`;
}

/** `eighths, 6 ms early`: how a voice was played, in the words of a lane head. */
export function foundGridSentence(found: FoundGrid): string {
  if (found.isPoor) return "on no grid that fits";
  // A lane's head has no room for more; its card says in which places it follows other grids.
  const played = found.ghostGrid
    ? `${gridName(found.grid)}, ghosts ${gridName(found.ghostGrid)}`
    : foundGridName(found);
  return `${played}, ${habitWords(found)}`;
}

/** `6 ms early`, `on the line`. */
export function habitWords({ meanDriftMs }: Pick<FoundGrid, "meanDriftMs">): string {
  const ms = Math.round(meanDriftMs);
  return ms === 0 ? "on the line" : `${Math.abs(ms)} ms ${ms > 0 ? "late" : "early"}`;
}
