import { keepChore, listChores, putChoreBack, readChoreFile, removeChore } from "../server-api.ts";
import { useShelf } from "./use-shelf.ts";

const CALLS = { sort: "chores", list: listChores, keep: keepChore, remove: removeChore, putBack: putChoreBack };

/** The chores on the shelf, and what can be done with them. */
export function useChores() {
  const { kept: chores, attempt, ...rest } = useShelf(CALLS);
  return { chores, ...rest, readFile: (file: File) => attempt(() => readChoreFile(file)) };
}

export type ChoreShelf = ReturnType<typeof useChores>;
