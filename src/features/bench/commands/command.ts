import type { Bench } from "../../../store/bench/bench-context.ts";

export const COMMAND_GROUPS = ["Listen", "Navigate", "Select", "Change", "Write"] as const;

/** Something that can be done, by key and by button alike. */
export interface Command {
  readonly id: string;
  readonly group: (typeof COMMAND_GROUPS)[number];
  readonly name: string;
  /** The usual ones, as they are shown. */
  readonly keys: readonly string[];
  /** Whether a key that is held does it only for as long. */
  readonly isHeld?: true;
  /** Returns what was done, in words, if that is not plain to see. */
  run(bench: Bench): string | null | void | Promise<string | null>;
}

export type GroupedCommand = Omit<Command, "group">;
