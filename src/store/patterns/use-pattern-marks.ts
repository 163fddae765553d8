import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo } from "react";
import type { PatternMark } from "../../core/pattern/index.ts";
import { listMarks, type Problem } from "../server-api.ts";
import { useReadShelf } from "../shelf/use-shelf.ts";
import { sendMarks, unsentMarks, withSaid } from "./said-marks.ts";

export interface PatternMarks {
  /** What is said of a pattern, by what it plays. */
  readonly byPlayed: ReadonlyMap<string, PatternMark>;
  readonly problem: Problem | null;
  set(mark: PatternMark): void;
}

const SORT = "marks";

const listSaid = async () => withSaid(await listMarks(), unsentMarks());

/**
 * What was said of patterns. It is there at once and kept one after the other: the next word may be said before the last is kept. What
 * did not arrive goes when patterns are opened or come back to.
 */
export function usePatternMarks(): PatternMarks {
  const cache = useQueryClient();
  const { kept, problem, attempt } = useReadShelf(SORT, listSaid);
  const byPlayed = useMemo(() => new Map((kept ?? []).map((mark) => [mark.played, mark])), [kept]);
  const send = useCallback(
    async (said?: PatternMark) => {
      // What was refused is not there.
      if (!(await attempt(() => sendMarks(said)))) await cache.invalidateQueries({ queryKey: [SORT] });
    },
    [cache, attempt],
  );
  useEffect(() => {
    const sendLeft = () => {
      if (unsentMarks().length > 0) void send();
    };
    sendLeft();
    window.addEventListener("focus", sendLeft);
    return () => window.removeEventListener("focus", sendLeft);
  }, [send]);
  const set = useCallback(
    (mark: PatternMark) => {
      void cache.cancelQueries({ queryKey: [SORT] });
      cache.setQueryData<readonly PatternMark[]>([SORT], (before = []) => withSaid(before, [mark]));
      void send(mark);
    },
    [cache, send],
  );
  return { byPlayed, problem, set };
}
