import { formatGrid, GRID_CHOICES, GRID_FAMILIES, type Grid, gridName } from "../../../core/time/index.ts";

/** The grids to choose from, a group for each family. */
export const GRID_GROUPS = GRID_FAMILIES.map((family) =>
  GRID_CHOICES.filter((one) => one.family === family).map((one) => ({ id: formatGrid(one), name: gridName(one) })),
);

/** `1/16`, `1/8T`, `1/8Q`, `1/8D`: where there is no room for its name. */
export const gridSign = ({ family, denominator }: Grid) =>
  `1/${denominator}${family === "straight" ? "" : family[0]!.toUpperCase()}`;
