import { useEffect, useRef } from "react";

const KEY_NAMES: Readonly<Record<string, string>> = {
  " ": "Space",
  ArrowLeft: "←",
  ArrowRight: "→",
  ArrowUp: "↑",
  ArrowDown: "↓",
};
/** The keys of an event as the commands name them: `Ctrl+Shift+Z`, `?`, `←`. The command key counts as Ctrl. */
export function namedKeys(event: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "shiftKey">): string {
  const key = KEY_NAMES[event.key] ?? (event.key.length === 1 ? event.key.toUpperCase() : event.key);
  // A sign such as + or ? is typed with Shift on many keyboards; only letters and named keys tell Shift apart.
  const isSign = event.key.length === 1 && !/[a-z]/i.test(event.key) && event.key !== " ";
  const hasShift = event.shiftKey && !isSign;
  return `${event.ctrlKey || event.metaKey ? "Ctrl+" : ""}${hasShift ? "Shift+" : ""}${key}`;
}

const SLIDER_KEYS = new Set(["←", "→", "↑", "↓", "Home", "End", "PageUp", "PageDown"]);

/** Whether keys are typed into something, or belong to a sheet. */
export function isTypedInto(target: EventTarget | null): boolean {
  return target instanceof Element && target.closest("input, textarea, select, [role=dialog]") !== null;
}

/** Whether the focused element needs the key itself: fields always, controls for what works them. */
export function isTaken(target: EventTarget | null, keys: string): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest("[role=dialog], [role=menu], input, textarea, select")) return true;
  if (SLIDER_KEYS.has(keys.replace("Shift+", "")) && target.closest("[role=slider]")) return true;
  // A menu that the key has just opened has taken the focus already.
  if (target.closest("[aria-haspopup][data-state=open]")) return keys === "Enter" || keys === "Space";
  const isOnControl = target.closest("button, a, summary, [role=switch], [role=radio]") !== null;
  // A control that was only clicked keeps the focus, but not the space bar: that plays.
  return isOnControl && (keys === "Enter" || (keys === "Space" && target.matches(":focus-visible")));
}

/** Runs what a key stands for, unless the focused element needs the key itself. Returning false leaves the key alone. */
export function useShortcuts(run: (keys: string, event: KeyboardEvent) => boolean): void {
  const latest = useRef(run);
  latest.current = run;
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const keys = namedKeys(event);
      if (!event.altKey && !isTaken(event.target, keys) && latest.current(keys, event)) event.preventDefault();
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, []);
}
