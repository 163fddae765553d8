import { CHANGE } from "./change.ts";
import type { Command, GroupedCommand } from "./command.ts";
import { LISTEN } from "./listen.ts";
import { PICK } from "./pick.ts";
import { TRAVEL } from "./travel.ts";
import { WRITE } from "./write.ts";

export { COMMAND_GROUPS, type Command } from "./command.ts";

const inGroup = (group: Command["group"], commands: readonly GroupedCommand[]): readonly Command[] =>
  commands.map((command) => ({ ...command, group }));

/** Every command, in the order in which the sheet lists them. */
export const COMMANDS: readonly Command[] = [
  ...inGroup("Listen", LISTEN),
  ...inGroup("Navigate", TRAVEL),
  ...inGroup("Select", PICK),
  ...inGroup("Change", CHANGE),
  ...inGroup("Write", WRITE),
];

export function commandById(id: string): Command | undefined {
  return COMMANDS.find((command) => command.id === id);
}
