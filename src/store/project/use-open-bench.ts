import { useEffect, useState } from "react";
import type { PlannedLanes, Problem } from "../../api/wire.ts";
import type { Pattern } from "../../core/document/index.ts";
import type { Bench } from "../bench/bench-context.ts";
import { type BenchStore, createBenchStore } from "../bench/bench-store.ts";
import { inAPause } from "../playback/in-a-pause.ts";
import { Playback } from "../playback/playback.ts";
import { Recording } from "../playin/recording.ts";
import { openProject, readLog, readPlannedLanes, readPlannedShare, ServerProblem } from "../server-api.ts";
import { summarizeInWorker } from "./summaries.ts";
import { readTakeInWorker } from "./take-facts.ts";

/** Waits until what was set has been drawn. */
function painted(): Promise<void> {
  return new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
}

/** What is shown when something of our own stands in the way. The console has the rest. */
const FAULT: Problem = {
  code: "page.fault",
  message: "Something of this page failed while the project was opened.",
  remedy: "Try again. If it happens twice, the browser's console says more; the project itself is on the disk.",
};

const ASK_EVERY_MS = 400;

/** Waits for the lanes of a take on their grids, and shows how much of them is found. */
async function plannedLanes(projectId: string, store: BenchStore): Promise<PlannedLanes> {
  const timer = setInterval(() => {
    readPlannedShare(projectId)
      .then((soughtShare) => store.takeFindings({ soughtShare }))
      .catch((error: unknown) => {
        // The lanes themselves will say what is wrong.
        if (!(error instanceof ServerProblem)) throw error;
      });
  }, ASK_EVERY_MS);
  try {
    return await readPlannedLanes(projectId);
  } finally {
    clearInterval(timer);
  }
}

/** What is opened in less than this needs no figure. */
const SHOW_SHARE_AFTER_MS = 600;

/** A project on its way to the screen. */
export interface Opening {
  readonly bench: Bench | null;
  /** Why there is none. */
  readonly problem: Problem | null;
  /** How much of it has come, 0 to 1, if that takes a while. */
  readonly share: number | null;
  readonly retry: () => void;
}

/** What else works on a take from the moment it comes. */
export interface AlongsideOpening {
  /** The answer of the server, an `Answer<PackedProject>`, as it came. */
  takeAnswer(answer: Blob): void;
  /** The pattern that was read from it. */
  takePattern(pattern: Pattern): void;
}

/**
 * Opens a project and closes it with the screen.
 * @param isStudied whether the screen shows how it was played and what its file says of it, which a processor finds out in a while
 */
export function useOpenBench(projectId: string, isStudied = true, alongside?: AlongsideOpening): Opening {
  const [bench, setBench] = useState<Bench | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [turn, setTurn] = useState(0);
  useEffect(() => {
    let isLeft = false;
    let close = () => {};
    const leaving = new AbortController();
    setProblem(null);
    setShare(null);
    let come = 0;
    const showing = setTimeout(() => setShare(come), SHOW_SHARE_AFTER_MS);
    const tellShare = (now: number) => {
      come = now;
      setShare((shown) => (shown === null ? null : now));
    };
    const open = async () => {
      const watching = { onShare: tellShare, onAnswer: alongside?.takeAnswer };
      const project = await openProject(projectId, leaving.signal, watching);
      clearTimeout(showing);
      if (isLeft) return;
      alongside?.takePattern(project.pattern);
      const store = createBenchStore(project, () => crypto.randomUUID());
      const playback = new Playback(store);
      const recording = new Recording(store, playback);
      const helpers: (() => void)[] = [];
      const warn = (event: BeforeUnloadEvent) => {
        if (store.hasUnsaved()) event.preventDefault();
      };
      const look = () => {
        if (document.visibilityState === "visible") void store.refresh();
      };
      window.addEventListener("beforeunload", warn);
      window.addEventListener("pagehide", store.keepView);
      // A device would go on ringing after the page is gone.
      const quieten = () => playback.stop();
      window.addEventListener("pagehide", quieten);
      window.addEventListener("online", store.retrySaving);
      document.addEventListener("visibilitychange", look);
      window.addEventListener("focus", look);
      close = () => {
        window.removeEventListener("beforeunload", warn);
        window.removeEventListener("pagehide", store.keepView);
        window.removeEventListener("pagehide", quieten);
        window.removeEventListener("online", store.retrySaving);
        document.removeEventListener("visibilitychange", look);
        window.removeEventListener("focus", look);
        for (const stop of helpers.splice(0)) stop();
        recording.close();
        playback.close();
        store.close();
      };
      setBench({ store, playback, recording, pointerTick: null });
      // The lanes are shown first; what helps them would keep the processor from it.
      await painted();
      if (isLeft) return;
      if (!project.isPlanned) store.takePlan(await plannedLanes(projectId, store));
      if (isLeft) return;
      if (isStudied) helpers.push(summarizeInWorker(store), readTakeInWorker(store));
      // Whoever looks first and listens later has the processor for looking. To play makes them at once.
      helpers.push(inAPause(() => void playback.prepareSounds()));
      const log = await readLog(projectId);
      if (!isLeft) await store.takeLog(log);
    };
    open().catch((error: unknown) => {
      if (leaving.signal.aborted) return;
      if (!(error instanceof ServerProblem)) console.error(error);
      setProblem(error instanceof ServerProblem ? error.problem : FAULT);
    });
    return () => {
      isLeft = true;
      clearTimeout(showing);
      leaving.abort();
      close();
    };
  }, [projectId, turn, isStudied, alongside]);
  const retry = () => {
    setBench(null);
    setTurn(turn + 1);
  };
  return { bench, problem, share, retry };
}
