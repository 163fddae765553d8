import type { KeyboardEvent } from "react";

/** Letters that come one after the other within this are one word. */
const SAME_WORD_MS = 700;

let typed = "";
let typedAt = 0;

/**
 * Goes to the item of a menu one of whose words begins with what is typed: "open" finds "Hi-hat, open". Menus would find it only by its
 * first word. The same letter again goes on to the next.
 */
export function findByWord(event: KeyboardEvent<HTMLElement>): void {
  const { key, ctrlKey, metaKey, altKey } = event;
  if (key.length !== 1 || key === " " || ctrlKey || metaKey || altKey) return;
  event.preventDefault();
  const letter = key.toLowerCase();
  const isLater = event.timeStamp - typedAt > SAME_WORD_MS;
  const isAgain = typed === letter;
  typed = isLater || isAgain ? letter : typed + letter;
  typedAt = event.timeStamp;
  const items = [...event.currentTarget.querySelectorAll<HTMLElement>("[role^=menuitem]:not([data-disabled])")];
  const at = items.findIndex((item) => item.matches(":focus"));
  // A first letter goes on from where one is; more of them may still mean that.
  const from = typed.length === 1 ? at + 1 : Math.max(0, at);
  const inTurn = [...items.slice(from), ...items.slice(0, from)];
  inTurn.find((item) => hasWord(item.textContent ?? "", typed))?.focus();
}

/** Whether a text, or one of its words, begins with some letters. */
export function hasWord(text: string, letters: string): boolean {
  const lower = text.toLowerCase();
  return lower.startsWith(letters) || lower.split(/[\s,/()-]+/).some((word) => word.startsWith(letters));
}
