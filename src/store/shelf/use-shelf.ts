import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { type Problem, ServerProblem } from "../server-api.ts";

/** How one sort of things is had from the shelf, and changed there. */
export interface ShelfCalls<Kept, New> {
  /** What the sort is called in the cache. */
  readonly sort: string;
  list(): Promise<readonly Kept[]>;
  keep(one: New): Promise<Kept>;
  remove(id: string): Promise<unknown>;
  putBack(id: string): Promise<unknown>;
}

/** What came this shortly before is not asked for again: opening lanes one after another asks once. */
const FRESH_MS = 30_000;

/** Has all that is on the shelf read anew, as when much has come at once. */
export function useRereadShelf(): () => void {
  const cache = useQueryClient();
  return useCallback(() => void cache.invalidateQueries(), [cache]);
}

/** What is on the shelf of a sort, read again after whatever is attempted. */
export function useReadShelf<Kept>(sort: string, list: () => Promise<readonly Kept[]>) {
  const cache = useQueryClient();
  const { data, error } = useQuery({
    queryKey: [sort],
    queryFn: list,
    staleTime: FRESH_MS,
    // Another window may have changed it meanwhile.
    refetchOnWindowFocus: "always",
    // The server is on this machine: it needs no network, and what it refuses once it refuses again.
    networkMode: "always",
    retry: false,
    throwOnError: (error) => !(error instanceof ServerProblem),
  });
  const [refused, setRefused] = useState<Problem | null>(null);
  /** Does something on the server and reads the list again; says what went wrong. */
  const attempt = useCallback(
    async (act: () => Promise<unknown>): Promise<boolean> => {
      try {
        await act();
        setRefused(null);
        await cache.invalidateQueries({ queryKey: [sort] });
        return true;
      } catch (error) {
        if (!(error instanceof ServerProblem)) throw error;
        setRefused(error.problem);
        return false;
      }
    },
    [cache, sort],
  );
  return {
    kept: data ?? null,
    problem: refused ?? (error instanceof ServerProblem ? error.problem : null),
    attempt,
  };
}

/** What is on the shelf of a sort, and what can be done with it. */
export function useShelf<Kept, New>({ sort, list, keep, remove, putBack }: ShelfCalls<Kept, New>) {
  const { attempt, ...read } = useReadShelf(sort, list);
  return {
    ...read,
    attempt,
    keep: (one: New) => attempt(() => keep(one)),
    remove: (id: string) => attempt(() => remove(id)),
    putBack: (id: string) => attempt(() => putBack(id)),
  };
}
