import { packPattern } from "../../core/document/index.ts";
import { startTakeReader } from "../../workers/index.ts";
import type { BenchStore } from "../bench/bench-store.ts";
import { readTake, ServerProblem } from "../server-api.ts";

/**
 * Keeps in the store what only the take itself says, its markers and how long its notes are, read in a worker, and again when a hand has changed a message or the time.
 * @returns a function that stops it
 */
export function readTakeInWorker(store: BenchStore): () => void {
  const helper = startTakeReader();
  let isStopped = false;
  let isOpen = false;
  let read: readonly unknown[] = [];
  const update = async () => {
    const { pattern } = store.getState();
    const depends = [pattern.changedMessages, pattern.timeline, pattern.lengthTicks];
    if (!isOpen || isStopped || depends.every((part, index) => part === read[index])) return;
    read = depends;
    const facts = await helper.run((reader) => reader.facts(packPattern(pattern)));
    if (!isStopped) store.takeFindings(facts);
  };
  const open = async () => {
    try {
      const bytes = await readTake(store.getState().project.id);
      if (isStopped) return;
      await helper.run((reader) => reader.open(bytes));
      isOpen = true;
      await update();
    } catch (error) {
      // Without the take there are no markers; that the server is away is said where changes are saved.
      if (!(error instanceof ServerProblem)) throw error;
    }
  };
  void open();
  const unsubscribe = store.subscribe(() => void update());
  return () => {
    isStopped = true;
    unsubscribe();
    helper.end();
  };
}
