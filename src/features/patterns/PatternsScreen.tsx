"use client";

import { useEffect, useMemo, useState } from "react";
import { useStore } from "zustand";
import { say } from "../../components/messages/say.ts";
import { PlayButton } from "../../components/PlayButton.tsx";
import { OpeningProject } from "../../components/page/OpeningProject.tsx";
import { saveBytes } from "../../components/save-text.ts";
import { PLAYED_ONCE, patternToMidi } from "../../core/pattern/index.ts";
import { barAt, bpmAt } from "../../core/time/index.ts";
import {
  BenchContext,
  redo,
  undo,
  useBench,
  useBenchState,
  useProjectActions,
} from "../../store/bench/bench-context.ts";
import { clipboard } from "../../store/bench/clipboard.ts";
import { SHARED_COMMANDS, usePageCommands } from "../../store/page/page-commands.ts";
import { KnockInput } from "../../store/patterns/knock-input.ts";
import { askWithCopied, askWithStretch, knockLoosely, type Question } from "../../store/patterns/knock-questions.ts";
import { PatternScore } from "../../store/patterns/pattern-score.ts";
import { type ShelfEntry, usePatternShelf } from "../../store/patterns/use-pattern-shelf.ts";
import type { LoopRange } from "../../store/playback/playing.ts";
import { useOpenBench } from "../../store/project/use-open-bench.ts";
import { ServerProblem } from "../../store/server-api.ts";
import { historyCommands } from "../page/history-commands.ts";
import { PageBar } from "../page/PageBar.tsx";
import { ProjectActions } from "../page/ProjectActions.tsx";
import { makeLike } from "./chosen/make-like.ts";
import { USUAL_PIECES } from "./chosen/NewOne.tsx";
import { PatternDetail } from "./chosen/PatternDetail.tsx";
import { HeardSentence } from "./HeardSentence.tsx";
import { KnockStrip } from "./KnockStrip.tsx";
import { ListColumn } from "./ListColumn.tsx";
import type { MarkedEntry } from "./marked.ts";
import { PatternField } from "./PatternField.tsx";
import { layOnTake, putIntoSong } from "./pattern-actions.ts";
import { SongStrip } from "./SongStrip.tsx";
import { type HeardWish, useHeard } from "./use-heard.ts";
import { useListed, useVariation } from "./use-listed.ts";

/** Patterns of all takes and of the stand-in drummer: found by knocking, made fuller or sparser, and put into the song. */
export function PatternsScreen({ projectId }: { projectId: string }) {
  const opening = useOpenBench(projectId, false);
  const { bench } = opening;
  if (!bench) return <OpeningProject here="Patterns" {...opening} />;
  return (
    <BenchContext value={bench}>
      <Patterns projectId={projectId} />
    </BenchContext>
  );
}

