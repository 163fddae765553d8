"use client";

import { useCallback, useEffect, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { ProblemNote } from "../../components/messages/ProblemNote.tsx";
import { OpeningProject } from "../../components/page/OpeningProject.tsx";
import { barCountOf } from "../../core/overview/index.ts";
import { MOST_TAKE_BARS } from "../../core/song/index.ts";
import { BenchContext, useBench, useBenchState, useProjectActions } from "../../store/bench/bench-context.ts";
import { songScore } from "../../store/playback/song-score.ts";
import { useSongDesk } from "../../store/playback/use-song.ts";
import { useOpenBench } from "../../store/project/use-open-bench.ts";
import { useGrooves } from "../../store/shelf/use-grooves.ts";
import { PageBar } from "../page/PageBar.tsx";
import { ProjectActions } from "../page/ProjectActions.tsx";
import { CellCard } from "./CellCard.tsx";
import { Matrix } from "./Matrix.tsx";
import { PatternCard } from "./PatternCard.tsx";
import { SongExport } from "./SongExport.tsx";
import { SongFooter } from "./SongFooter.tsx";
import { SongRow } from "./SongRow.tsx";
import { arrangeBy, arrangementOf, type CellRange, cellsIn, choiceWords, clearCells } from "./song-actions.ts";
import { useSongKeys } from "./song-keys.ts";
import { TakeStrip } from "./TakeStrip.tsx";

/** The song: a take cut into patterns, the order they are played in, and what every voice does in each of them. */
export function SongScreen({ projectId }: { projectId: string }) {
  const opening = useOpenBench(projectId);
  const { bench } = opening;
  if (!bench) return <OpeningProject here="Song" {...opening} />;
  return (
    <BenchContext value={bench}>
      <SongOrNone projectId={projectId} />
    </BenchContext>
  );
}

function SongOrNone({ projectId }: { projectId: string }) {
  const bars = useBenchState((state) => barCountOf(state.pattern.lengthTicks, state.maps));
  if (bars <= MOST_TAKE_BARS) return <Song projectId={projectId} />;
  const problem = {
    message: `It is ${bars.toLocaleString("en")} bars long, and a song can be cut from ${MOST_TAKE_BARS.toLocaleString("en")}.`,
    remedy: "Its hits may lie far apart: see Messages, where a place can be changed or a stray hit taken out.",
  };
  return (
    <div className="flex h-screen flex-col">
      <PageBar here="Song" projectId={projectId}>
        <Actions />
      </PageBar>
      <main className="m-auto w-[min(560px,90vw)]">
        <h1 className="sr-only">Song</h1>
        <ProblemNote title="This take is too long to be split" problem={problem} />
      </main>
    </div>
  );
}

function Song({ projectId }: { projectId: string }) {
  const bench = useBench();
  const { store, playback } = bench;
  const desk = useSongDesk(store);
  const shelf = useGrooves();
  const [range, setRange] = useState<CellRange | null>(null);
  const [isExporting, setIsExporting] = useState(false);
  const openExport = useCallback(() => setIsExporting(true), []);
  const take = useBenchState((state) => state.shown);
  const { patterns } = arrangementOf(take);
  useSongKeys(bench);
  useEffect(() => playback.playInstead(() => songScore(store.getState(), desk.playable)), [playback, store, desk]);
  const choice = cellsIn(
    range,
    patterns,
    take.lanes.map(({ voiceId }) => voiceId),
  );
  const chosen = choice.patternIds.length === 1 ? patterns.find(({ id }) => id === choice.patternIds[0]) : undefined;
  const playAlone = async (patternId: string) => {
    playback.stop();
    await desk.choose([{ id: "alone", patternId, repeats: 1 }]);
    store.setPlayhead(0);
    store.setLoop({ startTick: 0, endTick: desk.playable?.time.lengthTicks ?? 0 });
    await playback.play();
  };
  const playSong = async () => {
    playback.stop();
    await desk.choose(null);
    store.setPlayhead(0);
    store.setLoop(null);
  };
  const words = choiceWords(choice, patterns, take);
  return (
    <div className="flex h-screen flex-col overflow-hidden max-lg:h-auto max-lg:min-h-screen max-lg:overflow-visible">
      <PageBar here="Song" projectId={projectId}>
        <Actions />
        <Button disabled={patterns.length === 0} onClick={openExport}>
          Export
        </Button>
      </PageBar>
      <main className="flex min-h-0 flex-1 flex-col gap-2 pt-1">
        <h1 className="sr-only">Song</h1>
        <TakeStrip desk={desk} />
        <SongRow desk={desk} />
        {patterns.length === 0 ? (
          <div className="m-auto max-w-[560px] pb-20 text-center">
            <p className="text-title font-bold">This take is not split yet</p>
            <p className="mt-2 text-muted">
              Cut it by what repeats, and each stretch that is played alike becomes a pattern with settings of its own.
              The take stays whole, and you can cut it again.
            </p>
          </div>
        ) : (
          <div className="flex min-h-0 flex-1 gap-4 border-t border-hairline pl-5 max-lg:flex-col">
            <div className="relative min-h-0 min-w-0 flex-1 overflow-auto pb-4">
              {desk.laid === null && (
                <p role="status" className="p-2 text-muted">
                  Laying the patterns …
                </p>
              )}
              <Matrix
                desk={desk}
                range={range}
                onChoose={setRange}
                onClear={() => arrangeBy(bench, `As the take: ${words}`, (before) => clearCells(before, choice.places))}
              />
            </div>
            <aside
              aria-label="Settings of the selection"
              className="w-[330px] shrink-0 overflow-y-auto border-l border-hairline bg-sheet px-4 py-3 max-lg:w-auto max-lg:border-t max-lg:border-l-0"
            >
              <CellCard desk={desk} shelf={shelf} range={range} />
              {chosen && <PatternCard key={chosen.id} pattern={chosen} onAlone={() => void playAlone(chosen.id)} />}
            </aside>
          </div>
        )}
      </main>
      <SongFooter desk={desk} words={words} onSong={() => void playSong()} />
      <SongExport isOpen={isExporting} onOpenChange={setIsExporting} />
    </div>
  );
}

const Actions = () => <ProjectActions {...useProjectActions()} />;
