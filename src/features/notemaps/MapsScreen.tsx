"use client";

import { useState } from "react";
import { say, sayTrouble } from "../../components/messages/say.ts";
import { OpeningProject } from "../../components/page/OpeningProject.tsx";
import { ProjectWords } from "../../components/page/ProjectWords.tsx";
import {
  BenchContext,
  redo,
  undo,
  useBench,
  useBenchState,
  useSaving,
  useUndoWords,
} from "../../store/bench/bench-context.ts";
import { usePageCommands } from "../../store/page/page-commands.ts";
import { useOpenBench } from "../../store/project/use-open-bench.ts";
import { readMapFile, ServerProblem } from "../../store/server-api.ts";
import { HistoryButtons } from "../page/HistoryButtons.tsx";
import { historyCommands } from "../page/history-commands.ts";
import { PageBar } from "../page/PageBar.tsx";
import { KeptMapView } from "./KeptMapView.tsx";
import { MapsList } from "./MapsList.tsx";
import { TakeMapView } from "./TakeMapView.tsx";
import { type KeptMaps, useKeptMaps } from "./use-kept-maps.ts";

/** The screen on which notes are named: the map of the open take, and the maps on the shelf. */
export function MapsScreen({ projectId }: { projectId: string }) {
  const opening = useOpenBench(projectId);
  const { bench } = opening;
  const kept = useKeptMaps();
  const trouble = opening.problem ?? kept.problem;
  if (!bench || !kept.maps || trouble) return <OpeningProject here="Note maps" {...opening} problem={trouble} />;
  return (
    <BenchContext value={bench}>
      <Maps kept={kept} projectId={projectId} />
    </BenchContext>
  );
}

function Maps({ kept, projectId }: { kept: KeptMaps; projectId: string }) {
  const bench = useBench();
  const project = useBenchState((state) => state.project);
  const saving = useSaving();
  const { undoStep: takeUndo, redoStep: takeRedo } = useUndoWords();
  const [chosenId, setChosenId] = useState<string | null>(null);
  const chosen = kept.maps?.find(({ map }) => map.id === chosenId) ?? null;
  const undoHere = () => (chosen ? kept.undo() : undo(bench));
  const redoHere = () => (chosen ? kept.redo() : redo(bench));
  usePageCommands(historyCommands(undoHere, redoHere));

  const keepNew = async (map: Parameters<KeptMaps["keep"]>[0]) => {
    const made = await kept.keep(map);
    if (made) setChosenId(made.map.id);
  };
  const readFile = async (file: File) => {
    try {
      const { map, notices } = await readMapFile(file);
      await keepNew(map);
      const [first, ...others] = notices;
      if (first) say(`${first}${others.length > 0 ? ` And ${others.length} more.` : ""}`);
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      sayTrouble(error.problem);
    }
  };

  return (
    <div className="flex h-screen flex-col overflow-hidden max-lg:h-auto max-lg:overflow-visible">
      <PageBar here="Note maps" projectId={projectId}>
        <ProjectWords name={project.name} book={project.book} saving={saving} />
        <HistoryButtons
          undoStep={chosen ? kept.undoStep : takeUndo}
          redoStep={chosen ? kept.redoStep : takeRedo}
          onUndo={() => say(undoHere())}
          onRedo={() => say(redoHere())}
        />
      </PageBar>
      <div className="flex min-h-0 flex-1 border-t border-hairline max-lg:flex-col">
        <MapsList
          maps={kept.maps ?? []}
          takeName={project.name}
          chosenId={chosen ? chosen.map.id : null}
          onChoose={setChosenId}
          onNew={() => void keepNew({ id: "", name: "New map", voices: [], entries: [], outgoing: [] })}
          onFile={(file) => void readFile(file)}
        />
        {chosen ? (
          <KeptMapView
            key={chosen.map.id}
            kept={kept}
            chosen={chosen}
            onCopy={(map) => void keepNew(map)}
            onGone={() => setChosenId(null)}
          />
        ) : (
          <TakeMapView kept={kept} />
        )}
      </div>
    </div>
  );
}
