import type { ShapeFault } from "../../api/check-shape.ts";

// What is kept in the browser, all of it. The browser's store can be full, forbidden, or hold anything at all: none of that may keep a
// screen from opening.

export type Check = (value: unknown) => ShapeFault | null;

/** The browser's store; null where there is none, as on the server, or where it is forbidden. */
function store(): Storage | null {
  try {
    return typeof localStorage === "undefined" ? null : localStorage;
  } catch (error) {
    if (!(error instanceof DOMException)) throw error;
    return null;
  }
}

/** What is kept under a key; null if there is nothing, or something else than what is expected there, which is as good as nothing. */
export function readKept<Value>(key: string, check: Check): Value | null {
  const text = store()?.getItem(key) ?? null;
  if (text === null) return null;
  try {
    const value: unknown = JSON.parse(text);
    const fault = check(value);
    if (!fault) return value as Value;
    console.warn(`What the browser keeps under ${key} is not used: ${fault.where} ${fault.message}.`);
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    console.warn(`What the browser keeps under ${key} is not used: it is no JSON.`);
  }
  return null;
}

/** A word that the browser remembers as it is, such as the layout that was exported last; null if there is none. */
export const readWord = (key: string) => store()?.getItem(key) ?? null;

/** Keeps a value. Returns false if the browser has no room for it, or keeps nothing. */
export const keep = (key: string, value: unknown) => keepWord(key, JSON.stringify(value));

export function keepWord(key: string, word: string): boolean {
  try {
    store()?.setItem(key, word);
    return store() !== null;
  } catch (error) {
    if (!(error instanceof DOMException)) throw error;
    return false;
  }
}

export function forget(key: string): void {
  store()?.removeItem(key);
}

/** All keys that begin like this. */
export function keptKeys(beginning: string): readonly string[] {
  const kept = store();
  if (!kept) return [];
  return Array.from({ length: kept.length }, (_, index) => kept.key(index)!).filter((key) => key.startsWith(beginning));
}

/** Gives what cannot be read another name, so that it is neither in the way nor lost. */
export function setAside(key: string): void {
  const kept = store();
  const text = kept?.getItem(key);
  if (!kept || text === null || text === undefined) return;
  try {
    kept.setItem(`marten.unreadable.${key}`, text);
    kept.removeItem(key);
  } catch (error) {
    if (!(error instanceof DOMException)) throw error;
  }
}
