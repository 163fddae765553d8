import { createStore } from "zustand/vanilla";
import { checkOf } from "../api/check-shape.ts";
import { id } from "../core/json-shape.ts";
import { keep, readKept } from "./browser-store.ts";

/** The keys that a person gave to commands, by command, where they are not the usual ones. Kept in the browser. */
export type KeyChoices = Readonly<Record<string, readonly string[]>>;

const STORAGE_KEY = "marten.keys";

const isKeys = checkOf({ type: "object", additionalProperties: { type: "array", maxItems: 16, items: id } });

export const keyChoices = createStore<KeyChoices>(() => readKept<KeyChoices>(STORAGE_KEY, isKeys) ?? {});

export function chooseKeys(choices: KeyChoices): void {
  keyChoices.setState(choices, true);
  keep(STORAGE_KEY, choices);
}
