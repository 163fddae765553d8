import { GROOVES, type Groove } from "../core/groove/index.ts";
import type { KeptSort } from "./kept.ts";

/** The feel of a bar or a few, under a name. */
export const GROOVE_SORT: KeptSort<Omit<Groove, "id" | "name">> = {
  table: "grooves",
  column: "feel",
  word: "groove",
  builtIn: GROOVES,
  read: (json) => json as Omit<Groove, "id" | "name">,
  write: ({ lengthQuarters, grid, layers }) => ({ lengthQuarters, grid, layers }),
};
