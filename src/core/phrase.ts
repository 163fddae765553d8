import { findVoice, type NoteMap, type NoteMeaning, strokeName } from "./document/note-map.ts";
import { type Limit, sayLimited } from "./limit.ts";
import { type Grid, gridName } from "./time/index.ts";

/**
 * A piece of a sentence: a word, or a value that can be set in place. A rule or an act says its sentence once, as such pieces; they are
 * read as text, and the same ones are its editor.
 */
export type PhrasePart<Thing> =
  | string
  | { readonly kind: "number"; readonly limit: Limit; readonly value: number; readonly set: (value: number) => Thing }
  | {
      readonly kind: "choice";
      readonly label: string;
      /** One as a rule; a file can hold several. */
      readonly chosenIds: readonly string[];
      readonly choices: readonly { readonly id: string; readonly name: string }[];
      readonly set: (id: string) => Thing;
    }
  | { readonly kind: "voices"; readonly voiceIds: readonly string[]; readonly set: (voiceId: string) => Thing }
  | { readonly kind: "stroke"; readonly meaning: NoteMeaning; readonly set: (meaning: NoteMeaning) => Thing }
  | {
      readonly kind: "steps";
      readonly grid: Grid;
      readonly steps: readonly number[];
      readonly set: (grid: Grid, steps: readonly number[]) => Thing;
    }
  /** Something to press, which the text leaves out. */
  | { readonly kind: "button"; readonly name: string; readonly set: () => Thing };

export type Phrase<Thing> = readonly PhrasePart<Thing>[];

/** A phrase as text, with the names of a map. */
export function phraseText(phrase: Phrase<unknown>, map: NoteMap): string {
  return phrase
    .map((part) => partText(part, map))
    .join("")
    .trim();
}

export function partText(part: PhrasePart<unknown>, map: NoteMap): string {
  if (typeof part === "string") return part;
  switch (part.kind) {
    case "number":
      return sayLimited(part.limit, part.value);
    case "choice":
      return listed(part.chosenIds.map((id) => part.choices.find((choice) => choice.id === id)?.name ?? id));
    case "voices":
      return listed(part.voiceIds.map((voiceId) => findVoice(map, voiceId).name.toLowerCase()));
    case "stroke":
      return strokeName(map, part.meaning).toLowerCase();
    case "steps":
      return `${gridName(part.grid)} ${listed(part.steps.map(String))}`;
    case "button":
      return "";
    default:
      return part satisfies never;
  }
}

/** `a`, `a or b`, `a, b or c`. */
export function listed(words: readonly string[], join = "or"): string {
  if (words.length <= 1) return words[0] ?? "nothing";
  return `${words.slice(0, -1).join(", ")} ${join} ${words.at(-1)}`;
}
