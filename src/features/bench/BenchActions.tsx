import { ListMusic } from "lucide-react";
import { Button } from "../../components/Button.tsx";
import { Hint } from "../../components/Hint.tsx";
import { say } from "../../components/messages/say.ts";
import { ProjectWords } from "../../components/page/ProjectWords.tsx";
import { redo, undo, useBench, useBenchState, useSaving, useUndoWords } from "../../store/bench/bench-context.ts";
import { FileTaskNotice, useFileTask } from "../page/file-task.tsx";
import { HistoryButtons } from "../page/HistoryButtons.tsx";
import { KeysButton, SearchButton } from "../page/ToolButtons.tsx";
import { HistorySheet } from "./sheets/HistorySheet.tsx";
import { ExportSheet, TracksSheet } from "./sheets/later.tsx";

/** To the right of the top bar: which take this is, whether it is saved, and what can be done with all of it. */
export function BenchActions() {
  const bench = useBench();
  const project = useBenchState((state) => state.project);
  const saving = useSaving();
  const { undoStep, redoStep } = useUndoWords();
  const sheet = useBenchState((state) => state.sheet);
  const exporting = useFileTask();
  const setIsExportOpen = (isOpen: boolean) => {
    exporting.forgetProblem();
    bench.store.showSheet("export", isOpen);
  };
  const setIsHistoryOpen = (isOpen: boolean) => bench.store.showSheet("history", isOpen);
  const setAreTracksOpen = (isOpen: boolean) => bench.store.showSheet("tracks", isOpen);
  return (
    <>
      <ProjectWords name={project.name} book={project.book} saving={saving} />
      <div className="flex items-center gap-0.5">
        <SearchButton hint="Find any command, setting or screen" />
        <HistoryButtons
          undoStep={undoStep}
          redoStep={redoStep}
          onUndo={() => say(undo(bench))}
          onRedo={() => say(redo(bench))}
          onList={() => setIsHistoryOpen(true)}
        />
        <Hint text="Which tracks are drums">
          <button
            type="button"
            aria-label="Tracks of the take"
            className="rounded-md p-1.5 text-muted hover:text-ink"
            onClick={() => setAreTracksOpen(true)}
          >
            <ListMusic size={17} />
          </button>
        </Hint>
        <KeysButton />
      </div>
      <Button onClick={() => setIsExportOpen(true)}>Export</Button>
      {sheet === "export" ? (
        <ExportSheet task={exporting} isOpen onOpenChange={setIsExportOpen} />
      ) : (
        <FileTaskNotice task={exporting} />
      )}
      <HistorySheet isOpen={sheet === "history"} onOpenChange={setIsHistoryOpen} />
      {sheet === "tracks" && <TracksSheet isOpen onOpenChange={setAreTracksOpen} />}
    </>
  );
}
