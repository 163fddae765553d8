import { formatGrid, GRID_CHOICES, GRID_FAMILIES, gridName } from "../../../core/time/index.ts";

/** The grids to choose from, a group for each family. */
export const GRID_GROUPS = GRID_FAMILIES.map((family) =>
  GRID_CHOICES.filter((one) => one.family === family).map((one) => ({ id: formatGrid(one), name: gridName(one) })),
);
