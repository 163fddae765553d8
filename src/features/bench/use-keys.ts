import { useEffect } from "react";
import { isTaken, namedKeys } from "../../components/keyboard.ts";
import type { Bench } from "../../store/bench-context.ts";
import { keyChoices } from "../../store/key-choices.ts";
import { flipSide } from "./actions.ts";
import { commandOfKeys } from "./command-keys.ts";
import { doAndSay } from "./do-and-say.ts";

/** A key held longer than this is let go of on purpose: the side flips back. */
const HELD_MS = 350;

/** Runs commands by key while the Bench is open. */
export function useKeys(bench: Bench | null): void {
  useEffect(() => {
    if (!bench) return;
    let flippedAt = 0;
    let flippedBy = "";
    const down = (event: KeyboardEvent) => {
      if (event.altKey) return;
      const keys = namedKeys(event);
      if (isTaken(event.target, keys)) return;
      if (keys === "?" || keys === "/") {
        event.preventDefault();
        bench.store.setState(keys === "?" ? { isKeysOpen: true } : { isSearchOpen: true });
        return;
      }
      const command = commandOfKeys(keys, keyChoices.getState());
      if (!command) return;
      event.preventDefault();
      if (command.id === "flip") {
        if (event.repeat) return;
        flippedAt = performance.now();
        flippedBy = event.key.toUpperCase();
      }
      doAndSay(bench, () => command.run(bench));
    };
    const up = (event: KeyboardEvent) => {
      if (event.key.toUpperCase() !== flippedBy || flippedAt === 0) return;
      if (performance.now() - flippedAt > HELD_MS) flipSide(bench);
      flippedAt = 0;
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [bench]);
}
