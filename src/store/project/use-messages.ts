import { useEffect, useMemo, useState } from "react";
import type { Problem } from "../../api/wire.ts";
import { type Edit, type Pattern, packPattern } from "../../core/document/index.ts";
import type { MessageTable, OddMessages, WantedMessage } from "../../core/messages/index.ts";
import { startTakeReader } from "../../workers/index.ts";
import type { ListedMessages } from "../../workers/take.worker.ts";
import { type Bench, useBench, useBenchState } from "../bench/bench-context.ts";
import { readTake, ServerProblem } from "../server-api.ts";
import type { AlongsideOpening } from "./use-open-bench.ts";

/** The messages of the open take, listed in a worker. */
export interface Messages {
  /** Null until the first list is made. */
  readonly table: MessageTable | null;
  readonly odd: readonly OddMessages[];
  readonly problem: Problem | null;
  /** Takes messages out or changes them, as one step that can be undone. */
  change(label: string, wanted: readonly WantedMessage[]): Promise<void>;
  csv(rows: Uint32Array): Promise<string>;
}

/** A take that is read in a worker. */
export interface TakeReading {
  readonly helper: ReturnType<typeof startTakeReader>;
  readonly problem: Problem | null;
  /** Has the messages listed while the project is still being opened. */
  readonly alongside: AlongsideOpening;
  /** The list of a pattern, which may be on its way already. */
  list(pattern: Pattern): Promise<ListedMessages>;
}

/** Reads a take in a worker from the first moment. */
export function useTakeReading(projectId: string): TakeReading {
  const [problem, setProblem] = useState<Problem | null>(null);
  const helper = useMemo(() => startTakeReader(), []);
  const lists = useMemo(() => {
    let first: Promise<ListedMessages> | null = null;
    let listed: Pattern | null = null;
    const alongside: AlongsideOpening = {
      takeAnswer: (answer) => {
        first = helper.run((reader) => reader.listAnswer(answer));
      },
      takePattern: (pattern) => {
        listed = pattern;
      },
    };
    const list = (pattern: Pattern) => {
      const isFirst = pattern === listed;
      const known = isFirst && first ? first : helper.run((reader) => reader.list(packPattern(pattern)));
      // An older pattern is listed anew if it comes back; it need not be held for that.
      if (!isFirst) [first, listed] = [null, null];
      return known;
    };
    return { alongside, list };
  }, [helper]);

  useEffect(() => {
    const open = async () => {
      try {
        const bytes = await readTake(projectId);
        await helper.run((reader) => reader.open(bytes));
      } catch (error) {
        if (!(error instanceof ServerProblem)) throw error;
        setProblem(error.problem);
      }
    };
    void open();
  }, [helper, projectId]);

  useEffect(() => () => helper.end(), [helper]);
  return { helper, problem, ...lists };
}

export function useMessages({ helper, problem, list }: TakeReading): Messages {
  const bench = useBench();
  const pattern = useBenchState((state) => state.pattern);
  const [listed, setListed] = useState<ListedMessages | null>(null);

  useEffect(() => {
    let isOld = false;
    void list(pattern).then((next) => {
      // A later list is on its way if the pattern has changed since.
      if (!isOld) setListed(next);
    });
    return () => {
      isOld = true;
    };
  }, [list, pattern]);

  return {
    table: listed?.table ?? null,
    odd: listed?.odd ?? [],
    problem,
    change: (label, wanted) => change(bench, helper, label, wanted),
    csv: (rows) => helper.run((reader) => reader.csv(packPattern(pattern), rows)),
  };
}

async function change(
  { store }: Bench,
  helper: ReturnType<typeof startTakeReader>,
  label: string,
  wanted: readonly WantedMessage[],
): Promise<void> {
  // If something else is done while the worker thinks, it is asked again for the pattern that is there by then.
  for (;;) {
    const { pattern } = store.getState();
    // The channel's types take a union of promises for the promise of a union.
    const edit = await helper.run((reader) => reader.change(packPattern(pattern), wanted) as Promise<Edit>);
    if (store.getState().pattern !== pattern) continue;
    store.commit(label, edit);
    return;
  }
}
