import { useCallback, useEffect, useState } from "react";
import { type Problem, ServerProblem, type StorageState, storageState } from "../server-api.ts";

/** How the data on the disk is; null until it is known. */
export function useStorage() {
  const [state, setState] = useState<StorageState | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  /** Does something, looks again, and says what went wrong. Returns whether it was done. */
  const attempt = useCallback(async (act: () => Promise<unknown>): Promise<boolean> => {
    try {
      setProblem(null);
      await act();
      setState(await storageState());
      return true;
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
      return false;
    }
  }, []);
  useEffect(() => void attempt(async () => {}), [attempt]);
  return { state, problem, attempt };
}

export type StorageDesk = ReturnType<typeof useStorage>;
