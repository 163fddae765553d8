import { type Grid, isSameGrid } from "../time/index.ts";
import { costOfSwing, type GridModel } from "./grid-model.ts";

// What the voices of a take say of one another's grids: one player plays all of them.

/** What it is worth that another voice is on the same grid, as a logarithm, and how many hits such a voice must have. */
const SHARED_WORTH = 3;
const FEWEST_OF_OTHERS = 12;

/** What a voice is on, as far as others go by it. */
interface VoiceOnGrid {
  readonly grid: Grid;
  readonly ghostGrid?: Grid;
  readonly isPoor: boolean;
  readonly hitCount: number;
}

/**
 * What each grid is worth to a voice by what the others are on. Those who swing have shown how far already, so that it costs nothing more.
 * @param hitCount of the voice
 * @returns as a logarithm, for a grid
 */
export function worthBeside(others: readonly VoiceOnGrid[], hitCount: number): (grid: Grid) => number {
  const known = others.flatMap(({ grid, ghostGrid = grid, isPoor, hitCount: count }) => {
    if (isPoor || count < FEWEST_OF_OTHERS) return [];
    // Half of a voice speaks for what its strokes are on, half for its ghosts.
    return [grid, ghostGrid].map((one) => ({ grid: one, hits: count / 2 }));
  });
  const hitsOn = (grid: Grid) => sum(known.map((one) => (isSameGrid(one.grid, grid) ? one.hits : 0)));
  const swungOn = (denominator: number) =>
    known.find((one) => one.grid.swingPercent !== undefined && one.grid.denominator === denominator);
  const isSwungOn = (finest: number) =>
    known.some((one) => one.grid.swingPercent !== undefined && one.grid.denominator <= finest);
  return (grid) => {
    // Every third step of a take that swings is a late one, and then an even one: no such grid is even.
    if (grid.family === "dotted" && isSwungOn(2 * grid.denominator)) return Number.NEGATIVE_INFINITY;
    const hits = hitsOn(grid);
    if (hits === 0) return 0;
    const swung = swungOn(grid.denominator);
    if (!swung || grid.family !== "straight") return SHARED_WORTH;
    // One player hardly swings with one hand and not with the other: the larger part of the take says it.
    if (grid.swingPercent !== undefined) return SHARED_WORTH + costOfSwing(hitCount);
    return hits > hitsOn(swung.grid) ? SHARED_WORTH : 0;
  };
}

/**
 * Whether all voices together say that the take swings so far: one player does so with all hands or with none, so that it has to be
 * shown once, and not by each voice.
 * @param modelsOf the grids that were fitted to each voice, this swing among them
 * @param hitCounts of each voice
 */
export function isPlayedByAll(
  swing: Grid,
  modelsOf: readonly (readonly Pick<GridModel, "grid" | "score">[])[],
  hitCounts: readonly number[],
): boolean {
  const gains = modelsOf.map((models, index) => {
    const best = (isPossible: (grid: Grid) => boolean) =>
      Math.max(...models.flatMap(({ grid, score }) => (isPossible(grid) ? [score] : [])));
    const asSwung = best((grid) => isSameGrid(grid, swing)) + costOfSwing(hitCounts[index]!);
    // What it does not say anything of may go beside it, as quarters do.
    const isBeside = ({ family, denominator }: Grid) => family !== "straight" || denominator < swing.denominator;
    return Math.max(asSwung, best(isBeside)) - best((grid) => grid.swingPercent === undefined);
  });
  return sum(gains) > costOfSwing(sum(hitCounts));
}

const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
