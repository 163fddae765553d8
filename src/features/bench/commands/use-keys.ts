import { useEffect } from "react";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { commandOfKeys, keyChoices } from "../../../store/page/key-choices.ts";
import { isTaken, shortcutsOf } from "../../../store/page/keyboard.ts";
import type { BenchKeyed } from "./command-keys.ts";
import { COMMANDS } from "./commands.ts";
import { doAndSay } from "./do-and-say.ts";
import { useShelfCommands } from "./shelf-commands.ts";

/** A key held longer than this is let go of on purpose: what it did is over. */
const HELD_MS = 350;

/** Runs commands by key while the Bench is open. */
export function useKeys(bench: Bench | null): void {
  const { chores, recipes } = useShelfCommands();
  useEffect(() => {
    if (!bench) return;
    let held: { readonly command: BenchKeyed; readonly key: string; readonly since: number } | null = null;
    const down = (event: KeyboardEvent) => {
      const command = shortcutsOf(event)
        .filter((keys) => !isTaken(event.target, keys))
        .map((keys) => commandOfKeys<BenchKeyed>(keys, keyChoices.getState(), [...COMMANDS, ...chores, ...recipes]))
        .find((found) => found !== undefined);
      if (!command) return;
      event.preventDefault();
      if (command.isHeld) {
        if (event.repeat) return;
        held = { command, key: event.key.toUpperCase(), since: event.timeStamp };
      }
      doAndSay(bench, () => command.run(bench));
    };
    const up = (event: KeyboardEvent) => {
      if (!held || event.key.toUpperCase() !== held.key) return;
      // Done once more, it is as it was before the key was held.
      if (event.timeStamp - held.since > HELD_MS) void held.command.run(bench);
      held = null;
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [bench, chores, recipes]);
}
