import { remembering } from "../remember.ts";
import type { Edit } from "./edits/index.ts";
import { invertEdit, touchedBy } from "./edits/index.ts";

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

/** Some steps in a row that count as one, and what they are together. */
export interface Run {
  /** Of its last step. */
  readonly id: string;
  readonly count: number;
  readonly label: string;
}

/** A label that ends in a signed amount, perhaps in a pattern of the song: `Velocity of 3 hits +4`, `Nudge 3 hits −2 ms, in Verse 1`. */
const AMOUNT = /^(.*) ([+−])(\d+(?:\.\d+)?)((?: [a-z]+)?)((?:, in .+)?)$/;

/** What is played in is saved as it is played: the steps of one pass are one. */
const RECORDED_PASS = /^Record pass \d+(?:, in .+)?$/;
export const recordLabel = (pass: number) => `Record pass ${pass}`;

/**
 * The steps at the end of a list that are taken back as one: what was played in one pass, or equal changes of the same hits by an
 * amount each, as by six presses of one key. Those are named by their sum. Nothing of this is stored, so it holds for everything that was ever logged.
 * @param end how many steps of the list are looked at
 * @returns null if there are no steps
 */
export function runAtEnd(steps: readonly Step[], end: number = steps.length): Run | null {
  const last = steps[end - 1];
  if (!last) return null;
  const amount = amountOf(last);
  let count = 1;
  const { id } = last;
  if (RECORDED_PASS.test(last.label)) {
    while (count < end && steps[end - 1 - count]!.label === last.label) count++;
    return { id, count, label: last.label };
  }
  if (!amount) return { id, count, label: last.label };
  let sum = amount.value;
  for (; count < end; count++) {
    const step = steps[end - 1 - count]!;
    const other = amountOf(step);
    if (other?.what !== amount.what || other.unit !== amount.unit || hitIdsOf(step.edit) !== hitIdsOf(last.edit)) break;
    sum += other.value;
  }
  if (count === 1) return { id, count, label: last.label };
  const shown = `${sum < 0 ? "−" : "+"}${Math.round(Math.abs(sum) * 100) / 100}`;
  return { id, count, label: `${amount.what} ${shown}${amount.unit}` };
}

/** All steps of a list as runs, the last first. */
export function runsOf(steps: readonly Step[]): readonly Run[] {
  const runs: Run[] = [];
  let end = steps.length;
  for (let run = runAtEnd(steps, end); run; run = runAtEnd(steps, end)) {
    runs.push(run);
    end -= run.count;
  }
  return runs;
}

function amountOf({ label }: Step): { readonly what: string; readonly value: number; readonly unit: string } | null {
  const found = AMOUNT.exec(label);
  if (!found) return null;
  const [, what = "", sign, digits, unit = "", where = ""] = found;
  // One tick and three ticks are of one unit.
  const units = unit.endsWith("s") || !/tick|step/.test(unit) ? unit : `${unit}s`;
  return { what, value: Number(digits) * (sign === "−" ? -1 : 1), unit: `${units}${where}` };
}

/** Asked for whenever something is shown, and an edit of all hits names thousands. */
const rememberNames = remembering<Edit, string>();

/** The hits that an edit names, as one text: equal for equal hits. */
function hitIdsOf(edit: Edit): string {
  return rememberNames(edit, [], () => {
    const { hitIds, areAllMoved } = touchedBy(edit);
    return areAllMoved ? "all" : [...hitIds].sort().join(" ");
  });
}
