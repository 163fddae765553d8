import { useState } from "react";
import { TaskNote } from "../../components/messages/TaskNote.tsx";
import { PageNotice } from "../../components/page/TopBar.tsx";
import { saveBlob } from "../../components/save-text.ts";
import { useBench } from "../../store/bench/bench-context.ts";
import { useLongTask } from "../../store/page/use-long-task.ts";
import { fetchFile, type Problem, ServerProblem } from "../../store/server-api.ts";

const NOT_SAVED: Problem = {
  code: "export.unsaved",
  message: "Your last changes are not saved yet, and the file would miss them.",
  remedy: "Export again when it says “Saved”.",
};

export type FileTask = ReturnType<typeof useFileTask>;

/** Has the server write a file of the project and saves it. It belongs to the page, so that the sheet that asks for it may be closed. */
export function useFileTask() {
  const { store } = useBench();
  const { state, run, cancel } = useLongTask();
  const [problem, setProblem] = useState<Problem | null>(null);
  /** @returns whether it was saved; if not, `problem` says why, unless it was given up */
  const save = async (path: string): Promise<boolean> => {
    setProblem(null);
    // The file is written from what is saved, so everything is saved first.
    if (!(await store.saved())) {
      setProblem(NOT_SAVED);
      return false;
    }
    try {
      const made = await run((handle) => fetchFile(path, handle));
      if (made) saveBlob(made.name, made.blob);
      return made !== null;
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
      return false;
    }
  };
  return { state, problem, save, cancel, forgetProblem: () => setProblem(null) };
}

const WRITING = "Writing the file";

/** How far it is, or why there is none, in the sheet that asked for it. */
export function FileTaskNote({ task }: { task: FileTask }) {
  return task.state && <TaskNote what={WRITING} state={task.state} onCancel={task.cancel} />;
}

/** The same under the top bar, once that sheet is closed. */
export function FileTaskNotice({ task }: { task: FileTask }) {
  const { state, problem } = task;
  if (!state && !problem) return null;
  return (
    <PageNotice>
      <div className="border-b border-hairline bg-sheet px-5 py-1.5">
        {state ? (
          <FileTaskNote task={task} />
        ) : (
          <p role="alert" className="flex items-baseline gap-4 text-small">
            <span>
              <strong>No file was written.</strong> {problem?.message} {problem?.remedy}
            </span>
            <button type="button" className="ml-auto font-semibold text-spruce underline" onClick={task.forgetProblem}>
              Close
            </button>
          </p>
        )}
      </div>
    </PageNotice>
  );
}
