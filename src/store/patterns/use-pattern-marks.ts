import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef } from "react";
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

/**
 * What was said of patterns. It is there at once and kept one after the other: the next word may be said before the last is kept. What
 * is not on its way yet when the page is left goes then.
 */
export function usePatternMarks(): PatternMarks {
  const cache = useQueryClient();
  const { kept, problem, attempt } = useReadShelf(SORT, listMarks);
  const byPlayed = useMemo(() => new Map((kept ?? []).map((mark) => [mark.played, mark])), [kept]);
  /** What was said last of each pattern, and is not sent. */
  const unsent = useRef(new Map<string, PatternMark>());
  const sending = useRef<Promise<unknown>>(Promise.resolve());
  const sendAll = useCallback(async () => {
    for (const [played, mark] of unsent.current) {
      unsent.current.delete(played);
      await setMark(mark);
    }
  }, []);
  const set = useCallback(
    (mark: PatternMark) => {
      void cache.cancelQueries({ queryKey: [SORT] });
      cache.setQueryData<readonly PatternMark[]>([SORT], (before = []) => [
        ...before.filter(({ played }) => played !== mark.played),
        ...(isBlankMark(mark) ? [] : [mark]),
      ]);
      unsent.current.set(mark.played, mark);
      sending.current = sending.current.then(async () => {
        while (unsent.current.size > 0) {
          // What was refused is not there.
          if (!(await attempt(sendAll))) await cache.invalidateQueries({ queryKey: [SORT] });
        }
      });
    },
    [cache, attempt, sendAll],
  );
  useEffect(() => {
    const sendNow = () => {
      const left = [...unsent.current.values()];
      unsent.current.clear();
      for (const mark of left) void attempt(() => setMark(mark));
    };
    window.addEventListener("pagehide", sendNow);
    return () => window.removeEventListener("pagehide", sendNow);
  }, [attempt]);
  return { byPlayed, problem, set };
}
