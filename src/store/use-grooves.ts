import { keepGroove, listGrooves, putGrooveBack, removeGroove } from "./server-api.ts";
import { useShelf } from "./use-shelf.ts";

const CALLS = { list: listGrooves, keep: keepGroove, remove: removeGroove, putBack: putGrooveBack };

/** The grooves on the shelf, and what can be done with them. */
export function useGrooves() {
  const { kept: grooves, attempt: _, ...rest } = useShelf(CALLS);
  return { grooves, ...rest };
}

export type GrooveShelf = ReturnType<typeof useGrooves>;
