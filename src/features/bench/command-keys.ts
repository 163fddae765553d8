import { useStore } from "zustand";
import type { Bench } from "../../store/bench-context.ts";
import { type KeyChoices, keyChoices } from "../../store/key-choices.ts";
import { shownKey, singleKeys } from "../../store/keyboard.ts";
import { COMMANDS, type Command, commandById } from "./commands.ts";

// Which keys run which command: the usual ones, unless a person chose others.

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

/** What can have keys: a command, or what is kept on the shelf. */
export interface Keyed extends Pick<Command, "id" | "name" | "keys" | "isHeld"> {
  run(bench: Bench): ReturnType<Command["run"]> | Promise<string>;
}

export function keysOfCommand({ id, keys }: Keyed, choices: KeyChoices): readonly string[] {
  return choices[id] ?? keys;
}

/** @param kept what can have keys besides the commands; those on keys of commands are not reached */
export function commandOfKeys(keys: string, choices: KeyChoices, kept: readonly Keyed[] = []): Keyed | undefined {
  return [...COMMANDS, ...kept].find((command) => keysOfCommand(command, choices).includes(keys));
}

export type KeyChange =
  | { readonly ok: true; readonly choices: KeyChoices }
  | { readonly ok: false; readonly refusal: string };

/**
 * Gives a command another key.
 * @returns the new choices, or why the key cannot be had
 */
export function withKey(choices: KeyChoices, command: Keyed, key: string, kept: readonly Keyed[] = []): KeyChange {
  const reason = whyNot(key);
  if (reason !== null) return { ok: false, refusal: reason };
  const other = commandOfKeys(key, choices, kept);
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

/** Says the key of a command, for its tooltip; the component is drawn again when keys are chosen. */
export function useKeyNames(): (id: string) => string {
  const choices = useStore(keyChoices);
  const mode = useStore(singleKeys, (state) => state.mode);
  return (id) => {
    const command = commandById(id);
    return command ? shownKey(keysOfCommand(command, choices)[0] ?? "", mode) : "";
  };
}
