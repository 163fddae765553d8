import type { NewGroove } from "../../api/wire.ts";
import {
  changeGroove,
  type GrooveReading,
  keepGroove,
  listGrooves,
  putGrooveBack,
  readGrooveFile,
  removeGroove,
} from "../server-api.ts";
import { useShelf } from "./use-shelf.ts";

const CALLS = { sort: "grooves", list: listGrooves, keep: keepGroove, remove: removeGroove, putBack: putGrooveBack };

/** The grooves on the shelf, and what can be done with them. */
export function useGrooves() {
  const { kept: grooves, attempt, ...rest } = useShelf(CALLS);
  return {
    grooves,
    ...rest,
    change: (id: string, groove: NewGroove) => attempt(() => changeGroove(id, groove)),
    /** Null if the file holds none; then the problem says why. */
    readFile: async (file: File): Promise<GrooveReading | null> => {
      const read: GrooveReading[] = [];
      await attempt(async () => read.push(await readGrooveFile(file)));
      return read[0] ?? null;
    },
  };
}

export type GrooveShelf = ReturnType<typeof useGrooves>;
