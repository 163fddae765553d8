import { useStore } from "zustand";
import { type Keyed, keyChoices, keysOfCommand } from "../../store/page/key-choices.ts";
import { shownKey, singleKeys } from "../../store/page/keyboard.ts";

/** Says the keys of anything: as they were chosen, and as single keys are to be worked. What calls it is drawn again when that changes. */
export function useShownKeys(): (one: Keyed) => readonly string[] {
  const choices = useStore(keyChoices);
  const mode = useStore(singleKeys, (state) => state.mode);
  return (one) =>
    keysOfCommand(one, choices)
      .map((key) => shownKey(key, mode))
      .filter((key) => key !== "");
}

/** The key of something, for its tooltip; empty for none. */
export const useKeyOf = (one: Keyed): string => useShownKeys()(one)[0] ?? "";
