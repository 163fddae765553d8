import {
  applyEdit,
  differencesBetween,
  editBetween,
  type HitDifference,
  invertEdit,
  type Pattern,
  rebase,
} from "../../core/document/index.ts";
import type { Bench } from "../bench/bench-context.ts";
import { keepVersion, readLog, ServerProblem, type Version } from "../server-api.ts";

/** What differs between a version and now. */
export interface VersionDifference {
  readonly hits: readonly HitDifference[];
  readonly treatedVoiceIds: readonly string[];
  /** The take as it was. */
  readonly pattern: Pattern;
  /** What was done in a version and cannot be done any more, since what it was done to is gone. */
  readonly lostCount: number;
}

const NOT_SAVED = {
  code: "version.unsaved",
  message: "The last changes are not saved yet.",
  remedy: "Wait until the top of the page says that everything is saved, and try again.",
};

/** Gives what is there now a name to come back to. @throws ServerProblem if it cannot be saved first */
export async function keepNow({ store }: Bench, name: string): Promise<Version> {
  if (!(await store.saved())) throw new ServerProblem(NOT_SAVED);
  return keepVersion(store.getState().project.id, { name, revision: store.savedRevision() });
}

/** Compares a version with the present. @throws ServerProblem if the log cannot be read */
export async function compareWithNow(
  { store }: Bench,
  { revision, entries = [] }: Pick<Version, "revision" | "entries">,
): Promise<VersionDifference> {
  for (;;) {
    if (!(await store.saved())) throw new ServerProblem(NOT_SAVED);
    const now = store.take();
    // Of a revision that a restored backup no longer has, what is there now is the nearest.
    const count = Math.max(0, store.savedRevision() - revision);
    const log = await readLog(store.getState().project.id, revision);
    if (store.take() !== now) continue;
    // Another window may have saved what this one does not know yet.
    const since = log.slice(0, count);
    const then = since.toReversed().reduce((later, entry) => applyEdit(later, invertEdit(entry.edit)), now);
    const { pattern, unfit } = rebase(then, entries);
    return { ...differencesBetween(pattern, now), pattern, lostCount: unfit.length };
  }
}

/** Makes the take what it was, as one step that can be undone. */
export function goBackTo({ store }: Bench, { name }: Pick<Version, "name">, pattern: Pattern): void {
  // A version is of the take, and not of one pattern of it.
  store.setScope(null);
  store.commit(`Go back to “${name}”`, editBetween(store.getState().pattern, pattern));
  store.pick(new Set());
}
