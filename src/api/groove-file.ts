import type { Groove } from "../core/document/index.ts";
import { newGroove } from "../core/document/shapes/treatment-shape.ts";
import { record } from "../core/json-shape.ts";

/** What a file of a groove says it is. */
export const GROOVE_FORMAT = "idle-marten-groove";
export const GROOVE_VERSION = 1;

/** The text of a file that holds a groove. */
export function writeGrooveFile({ name, lengthQuarters, grid, layers, tags }: Omit<Groove, "id">): string {
  const groove = { name, lengthQuarters, grid, layers, ...(tags ? { tags } : {}) };
  return `${JSON.stringify({ format: GROOVE_FORMAT, version: GROOVE_VERSION, groove }, null, 2)}\n`;
}

export const grooveFile = record({
  format: { const: GROOVE_FORMAT },
  version: { const: GROOVE_VERSION },
  groove: newGroove,
});
