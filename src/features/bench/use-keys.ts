import { useEffect } from "react";
import { toast } from "sonner";
import { flipSide } from "./actions.ts";
import type { Bench } from "./bench-context.ts";
import { COMMANDS } from "./commands.ts";

const KEY_NAMES: Readonly<Record<string, string>> = {
  " ": "Space",
  ArrowLeft: "←",
  ArrowRight: "→",
  ArrowUp: "↑",
  ArrowDown: "↓",
};
/** A key held longer than this is let go of on purpose: the side flips back. */
const HELD_MS = 350;

/** The keys of an event as the commands name them: `Ctrl+Shift+Z`, `?`, `←`. The command key counts as Ctrl. */
export function namedKeys(event: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "shiftKey">): string {
  const key = KEY_NAMES[event.key] ?? (event.key.length === 1 ? event.key.toUpperCase() : event.key);
  // A sign such as + or ? is typed with Shift on many keyboards; only letters and named keys tell Shift apart.
  const isSign = event.key.length === 1 && !/[a-z]/i.test(event.key) && event.key !== " ";
  const hasShift = event.shiftKey && !isSign;
  return `${event.ctrlKey || event.metaKey ? "Ctrl+" : ""}${hasShift ? "Shift+" : ""}${key}`;
}

/** Whether the focused element needs the key itself: fields always, controls for what works them. */
function isTaken(target: EventTarget | null, keys: string): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest("[role=dialog], [role=menu], input, textarea, select")) return true;
  return (
    keys === "Enter" ||
    (keys === "Space" &&
      target.closest("button, a, [role=switch], [role=radio]") !== null &&
      target.matches(":focus-visible"))
  );
}

/** Runs commands by key while the Bench is open. */
export function useKeys(bench: Bench | null, onSheet: () => void): void {
  useEffect(() => {
    if (!bench) return;
    let flippedAt = 0;
    const down = (event: KeyboardEvent) => {
      if (event.altKey) return;
      const keys = namedKeys(event);
      if (isTaken(event.target, keys)) return;
      if (keys === "?") {
        event.preventDefault();
        onSheet();
        return;
      }
      const command = COMMANDS.find((candidate) => candidate.keys.includes(keys));
      if (!command) return;
      event.preventDefault();
      if (command.id === "flip") {
        if (event.repeat) return;
        flippedAt = performance.now();
      }
      const words = command.run(bench);
      if (words) toast(words, { id: "command" });
    };
    const up = (event: KeyboardEvent) => {
      if (event.key.toUpperCase() !== "R" || flippedAt === 0) return;
      if (performance.now() - flippedAt > HELD_MS) flipSide(bench);
      flippedAt = 0;
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [bench, onSheet]);
}
