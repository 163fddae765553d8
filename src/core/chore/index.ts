export { CHORES } from "./built-in.ts";
export type { Chore, ChoreAct, ChoreStep } from "./chore.ts";
export { actWords, type ChoreRun, runChore } from "./run-chore.ts";
