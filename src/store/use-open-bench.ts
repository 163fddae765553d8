import { useEffect, useState } from "react";
import type { Problem } from "../api/wire.ts";
import type { Bench } from "./bench-context.ts";
import { createBenchStore } from "./bench-store.ts";
import { Playback } from "./playback.ts";
import { openProject, readLog, ServerProblem } from "./server-api.ts";
import { summarizeInWorker } from "./summaries.ts";
import { readTakeInWorker } from "./take-facts.ts";

/** Waits until what was set has been drawn. */
function painted(): Promise<void> {
  return new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
}

/** Opens a project and closes it with the screen. */
export function useOpenBench(projectId: string): [Bench | null, Problem | null] {
  const [bench, setBench] = useState<Bench | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  useEffect(() => {
    let isLeft = false;
    let close = () => {};
    const open = async () => {
      try {
        const project = await openProject(projectId);
        if (isLeft) return;
        const store = createBenchStore(project, () => crypto.randomUUID());
        const playback = new Playback(store);
        const helpers: (() => void)[] = [];
        const warn = (event: BeforeUnloadEvent) => {
          if (store.hasUnsaved()) event.preventDefault();
        };
        window.addEventListener("beforeunload", warn);
        window.addEventListener("pagehide", store.keepView);
        close = () => {
          window.removeEventListener("beforeunload", warn);
          window.removeEventListener("pagehide", store.keepView);
          for (const stop of helpers.splice(0)) stop();
          playback.close();
          store.close();
        };
        setBench({ store, playback, pointerTick: null });
        // The lanes are shown first; what helps them would keep the processor from it.
        await painted();
        if (isLeft) return;
        helpers.push(summarizeInWorker(store), readTakeInWorker(store));
        void playback.prepareSounds();
        const log = await readLog(projectId);
        if (!isLeft) store.takeLog(log);
      } catch (error) {
        if (!(error instanceof ServerProblem)) throw error;
        if (!isLeft) setProblem(error.problem);
      }
    };
    void open();
    return () => {
      isLeft = true;
      close();
    };
  }, [projectId]);
  return [bench, problem];
}
