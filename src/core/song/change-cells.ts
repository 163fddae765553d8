import type { Arrangement, CellFeel, Cells, CellTreatment, SongPattern } from "../document/arrangement.ts";
import { cellOf } from "../document/arrangement.ts";
import type { Groove } from "../document/groove.ts";

/** A place in the matrix of patterns and voices. */
export interface CellPlace {
  readonly patternId: string;
  readonly voiceId: string;
}

/** What is to be set in some cells; a field that is undefined goes, so that the cell follows again. */
export type CellChange = { readonly [Field in keyof CellTreatment]?: CellTreatment[Field] | undefined };

/**
 * Changes cells of the matrix: one, a row, a column or all.
 * @param change from what a cell does now, with what it follows, to what it is to do otherwise
 */
export function changeCells(
  arrangement: Arrangement,
  places: readonly CellPlace[],
  change: (cell: CellTreatment) => CellChange,
): Arrangement {
  const voicesOf = new Map<string, string[]>();
  for (const { patternId, voiceId } of places) voicesOf.set(patternId, [...(voicesOf.get(patternId) ?? []), voiceId]);
  const patterns = arrangement.patterns.map((pattern): SongPattern => {
    const voiceIds = voicesOf.get(pattern.id);
    if (!voiceIds) return pattern;
    const cells: Record<string, CellTreatment> = { ...pattern.cells };
    for (const voiceId of voiceIds) {
      const changed = { ...cells[voiceId], ...change(cellOf(arrangement, pattern, voiceId)) };
      const own = Object.fromEntries(Object.entries(changed).filter(([, value]) => value !== undefined));
      if (Object.keys(own).length === 0) delete cells[voiceId];
      else cells[voiceId] = own;
    }
    return withCells(pattern, cells);
  });
  return { ...arrangement, patterns };
}

function withCells({ cells: _, ...pattern }: SongPattern, cells: Cells): SongPattern {
  return Object.keys(cells).length === 0 ? pattern : { ...pattern, cells };
}

/** Lays a groove on cells. Amounts that a cell has stay; others are as given. */
export function layOnCells(
  arrangement: Arrangement,
  places: readonly CellPlace[],
  groove: Groove,
  amounts: Omit<CellFeel, "grooveId">,
): Arrangement {
  const { id, name, lengthQuarters, grid, layers } = groove;
  const known = arrangement.grooves[id];
  const isOther = known !== undefined && JSON.stringify(known.layers) !== JSON.stringify(layers);
  // Another groove under a known id, as one that was changed on the shelf, must not change cells that nobody touched.
  const grooveId = isOther ? `${id} ${Object.keys(arrangement.grooves).length + 1}` : id;
  const grooves = { ...arrangement.grooves, [grooveId]: { id: grooveId, name, lengthQuarters, grid, layers } };
  return changeCells({ ...arrangement, grooves }, places, ({ feel }) => ({
    feel: { ...amounts, ...(feel ? amountsOf(feel) : {}), grooveId },
  }));
}

function amountsOf({ timingPercent, accentPercent }: CellFeel): Omit<CellFeel, "grooveId"> {
  return { timingPercent, accentPercent };
}
