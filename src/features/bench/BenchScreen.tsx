"use client";

import { useCallback, useState } from "react";
import { OpeningProject } from "../../components/OpeningProject.tsx";
import { TopBar } from "../../components/TopBar.tsx";
import { BenchContext } from "../../store/bench-context.ts";
import { useOpenBench } from "../../store/use-open-bench.ts";
import { BenchActions } from "./BenchActions.tsx";
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
  if (!bench) return <OpeningProject here="Bench" problem={problem} />;
  return (
    <BenchContext value={bench}>
      <div className="flex h-screen min-w-[900px] flex-col overflow-hidden">
        <TopBar here="Bench" projectId={projectId}>
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