function Patterns({ projectId }: { projectId: string }) {
  const bench = useBench();
  const { store, playback } = bench;
  const shelf = usePatternShelf(store);
  const maps = useBenchState((state) => state.maps);
  const loop = useBenchState((state) => state.loop);
  const lengthTicks = useBenchState((state) => state.pattern.lengthTicks);
  const isPlaying = useBenchState((state) => state.isPlaying);
  const bpm = Math.round(bpmAt(maps.tempoMap, 0));
  const firstBar = barAt(maps.meterMap, 0);
  const score = useMemo(() => new PatternScore(bpm), [bpm]);
  const knock = useMemo(
    () => new KnockInput(playback, bpm, (firstBar.endTick - firstBar.startTick) / maps.meterMap.ppq),
    [playback, bpm, firstBar.endTick, firstBar.startTick, maps.meterMap.ppq],
  );
  // The loop of the Bench may be asked with; what is heard here has none.
  const [askedLoop] = useState(loop);
  const [askedTick] = useState(() => loop?.startTick ?? store.getState().playheadTick);
  useEffect(() => playback.playInstead(() => score.score()), [playback, score]);
  useEffect(() => () => knock.stop(), [knock]);
  const list = useListed(shelf, knock);
  const { chosen, byId } = list;
  const { variation, show, keep } = useVariation(list);
  const [repeats, setRepeats] = useState(PLAYED_ONCE);
  const [heardWish, setHeardWish] = useState<HeardWish>({
    isSettled: false,
    hasAround: false,
    bar: barAt(maps.meterMap, Math.max(0, Math.min(askedTick, lengthTicks - 1))).barIndex,
  });
  const { elsewhere, strokes, played, place, restart } = useHeard(
    score,
    shelf.entries,
    chosen,
    variation,
    repeats,
    heardWish,
  );
  const barCount = barAt(maps.meterMap, Math.max(0, lengthTicks - 1)).barIndex + 1;
  const [pieceWish, setPieceWish] = useState(USUAL_PIECES);
  /** How many were made here of pieces of others; they are kept by putting them somewhere. */
  const [madeCount, setMadeCount] = useState(0);
  const [songPlaceId, setSongPlaceId] = useState<string | null>(null);
  const toggle = () => {
    if (isPlaying) playback.stop();
    else {
      restart();
      void playback.play();
    }
  };
  const setFileRemoved = async (fileId: string, isRemoved: boolean): Promise<boolean> => {
    try {
      await shelf.setRemoved(fileId, isRemoved);
      return true;
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      say(`${error.problem.message} ${error.problem.remedy}`);
      return false;
    }
  };
  const takeOff = async ({ fileId, name }: ShelfEntry) => {
    if (fileId === null || !(await setFileRemoved(fileId, true))) return;
    say(`Took the file of “${name}” off the shelf.`, {
      label: "Put it back",
      act: () => void setFileRemoved(fileId, false),
    });
  };
  const put = () => {
    if (!chosen) return;
    say(putIntoSong(bench, chosen.name, played, songPlaceId), { label: "Undo", act: () => say(undo(bench)) });
  };
  /** One that was dragged goes as it was played, or as it is wished if it is the chosen one. */
  const drop = (id: string, beforeId: string | null) => {
    const entry = byId.get(id);
    if (!entry) return;
    const dropped = entry.id === chosen?.id ? played : { bars: entry.rhythm.bars, strokes: entry.rhythm.strokes };
    say(putIntoSong(bench, entry.name, dropped, beforeId), { label: "Undo", act: () => say(undo(bench)) });
  };
  const pieces = pieceWish.pieceIds.flatMap((id) => byId.get(id) ?? []);
  const others = pieces.filter(({ id }) => id !== chosen?.id);
  const sources = others.length > 0 ? others : elsewhere;
  const make = () => {
    const next = chosen && makeLike(chosen, sources, madeCount + 1, pieceWish);
    if (!next) return say("None of the pieces has bars as long as its own.");
    setMadeCount(madeCount + 1);
    shelf.addMade(next);
    knock.clear();
    list.choose(next.id);
  };
  const hear = (id: string) => {
    if (id === chosen?.id) return toggle();
    list.choose(id);
    if (!isPlaying) void playback.play();
  };
  const fileOf = (entry: MarkedEntry) => {
    const { rhythm } = entry;
    const isChosen = entry.id === chosen?.id;
    return patternToMidi(entry.name, bpm, isChosen ? played : rhythm, isChosen ? played.strokes : rhythm.strokes);
  };
  usePageCommands([
    { ...SHARED_COMMANDS.play, run: toggle },
    { id: "patterns.next", name: "The next pattern", keys: ["↓"], run: () => list.move(1) },
    { id: "patterns.previous", name: "The pattern before", keys: ["↑"], run: () => list.move(-1) },
    { id: "patterns.put", name: "Put the pattern into the song", keys: ["Enter"], run: put },
    ...historyCommands(
      () => undo(bench),
      () => redo(bench),
    ),
  ]);
  const ask = ({ strokes: heard, counted }: Question) => knock.take(heard, counted);
  const askStretch = (range: LoopRange) => {
    const { pattern, lanes } = store.getState();
    ask(askWithStretch(pattern, lanes, range));
  };
  const clip = useStore(clipboard, (state) => state.clip);
  const questions = [
    ...(askedLoop ? [{ id: "loop", name: "the loop of the Bench", ask: () => askStretch(askedLoop) }] : []),
    { id: "bar", name: `bar ${heardWish.bar + 1} of the take`, ask: () => askStretch(place) },
    ...(clip ? [{ id: "copied", name: "the hits that were copied", ask: () => ask(askWithCopied(clip)) }] : []),
  ];
  const reasons = list.found?.find(({ id }) => id === chosen?.id) ?? null;
  return (
    <div className="flex h-screen flex-col overflow-hidden max-lg:h-auto max-lg:overflow-auto">
      <PageBar here="Patterns" projectId={projectId}>
        <Actions />
      </PageBar>
      <main className="flex min-h-0 flex-1 flex-col">
        <h1 className="sr-only">Patterns</h1>
        <KnockStrip
          input={knock}
          questions={questions}
          onPlayer={chosen ? () => ask(knockLoosely(chosen.rhythm, bpm)) : null}
        />
        <div className="grid min-h-0 flex-1 grid-cols-[minmax(260px,4fr)_minmax(420px,6fr)_minmax(300px,3fr)] max-lg:grid-cols-1">
          <div className="min-h-0 overflow-y-auto border-r border-hairline px-[18px] py-3">
            <h2 className="text-base font-bold">Where they lie</h2>
            <PatternField
              entries={list.wished}
              likeness={list.likeness}
              chosenId={chosen?.id ?? null}
              swept={list.swept}
              onChoose={list.choose}
              onSweep={list.sweep}
            />
          </div>
          <ListColumn shelf={shelf} list={list} isPlaying={isPlaying} fileOf={fileOf} onHear={hear} />
          {chosen && (
            <PatternDetail
              entry={chosen}
              elsewhere={elsewhere}
              variation={variation}
              strokes={strokes}
              found={reasons}
              pieces={pieces}
              pieceWish={pieceWish}
              onPieceWish={setPieceWish}
              onNew={sources.length === 0 ? null : make}
              onMark={list.marks.set}
              onTakeOff={chosen.fileId === null ? null : () => void takeOff(chosen)}
              onPreview={(next) => show(chosen, next)}
              onVary={(next) => keep(chosen, next)}
              repeats={repeats}
              fillCount={played.fillCount}
              onRepeats={setRepeats}
              onSong={put}
              onBench={() =>
                say(layOnTake(bench, chosen.name, played, place.startTick), {
                  label: "Undo",
                  act: () => say(undo(bench)),
                })
              }
              onSave={() => saveBytes(`${chosen.name}.mid`, "audio/midi", fileOf(chosen))}
            />
          )}
        </div>
      </main>
      <footer className="flex min-h-[60px] shrink-0 items-center gap-x-5 py-1 max-lg:flex-wrap border-t border-hairline bg-sheet px-[18px]">
        <PlayButton isPlaying={isPlaying} keys="Space" onToggle={toggle} />
        <div className="min-w-0 leading-snug">
          <strong className="block truncate text-lead">{chosen?.name ?? "Nothing chosen"}</strong>
          <HeardSentence bpm={bpm} wish={heardWish} barCount={barCount} onChange={setHeardWish} />
        </div>
        <div className="ml-auto min-w-0">
          <SongStrip placeId={songPlaceId} onPlace={setSongPlaceId} onDrop={drop} />
          <p className="text-right text-fine text-muted">Space plays, ↓ next, Enter puts it into the song</p>
        </div>
      </footer>
    </div>
  );
}

const Actions = () => <ProjectActions {...useProjectActions()} />;
