import type { Groove } from "../core/document/index.ts";

/** What a file of a groove says it is. */
export const GROOVE_FORMAT = "idle-marten-groove";
export const GROOVE_VERSION = 1;

/** The text of a file that holds a groove. */
export function writeGrooveFile({ name, lengthQuarters, grid, layers, tags }: Omit<Groove, "id">): string {
  const groove = { name, lengthQuarters, grid, layers, ...(tags ? { tags } : {}) };
  return `${JSON.stringify({ format: GROOVE_FORMAT, version: GROOVE_VERSION, groove }, null, 2)}\n`;
}
