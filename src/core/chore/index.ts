export { CHORES } from "./built-in.ts";
export type { Chore, ChoreAct, ChoreStep } from "./chore.ts";
export { actWords, choreSentence } from "./chore-sentence.ts";
export { type ChoreRun, runChore } from "./run-chore.ts";
