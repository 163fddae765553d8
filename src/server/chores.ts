import { randomUUID } from "node:crypto";
import { readChoreFile } from "../api/chore-schemas.ts";
import type { ChoreOutcome, ChoreRequest, KeptChore, NewChore, Problem } from "../api/wire.ts";
import { CHORES, type ChoreStep, runChore } from "../core/chore/index.ts";
import { isEmptyEdit } from "../core/document/index.ts";
import { type KeptSort, keep } from "./kept.ts";
import { ProblemError } from "./problem-error.ts";
import type { Db } from "./storage/database.ts";
import { openProject, saveEdits, takeOutPart } from "./use-cases.ts";

/** A rule with what it should do, under a name. */
export const CHORE_SORT: KeptSort<{ readonly steps: readonly ChoreStep[] }> = {
  table: "chores",
  column: "steps",
  word: "chore",
  builtIn: CHORES,
  read: (json) => ({ steps: json as readonly ChoreStep[] }),
  write: ({ steps }) => steps,
};

/**
 * Keeps all the chores of a file.
 * @throws ProblemError 400 if it holds none, or one that is not in the form of a chore; then none is kept
 */
export function keepChoreFile(db: Db, bytes: Uint8Array): readonly KeptChore[] {
  const chores = readChoreFile(new TextDecoder().decode(bytes));
  if (!Array.isArray(chores)) throw new ProblemError(400, chores as Problem);
  return db.transaction(() => (chores as readonly NewChore[]).map((chore) => keep(db, CHORE_SORT, chore)))();
}

/**
 * Runs a chore on whole projects: on each as one step that can be undone there. Asked only to look, it changes nothing.
 * @returns for each project what was, or would be, changed
 */
export async function runOnProjects(db: Db, request: ChoreRequest): Promise<readonly ChoreOutcome[]> {
  const outcomes: ChoreOutcome[] = [];
  for (const projectId of request.projectIds) outcomes.push(await runOnProject(db, projectId, request));
  return outcomes;
}

async function runOnProject(db: Db, projectId: string, { name, steps, isTrial }: ChoreRequest): Promise<ChoreOutcome> {
  const { name: projectName, pattern, revision } = openProject(db, projectId);
  const { edit, pickedIds, changedIds, takenOutVoiceIds, refusals } = runChore(pattern, steps);
  const outcome: ChoreOutcome = {
    projectId,
    projectName,
    pickedCount: pickedIds.size,
    changedCount: changedIds.size,
    refusals,
    isDone: false,
  };
  if (isTrial || isEmptyEdit(edit)) return outcome;
  // Taken out first, while they still sound.
  for (const voiceId of takenOutVoiceIds) await takeOutPart(db, projectId, { voiceId, articulationId: null });
  const entry = { id: randomUUID(), kind: "do", label: name, edit } as const;
  const answer = saveEdits(db, projectId, { baseRevision: revision, entries: [entry] });
  if ("problem" in answer) return { ...outcome, refusals: [...refusals, `${answer.problem.message}`] };
  return { ...outcome, isDone: true };
}
