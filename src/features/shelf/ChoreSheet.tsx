import { useEffect, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import { say } from "../../components/messages/say.ts";
import { Sheet } from "../../components/page/Sheet.tsx";
import { choreSentence } from "../../core/chore/index.ts";
import { GENERAL_MIDI } from "../../core/notemap/index.ts";
import {
  type ChoreOutcome,
  type KeptChore,
  type Problem,
  type ProjectCard,
  runChoreOn,
  ServerProblem,
} from "../../store/server-api.ts";

interface ChoreSheetProps {
  readonly chore: KeptChore;
  readonly projects: readonly ProjectCard[];
  readonly onDone: () => void;
  readonly onClose: () => void;
}

/** Runs a chore on whole projects, after saying for each what it would change. */
export function ChoreSheet({ chore, projects, onDone, onClose }: ChoreSheetProps) {
  const { name, steps } = chore;
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [trial, setTrial] = useState<ReadonlyMap<string, ChoreOutcome> | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [isRunning, setIsRunning] = useState(false);
  useEffect(() => {
    let isPassed = false;
    if (projects.length === 0) return;
    const projectIds = projects.map(({ id }) => id);
    runChoreOn({ name, steps, projectIds, isTrial: true })
      .then((outcomes) => {
        if (!isPassed) setTrial(new Map(outcomes.map((one) => [one.projectId, one])));
      })
      .catch((error: unknown) => {
        if (!(error instanceof ServerProblem)) throw error;
        if (!isPassed) setProblem(error.problem);
      });
    return () => {
      isPassed = true;
    };
  }, [name, steps, projects]);
  const run = async () => {
    setIsRunning(true);
    try {
      const outcomes = await runChoreOn({ name, steps, projectIds: [...chosen] });
      const changed = outcomes.reduce((sum, one) => sum + (one.isDone ? one.changedCount : 0), 0);
      const done = outcomes.filter(({ isDone }) => isDone).length;
      const refusals = outcomes.flatMap(({ projectName, refusals: own }) =>
        own.map((words) => `${projectName}: ${words}`),
      );
      say(
        `${name}: ${changed} hits in ${done} ${done === 1 ? "project" : "projects"}. Undo takes it back on each Bench. ${refusals.join(" ")}`,
      );
      onDone();
      onClose();
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
    } finally {
      setIsRunning(false);
    }
  };
  return (
    <Sheet
      title={name}
      lead={choreSentence(steps, GENERAL_MIDI)}
      isOpen
      onOpenChange={(isOpen) => !isOpen && onClose()}
    >
      {projects.length === 0 && <p className="text-muted">There is no project to run it on yet.</p>}
      <ul>
        {projects.map((project) => {
          const outcome = trial?.get(project.id);
          return (
            <li key={project.id} className="border-t border-hairline py-1.5">
              <label className="flex items-center gap-3">
                <input
                  type="checkbox"
                  className="size-4 accent-spruce"
                  checked={chosen.has(project.id)}
                  onChange={(event) => {
                    const next = new Set(chosen);
                    if (event.target.checked) next.add(project.id);
                    else next.delete(project.id);
                    setChosen(next);
                  }}
                />
                <span className="flex-1 font-bold">{project.name}</span>
                <span className="text-small text-muted">
                  {outcome ? `${outcome.changedCount} of ${project.summary.hitCount} hits would change` : "looking …"}
                </span>
              </label>
            </li>
          );
        })}
      </ul>
      {problem && (
        <Refusal className="mt-2">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
      <p className="mt-4 flex items-center gap-3">
        <Button kind="main" disabled={chosen.size === 0 || isRunning} onClick={() => void run()}>
          Run on {chosen.size} {chosen.size === 1 ? "project" : "projects"}
        </Button>
        <button
          type="button"
          className="text-small underline"
          onClick={() => setChosen(new Set(chosen.size === projects.length ? [] : projects.map(({ id }) => id)))}
        >
          {chosen.size === projects.length ? "None" : "All of them"}
        </button>
      </p>
    </Sheet>
  );
}
