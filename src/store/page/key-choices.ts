import { createStore } from "zustand/vanilla";
import { checkOf } from "../../api/check-shape.ts";
import { id } from "../../core/json-shape.ts";
import { keep, readKept } from "../project/browser-store.ts";

/** The keys that a person gave to commands, by command, where they are not the usual ones. Kept in the browser. */
export type KeyChoices = Readonly<Record<string, readonly string[]>>;

const STORAGE_KEY = "marten.keys";

const isKeys = checkOf({ type: "object", additionalProperties: { type: "array", maxItems: 16, items: id } });

export const keyChoices = createStore<KeyChoices>(() => readKept<KeyChoices>(STORAGE_KEY, isKeys) ?? {});

export function chooseKeys(choices: KeyChoices): void {
  keyChoices.setState(choices, true);
  keep(STORAGE_KEY, choices);
}

/** What can have keys: what a screen does, or what is kept on the shelf. */
export interface Keyed {
  readonly id: string;
  readonly name: string;
  /** The usual ones, as they are shown. */
  readonly keys: readonly string[];
}

export function keysOfCommand({ id, keys }: Keyed, choices: KeyChoices): readonly string[] {
  return choices[id] ?? keys;
}

/** @param all what can have keys where they are pressed; of two that have the same, the first */
export function commandOfKeys<One extends Keyed>(
  keys: string,
  choices: KeyChoices,
  all: readonly One[],
): One | undefined {
  return all.find((one) => keysOfCommand(one, choices).includes(keys));
}

/** Keys that always mean the same: what moves the focus or leaves. */
const FIXED_KEYS: ReadonlySet<string> = new Set(["Tab", "Shift+Tab", "Escape"]);
/** Keys that browsers keep for themselves, and those that screen readers are worked with. */
const BROWSER_KEYS: ReadonlySet<string> = new Set(
  "Ctrl+W Ctrl+T Ctrl+N Ctrl+Q Ctrl+L Ctrl+R Ctrl+Shift+W Ctrl+Shift+T Ctrl+Shift+N Ctrl+Tab F5 F6 F11 F12".split(" "),
);
const READER_KEYS: ReadonlySet<string> = new Set(["Insert", "CapsLock", "ScrollLock", "NumLock"]);
/** A key that waits for the next one to make a letter of both. */
const DEAD_KEY = "Dead";

/** Why a key can be nobody's; null if it can. */
function whyNot(key: string): string | null {
  if (FIXED_KEYS.has(key)) return `${key} always means the same here. Press another key.`;
  if (BROWSER_KEYS.has(key)) return `${key} belongs to the browser, and would not come here. Press another key.`;
  if (READER_KEYS.has(key)) return `${key} is what screen readers are worked with. Press another key.`;
  if (key.endsWith(DEAD_KEY))
    return "This key waits for another one to make a letter. Press a key that types by itself.";
  return null;
}

export type KeyChange =
  | { readonly ok: true; readonly choices: KeyChoices }
  | { readonly ok: false; readonly refusal: string };

/**
 * Gives a command another key.
 * @param all what else can have keys where it is pressed
 * @returns the new choices, or why the key cannot be had
 */
export function withKey(choices: KeyChoices, command: Keyed, key: string, all: readonly Keyed[]): KeyChange {
  const reason = whyNot(key);
  if (reason !== null) return { ok: false, refusal: reason };
  const other = commandOfKeys(key, choices, all);
  if (other && other.id !== command.id) {
    return { ok: false, refusal: `${key} is for “${other.name}”. Give that another key first, or press another one.` };
  }
  const others = withoutKey(choices, command);
  const isUsual = command.keys.length === 1 && command.keys[0] === key;
  return { ok: true, choices: isUsual ? others : { ...others, [command.id]: [key] } };
}

/** Takes the chosen key off again: a command has its usual one, what is on the shelf none. */
export function withoutKey(choices: KeyChoices, { id }: Keyed): KeyChoices {
  const { [id]: _, ...others } = choices;
  return others;
}
