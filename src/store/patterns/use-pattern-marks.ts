import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef } from "react";
import { isBlankMark, type PatternMark } from "../../core/pattern/index.ts";
import { listMarks, type Problem, setMark } from "../server-api.ts";
import { useReadShelf } from "../shelf/use-shelf.ts";

export interface PatternMarks {
  /** What is said of a pattern, by what it plays. */
  readonly byPlayed: ReadonlyMap<string, PatternMark>;
  readonly problem: Problem | null;
  set(mark: PatternMark): void;
}

const SORT = "marks";

/** What was said of patterns. It is there at once and kept one after the other: the next word may be said before the last is kept. */
export function usePatternMarks(): PatternMarks {
  const cache = useQueryClient();
  const { kept, problem, attempt } = useReadShelf(SORT, listMarks);
  const byPlayed = useMemo(() => new Map((kept ?? []).map((mark) => [mark.played, mark])), [kept]);
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const set = useCallback(
    (mark: PatternMark) => {
      void cache.cancelQueries({ queryKey: [SORT] });
      cache.setQueryData<readonly PatternMark[]>([SORT], (before = []) => [
        ...before.filter(({ played }) => played !== mark.played),
        ...(isBlankMark(mark) ? [] : [mark]),
      ]);
      last.current = last.current.then(async () => {
        // What was refused is not there.
        if (!(await attempt(() => setMark(mark)))) await cache.invalidateQueries({ queryKey: [SORT] });
      });
    },
    [cache, attempt],
  );
  return { byPlayed, problem, set };
}
