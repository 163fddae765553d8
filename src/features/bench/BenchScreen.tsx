"use client";

import Link from "next/link";
import { useCallback, useEffect, useState } from "react";
import { ProblemNote } from "../../components/ProblemNote.tsx";
import { TopBar } from "../../components/TopBar.tsx";
import { createBenchStore } from "../../store/bench-store.ts";
import { Playback } from "../../store/playback.ts";
import { openProject, type Problem, readLog, ServerProblem } from "../../store/server-api.ts";
import { summarizeInWorker } from "../../store/summaries.ts";
import { BenchActions } from "./BenchActions.tsx";
import { type Bench, BenchContext } from "./bench-context.ts";
import { ImportNote } from "./ImportNote.tsx";
import { LaneCard } from "./LaneCard.tsx";
import { Lanes } from "./Lanes.tsx";
import { Overview } from "./Overview.tsx";
import { ShortcutsSheet } from "./ShortcutsSheet.tsx";
import { TransportBar } from "./TransportBar.tsx";
import { useKeys } from "./use-keys.ts";

/** The screen on which a pattern is cleaned. */
export function BenchScreen({ projectId }: { projectId: string }) {
  const [bench, problem] = useOpenBench(projectId);
  const [isSheetOpen, setIsSheetOpen] = useState(false);
  const openSheet = useCallback(() => setIsSheetOpen(true), []);
  useKeys(bench, openSheet);
  if (!bench) {
    return (
      <div className="flex h-screen flex-col">
        <TopBar here="Bench" />
        {problem ? (
          <div className="m-auto w-[min(560px,90vw)]">
            <ProblemNote title="This project could not be opened" problem={problem}>
              <Link href="/" className="mt-2 inline-block font-semibold underline">
                Back to the shelf
              </Link>
            </ProblemNote>
          </div>
        ) : (
          <LoadingBench />
        )}
      </div>
    );
  }
  return (
    <BenchContext value={bench}>
      <div className="flex h-screen min-w-[900px] flex-col overflow-hidden">
        <TopBar here="Bench">
          <BenchActions onSheet={openSheet} />
        </TopBar>
        <Overview />
        <ImportNote />
        <div className="flex min-h-0 flex-1">
          <Lanes />
          <LaneCard />
        </div>
        <TransportBar />
      </div>
      <ShortcutsSheet isOpen={isSheetOpen} onOpenChange={setIsSheetOpen} />
    </BenchContext>
  );
}

/** Opens a project and closes it with the screen. */
function useOpenBench(projectId: string): [Bench | null, Problem | null] {
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
        const stopSummaries = summarizeInWorker(store);
        const warn = (event: BeforeUnloadEvent) => {
          if (store.hasUnsaved()) event.preventDefault();
        };
        window.addEventListener("beforeunload", warn);
        window.addEventListener("pagehide", store.keepView);
        close = () => {
          window.removeEventListener("beforeunload", warn);
          window.removeEventListener("pagehide", store.keepView);
          stopSummaries();
          playback.close();
          store.close();
        };
        setBench({ store, playback });
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

function LoadingBench() {
  return (
    <div role="status" aria-label="Opening the project" className="flex flex-1 flex-col gap-px px-5 pt-16">
      {["a", "b", "c", "d", "e", "f", "g"].map((row) => (
        <div key={row} className="h-11 animate-pulse border-b border-hairline bg-sheet/60" />
      ))}
    </div>
  );
}
