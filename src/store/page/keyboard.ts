import { createStore } from "zustand/vanilla";
import { checkOf } from "../../api/check-shape.ts";
import { keep, readKept } from "../project/browser-store.ts";

/** What keys of one letter or sign do by themselves: what they stand for, that only with Alt, or nothing. */
export const SINGLE_KEY_MODES = ["on", "alt", "off"] as const;
export type SingleKeyMode = (typeof SINGLE_KEY_MODES)[number];

const STORAGE_KEY = "marten.singleKeys";
const isMode = checkOf({ enum: SINGLE_KEY_MODES });
export const singleKeys = createStore<{ readonly mode: SingleKeyMode }>(() => ({
  mode: readKept<SingleKeyMode>(STORAGE_KEY, isMode) ?? "on",
}));

export function setSingleKeys(mode: SingleKeyMode): void {
  singleKeys.setState({ mode });
  keep(STORAGE_KEY, mode);
}

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

/** Signs by where they are on a keyboard: on many they are typed with a second key held, or not at all. */
const SIGNS_BY_PLACE: Readonly<Record<string, string>> = {
  BracketLeft: "[",
  BracketRight: "]",
  Backslash: "\\",
  Backquote: "`",
  Slash: "/",
  Comma: ",",
  Period: ".",
};

const isCharacter = (keys: string) => [...keys.replace("Shift+", "")].length === 1;

/** A key as it is shown beside what it does: with Alt where that is asked for, and not at all where it does nothing. */
export function shownKey(keys: string, mode: SingleKeyMode): string {
  if (!isCharacter(keys) || mode === "on") return keys;
  return mode === "alt" ? `Alt+${keys}` : "";
}

type Press = Pick<KeyboardEvent, "key" | "code" | "ctrlKey" | "metaKey" | "shiftKey" | "altKey">;

/**
 * What a press may stand for: the keys by what is printed on them, then by where they are, for signs that this keyboard has elsewhere.
 * None where a person has switched single keys off, or wants Alt with them.
 */
export function shortcutsOf(event: Press): readonly string[] {
  const { mode } = singleKeys.getState();
  const isFree = !event.ctrlKey && !event.metaKey;
  // With Alt held, some keyboards type other signs: then the key is known by its place.
  const letter = /^(?:Key|Digit)(.)$/.exec(event.code)?.[1];
  const typed = namedKeys(event.altKey && letter ? { ...event, key: letter } : event);
  const sign = isFree ? SIGNS_BY_PLACE[event.code] : undefined;
  const names = [typed, ...(sign !== undefined && sign !== typed && !event.shiftKey ? [sign] : [])];
  return names.filter((keys) => {
    if (!isCharacter(keys)) return !event.altKey;
    return mode === "on" ? !event.altKey : mode === "alt" && event.altKey;
  });
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
