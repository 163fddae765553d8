/** A command fits if each word that was typed begins one of its words: 1 if in that order from its first, else less. */
export function fitOfCommand(value: string, search: string): number {
  const words = value.toLowerCase().split(/[^\p{L}\p{N}]+/u);
  const typed = search.toLowerCase().split(/\s+/).filter(Boolean);
  if (!typed.every((part) => words.some((word) => word.startsWith(part)))) return 0;
  return words[0]?.startsWith(typed[0] ?? "") ? 1 : 0.5;
}
