import type { Edit } from "./edits/index.ts";
import { applyEdit, invertEdit } from "./edits/index.ts";
import type { LogEntry } from "./history.ts";
import type { Pattern } from "./pattern.ts";
import { StaleEditError } from "./stale.ts";

/** What becomes of edits that were made beside those of others. */
export interface Rebased {
  /** With those of ours that still go. */
  readonly pattern: Pattern;
  /** Those that still go, in their order, to be done on top. */
  readonly kept: readonly LogEntry[];
  /** Those that the others have done as well: what they lead to is there already. */
  readonly done: readonly LogEntry[];
  /** Those that do not fit any more, since what they change was changed otherwise. */
  readonly unfit: readonly LogEntry[];
}

/**
 * Puts edits on another base than the one they were made on. No edit is bent to fit.
 * @param base the pattern as it is now, without ours
 * @param ours in the order in which they were made
 */
export function rebase(base: Pattern, ours: readonly LogEntry[]): Rebased {
  let pattern = base;
  const kept: LogEntry[] = [];
  const done: LogEntry[] = [];
  const unfit: LogEntry[] = [];
  for (const entry of ours) {
    const next = tryEdit(pattern, entry.edit);
    if (next) {
      kept.push(entry);
      pattern = next;
    } else if (tryEdit(pattern, invertEdit(entry.edit))) done.push(entry);
    else unfit.push(entry);
  }
  return { pattern, kept: asSteps(kept, stepsOf(ours)), done, unfit };
}

/** The pattern after an edit, or null if the edit does not fit it. */
export function tryEdit(pattern: Pattern, edit: Edit): Pattern | null {
  try {
    return applyEdit(pattern, edit);
  } catch (error) {
    if (!(error instanceof StaleEditError)) throw error;
    return null;
  }
}

/** The step that each undo and redo is about, by the id of its entry; left out where it was done before these entries. */
function stepsOf(entries: readonly LogEntry[]): ReadonlyMap<string, string> {
  const steps = new Map<string, string>();
  const done: string[] = [];
  const undone: string[] = [];
  for (const { id, kind } of entries) {
    if (kind === "do") {
      done.push(id);
      undone.length = 0;
      continue;
    }
    const [from, to] = kind === "undo" ? [done, undone] : [undone, done];
    const step = from.pop();
    if (step === undefined) continue;
    steps.set(id, step);
    to.push(step);
  }
  return steps;
}

/**
 * An undo takes back the last step of the log, and a redo the last that was undone. Where that is another than the one that was meant,
 * since others came first or the step did not go, it is a step of its own.
 */
function asSteps(kept: readonly LogEntry[], steps: ReadonlyMap<string, string>): readonly LogEntry[] {
  const done: string[] = [];
  const undone: string[] = [];
  return kept.map((entry) => {
    const step = steps.get(entry.id);
    const [from, to] = entry.kind === "undo" ? [done, undone] : [undone, done];
    if (entry.kind !== "do" && step !== undefined && from.at(-1) === step) {
      from.pop();
      to.push(step);
      return entry;
    }
    done.push(entry.id);
    undone.length = 0;
    return entry.kind === "do" ? entry : { ...entry, kind: "do", label: `${WORDS[entry.kind]}: ${entry.label}` };
  });
}

const WORDS = { undo: "Undo", redo: "Redo" } as const;
