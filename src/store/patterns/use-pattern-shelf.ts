import { useCallback, useEffect, useMemo, useState } from "react";
import { packPattern } from "../../core/document/index.ts";
import type { FoundPattern, Knock } from "../../core/pattern/index.ts";
import { startPatterns } from "../../workers/index.ts";
import type { ShelfEntry } from "../../workers/patterns.worker.ts";
import type { BenchStore } from "../bench/bench-store.ts";
import { listProjects, putPatternFileBack, readProjectBytes, removePatternFile, ServerProblem } from "../server-api.ts";
import { type AddedFiles, addFiles, shelveKeptFiles, type UnreadFile } from "./pattern-files.ts";

export type { ShelfEntry };

type CutAnswer = readonly ShelfEntry[] | { readonly fault: string };

/** Of more takes only those that were worked on last are cut. */
const MOST_TAKES = 200;

export interface PatternShelf {
  readonly entries: readonly ShelfEntry[];
  /** Whether takes are still being cut. */
  readonly isFilling: boolean;
  /** Takes and files that could not be read. */
  readonly unread: readonly UnreadFile[];
  /** Puts files onto the shelf. @throws ServerProblem if one cannot be kept */
  add(files: readonly File[], goesOn: (share: number) => boolean): Promise<AddedFiles>;
  /** Takes the patterns of a file off the shelf, or puts them back. @throws ServerProblem */
  setRemoved(fileId: string, isRemoved: boolean): Promise<void>;
  forgetUnread(): void;
  /** Puts a pattern that was made here first. */
  addMade(entry: ShelfEntry): void;
  find(knock: Knock, most: number): Promise<readonly FoundPattern[]>;
}

/** A screen that lists thousands is not drawn anew for each of them: the more there are, the more come at once. */
const HEAP_MS = 250;
const HEAP_SHARE = 0.15;

/** Hands on what comes one after the other, some at a time. */
function inHeaps(hand: (entries: readonly ShelfEntry[]) => void) {
  let heap: ShelfEntry[] = [];
  let handedCount = 0;
  let handedMs = performance.now();
  const end = () => {
    if (heap.length > 0) hand(heap);
    handedCount += heap.length;
    heap = [];
    handedMs = performance.now();
  };
  const take = (more: readonly ShelfEntry[]) => {
    heap.push(...more);
    const isMuch = heap.length > HEAP_SHARE * handedCount;
    if (isMuch && performance.now() - handedMs > HEAP_MS) end();
  };
  return { take, end };
}

/** All patterns there are: of the take that is open, of the stand-in drummer, and of every other take. Filled in a worker. */
export function usePatternShelf(store: BenchStore): PatternShelf {
  const helper = useMemo(() => startPatterns(), []);
  const [entries, setEntries] = useState<readonly ShelfEntry[]>([]);
  const [isFilling, setIsFilling] = useState(true);
  const [unread, setUnread] = useState<readonly UnreadFile[]>([]);
  /** Each is told once, however often it was given. */
  const tellUnread = useCallback(
    (more: readonly UnreadFile[]) =>
      setUnread((before) => [...new Map([...before, ...more].map((one) => [one.path, one])).values()]),
    [],
  );
  useEffect(() => {
    let isOver = false;
    const add = (more: readonly ShelfEntry[]) => {
      if (!isOver && more.length > 0) setEntries((before) => [...before, ...more]);
    };
    const kept = inHeaps(add);
    const fill = async () => {
      const { project } = store.getState();
      const own = store.take();
      add(
        await helper.run(
          (call) => call.cut(project.id, project.name, packPattern(own)) as Promise<readonly ShelfEntry[]>,
        ),
      );
      add(await helper.run((call) => call.standIn() as Promise<readonly ShelfEntry[]>));
      for (const { id, name } of (await listProjects()).slice(0, MOST_TAKES)) {
        if (isOver) return;
        if (id === project.id) continue;
        try {
          const bytes = await readProjectBytes(id);
          const cut = await helper.run((call) => call.cutAnswer(id, name, bytes) as Promise<CutAnswer>);
          if ("fault" in cut) tellUnread([{ path: name, why: cut.fault }]);
          else kept.take(cut);
        } catch (error) {
          if (!(error instanceof ServerProblem)) throw error;
          tellUnread([{ path: name, why: error.problem.message }]);
        }
      }
      const lost = await shelveKeptFiles(
        helper,
        () => isOver,
        (more) => kept.take(more),
      );
      kept.end();
      tellUnread(lost);
    };
    fill()
      .catch((error: unknown) => {
        if (!(error instanceof ServerProblem)) throw error;
        tellUnread([{ path: "The shelf", why: error.problem.message }]);
      })
      .finally(() => setIsFilling(false));
    return () => {
      isOver = true;
      helper.end();
    };
  }, [helper, store, tellUnread]);
  const find = useMemo(
    () => (knock: Knock, most: number) =>
      helper.run((call) => call.find(knock, most) as Promise<readonly FoundPattern[]>),
    [helper],
  );
  const add = useCallback(
    async (files: readonly File[], goesOn: (share: number) => boolean) => {
      const heap = inHeaps((more) => setEntries((before) => [...before, ...more]));
      try {
        const found = await addFiles(helper, files, goesOn, (more) => heap.take(more));
        tellUnread(found.unread);
        return found;
      } finally {
        heap.end();
      }
    },
    [helper, tellUnread],
  );
  const setRemoved = useCallback(
    async (fileId: string, isRemoved: boolean) => {
      await (isRemoved ? removePatternFile(fileId) : putPatternFileBack(fileId));
      const more = await helper.run(
        (call) => (isRemoved ? call.takeOff(fileId) : call.putBack(fileId)) as Promise<readonly ShelfEntry[]>,
      );
      setEntries((before) => [...(isRemoved ? before.filter((one) => one.fileId !== fileId) : before), ...more]);
    },
    [helper],
  );
  const addMade = useCallback(
    (entry: ShelfEntry) => {
      setEntries((before) => [entry, ...before]);
      void helper.run((call) => call.add(entry.id, entry.rhythm));
    },
    [helper],
  );
  const forgetUnread = useCallback(() => setUnread([]), []);
  return { entries, isFilling, unread, find, add, setRemoved, forgetUnread, addMade };
}
