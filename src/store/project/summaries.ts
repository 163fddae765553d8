import type { Pattern } from "../../core/document/index.ts";
import { lateOf } from "../../core/study/index.ts";
import { calledBack, startAnalysis } from "../../workers/index.ts";
import type { BenchStore } from "../bench/bench-store.ts";

/** What is handed to a worker is copied, which keeps the page: half a million hits would take it a second. */
const HITS_AT_ONCE = 20_000;

/**
 * Keeps the store's summaries (how each voice was played) and guesses up to date, in a worker. They are made anew only
 * when hits come, go, or change their drum, or the take its time.
 * @returns a function that stops it
 */
export function summarizeInWorker(store: BenchStore): () => void {
  const helper = startAnalysis();
  let summarized: Pattern | null = null;
  let isRunning = false;
  let isStopped = false;
  const update = async () => {
    const { pattern } = store.getState();
    if (isRunning || isStopped || (summarized && isPlayedTheSame(summarized, pattern))) return;
    isRunning = true;
    const onProgress = calledBack((studiedShare: number) => store.takeFindings({ studiedShare }));
    const { lanes, ...found } = await helper.run(async (analysis) => {
      const { hits, ...rest } = pattern;
      for (let row = 0; row < hits.length; row += HITS_AT_ONCE) await analysis.add(hits.slice(row, row + HITS_AT_ONCE));
      return analysis.study(rest, onProgress);
    });
    isRunning = false;
    summarized = pattern;
    if (isStopped) return;
    store.takeFindings({
      ...found,
      studiedShare: 1,
      summaries: new Map(lanes.map((summary) => [summary.voiceId, summary])),
    });
    // Something may have changed in the meantime.
    void update();
  };
  const unsubscribe = store.subscribe(() => void update());
  void update();
  return () => {
    isStopped = true;
    unsubscribe();
    helper.end();
  };
}

/** Another reading of how late the take came in moves lanes by about a step. */
const OTHER_READING_MS = 30;

/**
 * Moves and velocities change nothing of how a voice was played; another drum does, another time of the whole take, or another reading
 * of how late it came in.
 */
function isPlayedTheSame(before: Pattern, now: Pattern): boolean {
  const lateBefore = lateOf(before.lanes);
  const moved = lateOf(now.lanes).map((lateMs, index) => Math.abs(lateMs - (lateBefore[index] ?? lateMs)));
  if (moved.length > 0 && moved.every((ms) => ms > OTHER_READING_MS)) return false;
  const [a, b] = [before.hits, now.hits];
  if (before.timeline !== now.timeline || before.meters !== now.meters) return false;
  if (a === b) return true;
  return a.length === b.length && a.every((hit, row) => hit.id === b[row]!.id && hit.voiceId === b[row]!.voiceId);
}
