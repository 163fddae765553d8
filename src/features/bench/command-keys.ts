import { useStore } from "zustand";
import { type KeyChoices, keyChoices } from "../../store/key-choices.ts";
import { COMMANDS, type Command, commandById } from "./commands.ts";

// Which keys run which command: the usual ones, unless a person chose others.

/** Keys that always mean the same: the menu, the sheet of keys, and what moves the focus or leaves. */
const FIXED_KEYS: ReadonlySet<string> = new Set(["/", "?", "Tab", "Shift+Tab", "Escape"]);

export function keysOfCommand({ id, keys }: Command, choices: KeyChoices): readonly string[] {
  return choices[id] ?? keys;
}

export function commandOfKeys(keys: string, choices: KeyChoices): Command | undefined {
  return COMMANDS.find((command) => keysOfCommand(command, choices).includes(keys));
}

export type KeyChange =
  | { readonly ok: true; readonly choices: KeyChoices }
  | { readonly ok: false; readonly refusal: string };

/**
 * Gives a command another key.
 * @returns the new choices, or why the key cannot be had
 */
export function withKey(choices: KeyChoices, command: Command, key: string): KeyChange {
  if (FIXED_KEYS.has(key)) return { ok: false, refusal: `${key} always means the same here. Press another key.` };
  const other = commandOfKeys(key, choices);
  if (other && other.id !== command.id) {
    return { ok: false, refusal: `${key} is for “${other.name}”. Give that another key first, or press another one.` };
  }
  const { [command.id]: _, ...others } = choices;
  const isUsual = command.keys.length === 1 && command.keys[0] === key;
  return { ok: true, choices: isUsual ? others : { ...others, [command.id]: [key] } };
}

/** Says the key of a command, for its tooltip; the component is drawn again when keys are chosen. */
export function useKeyNames(): (id: string) => string {
  const choices = useStore(keyChoices);
  return (id) => {
    const command = commandById(id);
    return command ? (keysOfCommand(command, choices)[0] ?? "") : "";
  };
}
