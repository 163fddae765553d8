import { useEffect, useMemo, useState } from "react";
import type { Problem } from "../../api/wire.ts";
import type { Edit } from "../../core/document/index.ts";
import type { MessageTable, OddMessages, WantedMessage } from "../../core/messages/index.ts";
import { startTakeReader } from "../../workers/index.ts";
import { type Bench, useBench, useBenchState } from "../bench/bench-context.ts";
import { readTake, ServerProblem } from "../server-api.ts";

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
  /** Whether the worker has it. */
  readonly isOpen: boolean;
  readonly problem: Problem | null;
}

/** Reads a take in a worker from the first moment, while its project is still being opened. */
export function useTakeReading(projectId: string): TakeReading {
  const [problem, setProblem] = useState<Problem | null>(null);
  const [isOpen, setIsOpen] = useState(false);
  const helper = useMemo(() => startTakeReader(), []);

  useEffect(() => {
    const open = async () => {
      try {
        const bytes = await readTake(projectId);
        await helper.run((reader) => reader.open(bytes));
        setIsOpen(true);
      } catch (error) {
        if (!(error instanceof ServerProblem)) throw error;
        setProblem(error.problem);
      }
    };
    void open();
  }, [helper, projectId]);

  useEffect(() => () => helper.end(), [helper]);
  return { helper, isOpen, problem };
}

export function useMessages({ helper, isOpen, problem }: TakeReading): Messages {
  const bench = useBench();
  const pattern = useBenchState((state) => state.pattern);
  const [listed, setListed] = useState<{ table: MessageTable; odd: readonly OddMessages[] } | null>(null);

  useEffect(() => {
    if (!isOpen) return;
    let isOld = false;
    void helper
      .run((reader) => reader.list(pattern))
      .then((next) => {
        // A later list is on its way if the pattern has changed since.
        if (!isOld) setListed(next);
      });
    return () => {
      isOld = true;
    };
  }, [helper, isOpen, pattern]);

  return {
    table: listed?.table ?? null,
    odd: listed?.odd ?? [],
    problem,
    change: (label, wanted) => change(bench, helper, label, wanted),
    csv: (rows) => helper.run((reader) => reader.csv(pattern, rows)),
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
    const edit = await helper.run((reader) => reader.change(pattern, wanted) as Promise<Edit>);
    if (store.getState().pattern !== pattern) continue;
    store.commit(label, edit);
    return;
  }
}
