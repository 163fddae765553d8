import type { Chore } from "../core/chore/index.ts";

/** What a file of chores says it is. */
export const CHORE_FORMAT = "idle-marten-chores";
export const CHORE_VERSION = 1;

/** The text of a file that holds chores. */
export function writeChoreFile(chores: readonly Pick<Chore, "name" | "steps">[]): string {
  const bare = chores.map(({ name, steps: own }) => ({ name, steps: own }));
  return `${JSON.stringify({ format: CHORE_FORMAT, version: CHORE_VERSION, chores: bare }, null, 2)}\n`;
}
