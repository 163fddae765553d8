import { useEffect } from "react";
import { isTaken, namedKeys } from "../../components/keyboard.ts";
import { say } from "../../components/say.ts";
import type { Side } from "../../core/song/index.ts";
import { type Bench, redo, undo } from "../../store/bench-context.ts";

/** The same keys as on the Bench. */
export const SIDE_KEYS: Readonly<Record<Side, string>> = { recorded: "[", cleaned: "]", plain: "\\" };

/** Runs what keys stand for while the song is open. */
export function useSongKeys(bench: Bench, onExport: () => void): void {
  useEffect(() => {
    const sides = Object.entries(SIDE_KEYS) as [Side, string][];
    const down = (event: KeyboardEvent) => {
      const keys = namedKeys(event);
      if (event.altKey || isTaken(event.target, keys)) return;
      const side = sides.find(([, key]) => key === keys)?.[0];
      if (side) bench.store.setState({ side });
      else if (keys === "Space") void bench.playback.toggle();
      else if (keys === "`") say(bench.store.turnSide());
      else if (keys === "Ctrl+Z") say(undo(bench));
      else if (keys === "Ctrl+Shift+Z" || keys === "Ctrl+Y") say(redo(bench));
      else if (keys === "X") onExport();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, [bench, onExport]);
}
