import { useEffect, useMemo, useState } from "react";
import type { FoundPattern, Knock } from "../../core/pattern/index.ts";
import { startPatterns } from "../../workers/index.ts";
import type { ShelfEntry } from "../../workers/patterns.worker.ts";
import type { BenchStore } from "../bench-store.ts";
import { listProjects, openProject, ServerProblem } from "../server-api.ts";

export type { ShelfEntry };

/** Longer takes would keep the page waiting; of them only the one that is open is cut. */
const MOST_HITS_ELSEWHERE = 8000;
const MOST_TAKES = 40;

export interface PatternShelf {
  readonly entries: readonly ShelfEntry[];
  /** Whether takes are still being cut. */
  readonly isFilling: boolean;
  /** Takes that could not be read, by name. */
  readonly unread: readonly string[];
  find(knock: Knock, most: number): Promise<readonly FoundPattern[]>;
}

/** All patterns there are: of the take that is open, of the stand-in drummer, and of every other take. Filled in a worker. */
export function usePatternShelf(store: BenchStore): PatternShelf {
  const helper = useMemo(() => startPatterns(), []);
  const [entries, setEntries] = useState<readonly ShelfEntry[]>([]);
  const [isFilling, setIsFilling] = useState(true);
  const [unread, setUnread] = useState<readonly string[]>([]);
  useEffect(() => {
    let isOver = false;
    const add = (more: readonly ShelfEntry[]) => {
      if (!isOver) setEntries((before) => [...before, ...more]);
    };
    const fill = async () => {
      const { project } = store.getState();
      const own = store.take();
      add(await helper.run((call) => call.cut(project.id, project.name, own) as Promise<readonly ShelfEntry[]>));
      add(await helper.run((call) => call.standIn() as Promise<readonly ShelfEntry[]>));
      for (const { id, name } of (await listProjects()).slice(0, MOST_TAKES)) {
        if (isOver) return;
        if (id === project.id) continue;
        try {
          const { pattern } = await openProject(id);
          if (pattern.hits.length > MOST_HITS_ELSEWHERE) continue;
          add(await helper.run((call) => call.cut(id, name, pattern) as Promise<readonly ShelfEntry[]>));
        } catch (error) {
          if (!(error instanceof ServerProblem)) throw error;
          setUnread((before) => [...before, name]);
        }
      }
    };
    void fill().finally(() => setIsFilling(false));
    return () => {
      isOver = true;
      helper.end();
    };
  }, [helper, store]);
  const find = useMemo(
    () => (knock: Knock, most: number) =>
      helper.run((call) => call.find(knock, most) as Promise<readonly FoundPattern[]>),
    [helper],
  );
  return { entries, isFilling, unread, find };
}
