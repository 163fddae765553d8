import { readFileSync } from "node:fs";
import { isGridPlans, isRecipe, type PlannedVoice, problemOf } from "../api/schemas.ts";
import { RECIPES, type TimingRecipe } from "../core/recipe.ts";
import { type Grid, type GridPlan, type MeterMap, parseBarBeat, parseGrid } from "../core/time/index.ts";
import { UsageError } from "./usage.ts";

/**
 * The recipe of a name that comes with the application, or of a file.
 * @throws UsageError if it is neither, or not in the form of a recipe
 */
export function readRecipe(nameOrPath: string): TimingRecipe {
  const known = RECIPES.find(({ name, id }) => id === nameOrPath || name.toLowerCase() === nameOrPath.toLowerCase());
  if (known) return known.timing;
  if (!nameOrPath.endsWith(".json")) {
    const names = RECIPES.map(({ id }) => id).join(", ");
    throw new UsageError(`There is no recipe “${nameOrPath}”. Name a .json file, or one of: ${names}.`);
  }
  const value = readJson(nameOrPath);
  if (!isRecipe(value)) {
    const { message, where } = problemOf(isRecipe);
    throw new UsageError(`${nameOrPath} is not a recipe: ${message} At ${where}.`);
  }
  return value.timing;
}

/**
 * The grid plans of a file: what `--report` writes about lanes, changed by hand or as it is.
 * @returns by voice; places are read when the take's meters are known
 * @throws UsageError if the file is not in that form
 */
export function readPlans(path: string): ReadonlyMap<string, PlannedVoice> {
  const value = readJson(path);
  if (!isGridPlans(value)) {
    const { message, where } = problemOf(isGridPlans);
    throw new UsageError(`${path} holds no grid plans: ${message} At ${where}.`);
  }
  return new Map(value.lanes.map((lane) => [lane.voiceId, lane]));
}

/** A plan of a file in ticks of the take. @throws UsageError if a grid or a place is none */
export function planOf(voice: PlannedVoice, meterMap: MeterMap): GridPlan | null {
  if (voice.grid === null) return null;
  const place = (text: string) => {
    const tick = parseBarBeat(meterMap, text);
    if (tick === null)
      throw new UsageError(`“${text}” in the plan of ${voice.voiceId} is not a place. Write bar:beat:tick.`);
    return tick;
  };
  const gridOf = (text: string, swingPercent?: number): Grid => {
    const grid = parseGrid(text);
    if (!grid) throw new UsageError(`“${text}” in the plan of ${voice.voiceId} is not a grid. Write it like 1/16.`);
    return swingPercent === undefined ? grid : { ...grid, swingPercent };
  };
  const stretches = voice.stretches
    .map(({ from, to, grid, swingPercent }) => {
      return { startTick: place(from), endTick: place(to), grid: gridOf(grid, swingPercent) };
    })
    .toSorted((a, b) => a.startTick - b.startTick);
  const overlap = stretches.findIndex(
    ({ startTick, endTick }, index) => endTick <= startTick || startTick < (stretches[index - 1]?.endTick ?? 0),
  );
  if (overlap !== -1) {
    throw new UsageError(`The stretches in the plan of ${voice.voiceId} overlap, or end before they begin.`);
  }
  const ghosts = voice.ghostGrid ? { ghostGrid: gridOf(voice.ghostGrid, voice.ghostSwingPercent) } : {};
  return { grid: gridOf(voice.grid, voice.swingPercent), ...ghosts, stretches };
}

function readJson(path: string): unknown {
  try {
    return JSON.parse(readFileSync(path, "utf8"));
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    throw new UsageError(`${path} is not JSON: ${error.message}.`, { cause: error });
  }
}
