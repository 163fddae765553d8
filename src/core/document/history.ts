import type { Edit } from "./edits/index.ts";
import { invertEdit } from "./edits/index.ts";

/** One entry of a pattern's log. Undoing and redoing are logged like everything else, so that nothing is forgotten. */
export interface LogEntry {
  /** Made by whoever made the edit; a repeated entry is known by it. */
  readonly id: string;
  readonly kind: "do" | "undo" | "redo";
  /** What was done, in words: `Move 3 hits`. */
  readonly label: string;
  readonly edit: Edit;
}

export interface Step {
  /** Of the log entry that did it last. */
  readonly id: string;
  readonly label: string;
  readonly edit: Edit;
}

/** What can be undone and redone. The last of each list comes first. */
export interface History {
  readonly done: readonly Step[];
  readonly undone: readonly Step[];
}

export const EMPTY_HISTORY: History = { done: [], undone: [] };

/** Takes one more log entry into the history: a new step drops what could be redone. */
export function advanceHistory(history: History, entry: LogEntry): History {
  const { done, undone } = history;
  switch (entry.kind) {
    case "do":
      return { done: [...done, { id: entry.id, label: entry.label, edit: entry.edit }], undone: [] };
    case "undo":
      return {
        done: done.slice(0, -1),
        undone: [...undone, { id: entry.id, label: entry.label, edit: invertEdit(entry.edit) }],
      };
    case "redo":
      return { done: [...done, { id: entry.id, label: entry.label, edit: entry.edit }], undone: undone.slice(0, -1) };
    default:
      return entry.kind satisfies never;
  }
}

/** The history that a log leaves, oldest entry first. */
export function historyOfLog(log: readonly LogEntry[]): History {
  const done: Step[] = [];
  const undone: Step[] = [];
  for (const { id, kind, label, edit } of log) {
    if (kind === "undo") {
      done.pop();
      undone.push({ id, label, edit: invertEdit(edit) });
      continue;
    }
    done.push({ id, label, edit });
    if (kind === "redo") undone.pop();
    else undone.length = 0;
  }
  return { done, undone };
}
