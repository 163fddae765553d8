import { counted } from "../ordinal.ts";
import { type Grid, type GridStretch, gridName, gridNameBeside, isSameGrid, sameSteps } from "../time/index.ts";
import type { FoundGrid } from "./find-grid.ts";

/** What a voice was played on: `sixteenths with eighth triplets in 6 places`. */
export function foundGridName({ grid, ghostGrid, stretches }: FoundGrid): string {
  const others = otherGridWords(stretches, ghostGrid ?? grid);
  if (!ghostGrid) return `${gridName(grid)}${others}`;
  return `${gridName(grid)}, ghosts on ${gridName(ghostGrid)}${others.startsWith(" ") ? `,${others}` : others}`;
}

/** ` with eighth triplets in 6 places`, `, swung 60 % in 1 place`; empty if there is one grid throughout. */
function otherGridWords(stretches: readonly GridStretch[], usual: Grid): string {
  const placesOf = new Map<Grid, number>();
  for (const { grid } of stretches) {
    const known = [...placesOf.keys()].find((one) => isSameGrid(one, grid)) ?? grid;
    placesOf.set(known, (placesOf.get(known) ?? 0) + 1);
  }
  const words = (grids: readonly Grid[]) =>
    grids.map((grid) => `${gridNameBeside(grid, usual)} in ${counted(placesOf.get(grid)!, "place")}`).join(" and ");
  const [swung, others] = [true, false].map((isSame) =>
    words([...placesOf.keys()].filter((grid) => sameSteps(grid, usual) === isSame)),
  );
  return `${swung ? `, ${swung}` : ""}${others ? ` with ${others}` : ""}`;
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
