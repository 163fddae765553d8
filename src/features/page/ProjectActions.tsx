import type { ComponentProps } from "react";
import { say } from "../../components/messages/say.ts";
import { ProjectWords } from "../../components/page/ProjectWords.tsx";
import { HistoryButtons } from "./HistoryButtons.tsx";

interface ProjectActionsProps extends ComponentProps<typeof ProjectWords> {
  readonly undoStep: string | null;
  readonly redoStep: string | null;
  /** Each says what it took back, or did again. */
  readonly undo: () => string;
  readonly redo: () => string;
}

/** To the right of the top bar: which take this is, whether it is saved, and the way back. */
export function ProjectActions({ undoStep, redoStep, undo, redo, ...project }: ProjectActionsProps) {
  return (
    <>
      <ProjectWords {...project} />
      <HistoryButtons undoStep={undoStep} redoStep={redoStep} onUndo={() => say(undo())} onRedo={() => say(redo())} />
    </>
  );
}
