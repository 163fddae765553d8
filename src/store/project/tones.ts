import { packPattern } from "../../core/document/index.ts";
import { startTakeReader } from "../../workers/index.ts";
import type { BenchStore } from "../bench/bench-store.ts";
import { readTake } from "../server-api.ts";

/**
 * Lets a track that is not drums be heard, or silences it. Its notes are read from the take when they are first wanted.
 * @throws ServerProblem if the take cannot be had
 */
export async function setHeard(store: BenchStore, streamIndex: number, isHeard: boolean): Promise<void> {
  const { project, pattern } = store.getState();
  if (!isHeard) {
    store.hearTones(streamIndex, null);
    return;
  }
  const helper = startTakeReader();
  try {
    const bytes = await readTake(project.id);
    await helper.run((reader) => reader.open(bytes));
    const tones = await helper.run((reader) => reader.tones(packPattern(pattern), streamIndex));
    store.hearTones(streamIndex, tones);
  } finally {
    helper.end();
  }
}
