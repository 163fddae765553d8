import { applyEdit, invertEdit } from "./edit.ts";
import type { Edit } from "./edit-kinds.ts";
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
  return { pattern, kept: asSteps(kept), done, unfit };
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

/** An undo, or a redo, belongs to the last step before it. Where that is another by now, it is a step of its own. */
function asSteps(entries: readonly LogEntry[]): readonly LogEntry[] {
  let done = 0;
  let undone = 0;
  return entries.map((entry) => {
    if (entry.kind === "undo" && done > 0) {
      done--;
      undone++;
      return entry;
    }
    if (entry.kind === "redo" && undone > 0) {
      done++;
      undone--;
      return entry;
    }
    done++;
    undone = 0;
    return entry.kind === "do" ? entry : { ...entry, kind: "do", label: `${WORDS[entry.kind]}: ${entry.label}` };
  });
}

const WORDS = { undo: "Undo", redo: "Redo" } as const;
