import type { Bench } from "../../../store/bench/bench-context.ts";
import type { Keyed } from "../../../store/page/key-choices.ts";
import { useShownKeys } from "../../page/use-key-of.ts";
import { type Command, commandById } from "./commands.ts";

/** What can be run on the Bench by key: a command, or what is kept on the shelf. */
export interface BenchKeyed extends Keyed, Pick<Command, "isHeld"> {
  run(bench: Bench): ReturnType<Command["run"]> | Promise<string>;
}

/** Says the key of a command, for its tooltip; the component is drawn again when keys are chosen. */
export function useKeyNames(): (id: string) => string {
  const shownKeys = useShownKeys();
  return (id) => {
    const command = commandById(id);
    return (command && shownKeys(command)[0]) ?? "";
  };
}
