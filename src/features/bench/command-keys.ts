import { useStore } from "zustand";
import type { Bench } from "../../store/bench-context.ts";
import { type Keyed, keyChoices, keysOfCommand } from "../../store/key-choices.ts";
import { shownKey, singleKeys } from "../../store/keyboard.ts";
import { type Command, commandById } from "./commands.ts";

/** What can be run on the Bench by key: a command, or what is kept on the shelf. */
export interface BenchKeyed extends Keyed, Pick<Command, "isHeld"> {
  run(bench: Bench): ReturnType<Command["run"]> | Promise<string>;
}

/** Says the key of a command, for its tooltip; the component is drawn again when keys are chosen. */
export function useKeyNames(): (id: string) => string {
  const choices = useStore(keyChoices);
  const mode = useStore(singleKeys, (state) => state.mode);
  return (id) => {
    const command = commandById(id);
    return command ? shownKey(keysOfCommand(command, choices)[0] ?? "", mode) : "";
  };
}
