import { History, Redo2, Undo2 } from "lucide-react";
import { Hint } from "../../components/Hint.tsx";
import { SHARED_COMMANDS } from "../../store/page/page-commands.ts";
import { useKeyOf } from "./use-key-of.ts";

interface HistoryButtonsProps {
  /** What the next undo or redo is about; null if there is none. */
  readonly undoStep: string | null;
  readonly redoStep: string | null;
  readonly onUndo: () => void;
  readonly onRedo: () => void;
  /** Shows all steps, where there is a list of them. */
  readonly onList?: () => void;
}

export function HistoryButtons({ undoStep, redoStep, onUndo, onRedo, onList }: HistoryButtonsProps) {
  return (
    <div className="flex items-center gap-0.5">
      <Hint text={undoStep ? `Undo: ${undoStep}` : "Nothing to undo"} keys={useKeyOf(SHARED_COMMANDS.undo)}>
        <button
          type="button"
          aria-label="Undo"
          aria-disabled={undoStep === null}
          className="rounded-md p-1.5 text-muted hover:text-ink aria-disabled:opacity-40"
          onClick={onUndo}
        >
          <Undo2 size={17} />
        </button>
      </Hint>
      <Hint text={redoStep ? `Redo: ${redoStep}` : "Nothing to redo"} keys={useKeyOf(SHARED_COMMANDS.redo)}>
        <button
          type="button"
          aria-label="Redo"
          aria-disabled={redoStep === null}
          className="rounded-md p-1.5 text-muted hover:text-ink aria-disabled:opacity-40"
          onClick={onRedo}
        >
          <Redo2 size={17} />
        </button>
      </Hint>
      {onList && (
        <Hint text="What was done">
          <button
            type="button"
            aria-label="What was done"
            className="rounded-md p-1.5 text-muted hover:text-ink"
            onClick={onList}
          >
            <History size={17} />
          </button>
        </Hint>
      )}
    </div>
  );
}
