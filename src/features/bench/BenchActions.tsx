import { CircleHelp, ListMusic, Redo2, Undo2 } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { Button } from "../../components/Button.tsx";
import { Hint } from "../../components/Hint.tsx";
import { useBench, useBenchState } from "./bench-context.ts";
import { COMMANDS, keysOf } from "./commands.ts";
import { ExportSheet } from "./ExportSheet.tsx";
import { TracksSheet } from "./TracksSheet.tsx";

/** To the right of the top bar: which take this is, whether it is saved, and what can be done with all of it. */
export function BenchActions({ onSheet }: { onSheet: () => void }) {
  const project = useBenchState((state) => state.project);
  const [isExportOpen, setIsExportOpen] = useState(false);
  const [areTracksOpen, setAreTracksOpen] = useState(false);
  return (
    <>
      <p className="max-w-[330px] truncate text-muted" title={project.name}>
        {project.book && <span>{project.book} / </span>}
        <strong className="text-ink">{project.name}</strong>
      </p>
      <SaveWords />
      <div className="flex items-center gap-0.5">
        <HistoryButton id="undo" />
        <HistoryButton id="redo" />
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
        <Hint text="All keys" keys="?">
          <button
            type="button"
            aria-label="All keys"
            className="rounded-md p-1.5 text-muted hover:text-ink"
            onClick={onSheet}
          >
            <CircleHelp size={17} />
          </button>
        </Hint>
      </div>
      <Button onClick={() => setIsExportOpen(true)}>Export</Button>
      <ExportSheet isOpen={isExportOpen} onOpenChange={setIsExportOpen} />
      <TracksSheet isOpen={areTracksOpen} onOpenChange={setAreTracksOpen} />
    </>
  );
}

function HistoryButton({ id }: { id: "undo" | "redo" }) {
  const bench = useBench();
  const step = useBenchState(({ history }) => (id === "undo" ? history.done : history.undone).at(-1)?.label ?? null);
  const command = COMMANDS.find((candidate) => candidate.id === id);
  const Icon = id === "undo" ? Undo2 : Redo2;
  return (
    <Hint text={step ? `${command?.name}: ${step}` : `Nothing to ${id}`} keys={keysOf(id)}>
      <button
        type="button"
        aria-label={command?.name}
        aria-disabled={step === null}
        className="rounded-md p-1.5 text-muted hover:text-ink aria-disabled:opacity-40"
        onClick={() => {
          const words = command?.run(bench);
          if (words) toast(words, { id: "command" });
        }}
      >
        <Icon size={17} />
      </button>
    </Hint>
  );
}

function SaveWords() {
  const saveState = useBenchState((state) => state.saveState);
  if (saveState.kind === "notSaving") {
    return (
      <span role="alert">
        <Hint text={`${saveState.problem.message} ${saveState.problem.remedy}`}>
          <button type="button" className="font-bold text-brick underline decoration-dotted">
            Not saving
          </button>
        </Hint>
      </span>
    );
  }
  return (
    <span role="status" className="w-12 text-[13px] text-muted">
      {saveState.kind === "saving" ? "Saving" : "Saved"}
    </span>
  );
}
