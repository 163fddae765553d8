import { useCallback, useEffect, useState } from "react";
import { type Problem, ServerProblem } from "./server-api.ts";

/** How one sort of things is had from the shelf, and changed there. */
export interface ShelfCalls<Kept, New> {
  list(): Promise<readonly Kept[]>;
  keep(one: New): Promise<Kept>;
  remove(id: string): Promise<unknown>;
  putBack(id: string): Promise<unknown>;
}

/** What is on the shelf of a sort, and what can be done with it. @param calls the same object every time */
export function useShelf<Kept, New>(calls: ShelfCalls<Kept, New>) {
  const [kept, setKept] = useState<readonly Kept[] | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  /** Does something on the server and reads the list again; says what went wrong. */
  const attempt = useCallback(
    async (act: () => Promise<unknown>): Promise<boolean> => {
      try {
        await act();
        setKept(await calls.list());
        setProblem(null);
        return true;
      } catch (error) {
        if (!(error instanceof ServerProblem)) throw error;
        setProblem(error.problem);
        return false;
      }
    },
    [calls],
  );
  useEffect(() => void attempt(async () => {}), [attempt]);
  return {
    kept,
    problem,
    attempt,
    keep: (one: New) => attempt(() => calls.keep(one)),
    remove: (id: string) => attempt(() => calls.remove(id)),
    putBack: (id: string) => attempt(() => calls.putBack(id)),
  };
}
