import { useStore } from "zustand";
import { type Keyed, keyChoices, keysOfCommand } from "../../store/key-choices.ts";
import { shownKey, singleKeys } from "../../store/keyboard.ts";

/** The key of something, for its tooltip: as it was chosen, and as single keys are to be worked. */
export function useKeyOf(one: Keyed): string {
  const choices = useStore(keyChoices);
  const mode = useStore(singleKeys, (state) => state.mode);
  return shownKey(keysOfCommand(one, choices)[0] ?? "", mode);
}
