import type { NoteMap } from "../document/index.ts";
import { phraseText } from "../phrase.ts";
import { siftSentence } from "../sift/index.ts";
import { type ChoreAct, kindOfAct } from "./acts/index.ts";
import type { ChoreStep } from "./chore.ts";

/** The steps of a chore as sentences: `Every 2nd closed hat in the bar, from the 2nd: velocity × 70 %.` */
export function choreSentence(steps: readonly ChoreStep[], map: NoteMap): string {
  return steps
    .map(({ sift, acts }) => {
      const done = acts.map((act) => actWords(act, map)).join(", ");
      return `${siftSentence(sift, map)}${done ? `: ${done}` : ""}.`;
    })
    .join(" ");
}

/** An act in words: `velocity × 70 %`, `push ahead 6 ms`. */
export function actWords(act: ChoreAct, map: NoteMap): string {
  return phraseText(kindOfAct(act).phrase(act), map);
}
