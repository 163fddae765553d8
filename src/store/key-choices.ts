import { createStore } from "zustand/vanilla";

/** The keys that a person gave to commands, by command, where they are not the usual ones. Kept in the browser. */
export type KeyChoices = Readonly<Record<string, readonly string[]>>;

const STORAGE_KEY = "marten.keys";

export const keyChoices = createStore<KeyChoices>(() => {
  // On the server, where pages are made first, there is nothing to read.
  const stored = typeof localStorage === "undefined" ? null : localStorage.getItem(STORAGE_KEY);
  return stored ? (JSON.parse(stored) as KeyChoices) : {};
});

export function chooseKeys(choices: KeyChoices): void {
  keyChoices.setState(choices, true);
  localStorage.setItem(STORAGE_KEY, JSON.stringify(choices));
}
