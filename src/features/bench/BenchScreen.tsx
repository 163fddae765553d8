"use client";

import { useSearchParams } from "next/navigation";
import { useCallback, useEffect } from "react";
import { useStore } from "zustand";
import { OpeningProject } from "../../components/page/OpeningProject.tsx";
import { TopBar } from "../../components/page/TopBar.tsx";
import { type InUnit, Units } from "../../components/sentence/units.ts";
import { tickToMs } from "../../core/time/index.ts";
import { type Bench, BenchContext, useBenchState } from "../../store/bench/bench-context.ts";
import { closePageTools, pageTools, showKeys, showSearch } from "../../store/page/page-commands.ts";
import { useOpenBench } from "../../store/project/use-open-bench.ts";
import { BenchActions } from "./BenchActions.tsx";
import { LaneCard } from "./card/LaneCard.tsx";
import { showTick } from "./commands/actions.ts";
import { useKeys } from "./commands/use-keys.ts";
import { Lanes } from "./lanes/Lanes.tsx";
import { setHidden } from "./lanes/lane-actions.ts";
import { Overview } from "./lanes/Overview.tsx";
import { CommandSearch } from "./search/CommandSearch.tsx";
import { ExactSheet } from "./sheets/ExactSheet.tsx";
import { ImportNote } from "./sheets/ImportNote.tsx";
import { KitSheet, loadLater, PlayIn, ShortcutsSheet, SiftPanel, SoundSheet, TempoSheet } from "./sheets/later.tsx";
import { TransportBar } from "./transport/TransportBar.tsx";

/** Picks and shows the hit that the address names, as when one comes from the list of messages. */
function useWantedHit(bench: Bench | null): void {
  const hitId = useSearchParams().get("hit");
  useEffect(() => {
    if (!bench || hitId === null) return;
    const { lanes } = bench.store.getState();
    const lane = lanes.find(({ hits }) => hits.some((hit) => hit.id === hitId));
    if (!lane) return;
    setHidden(bench, lane.voiceId, false);
    bench.store.openLane(lane.voiceId);
    bench.store.pick(new Set([hitId]));
    // The lanes have their width one frame later.
    requestAnimationFrame(() =>
      showTick(bench, lane.cleaned.ticks[lane.hits.findIndex((hit) => hit.id === hitId)] ?? 0),
    );
  }, [bench, hitId]);
}

/** Looks at the take through the pattern that the address names, as when one comes from the song. */
function useWantedScope(bench: Bench | null): void {
  const patternId = useSearchParams().get("pattern");
  useEffect(() => {
    if (!bench || patternId === null) return;
    // The lanes have their width one frame later.
    requestAnimationFrame(() => bench.store.setScope(patternId));
  }, [bench, patternId]);
}

/** Opens what the address asks for, as when another page could not answer. @returns what to search for */
function useWantedTools(bench: Bench | null): string {
  const params = useSearchParams();
  const asked = params.get("find") ?? "";
  const areKeysWanted = params.has("keys");
  useEffect(() => {
    if (!bench) return;
    showSearch(asked !== "");
    showKeys(areKeysWanted);
    return closePageTools;
  }, [bench, asked, areKeysWanted]);
  return asked;
}

/** The lane card, or the rule that is being made. */
function RightSide() {
  const isSifting = useBenchState((state) => state.isSifting);
  return isSifting ? <SiftPanel /> : <LaneCard />;
}

/** Sheets that are there only while they are open. */
function Sheets() {
  const areKeysOpen = useStore(pageTools, (tools) => tools.areKeysOpen);
  const sheet = useBenchState((state) => state.sheet);
  return (
    <>
      {sheet === "tempo" && <TempoSheet />}
      {sheet === "kit" && <KitSheet />}
      {sheet === "mix" && <SoundSheet />}
      {areKeysOpen && <ShortcutsSheet />}
    </>
  );
}

function PlayInPlace() {
  const isOpen = useBenchState((state) => state.isPlayInOpen);
  return isOpen ? <PlayIn /> : null;
}

/** Numbers can be typed in ticks where ms are set, and the other way round: as long as they are at the first tempo of the take. */
function useUnits(bench: Bench | null): InUnit {
  return useCallback(
    (value, typed, wanted) => {
      const msPerTick = bench ? tickToMs(bench.store.getState().maps.tempoMap, 1) : null;
      if (msPerTick === null) return null;
      if (/^ticks?$/.test(typed) && wanted === "ms") return Math.round(value * msPerTick * 100) / 100;
      if (typed === "ms" && wanted === "ticks") return Math.round(value / msPerTick);
      return null;
    },
    [bench],
  );
}

/** The screen on which a pattern is cleaned. */
export function BenchScreen({ projectId }: { projectId: string }) {
  const opening = useOpenBench(projectId);
  const { bench } = opening;
  useKeys(bench);
  useWantedHit(bench);
  useWantedScope(bench);
  const asked = useWantedTools(bench);
  useEffect(() => (bench ? loadLater() : undefined), [bench]);
  const inUnit = useUnits(bench);
  if (!bench) return <OpeningProject here="Bench" {...opening} />;
  return (
    <BenchContext value={bench}>
      <Units value={inUnit}>
        <div className="flex h-screen flex-col overflow-hidden tiny:h-auto tiny:overflow-visible">
          <TopBar here="Bench" projectId={projectId}>
            <BenchActions />
          </TopBar>
          <Overview />
          <ImportNote />
          {/* In the order in which the Tab key goes; the card stands beside the lanes all the same. */}
          <div className="relative grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_auto] grid-rows-[minmax(0,1fr)_auto_auto] tiny:flex-none tiny:grid-rows-[100vh_auto_auto]">
            <Lanes />
            <div className="col-span-full row-start-2 min-w-0">
              <PlayInPlace />
            </div>
            <div className="col-span-full row-start-3 min-w-0">
              <TransportBar />
            </div>
            <RightSide />
          </div>
        </div>
        <ExactSheet />
        <Sheets />
        <CommandSearch asked={asked} />
      </Units>
    </BenchContext>
  );
}
