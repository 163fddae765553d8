export { ACT_KINDS, ACT_OFFERS, type ChoreAct, kindOfAct } from "./acts/index.ts";
export { CHORES } from "./built-in.ts";
export type { Chore, ChoreStep } from "./chore.ts";
export { actWords, choreSentence } from "./chore-sentence.ts";
export { type ChoreRun, runChore } from "./run-chore.ts";
