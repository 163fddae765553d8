import { LONGEST_LABEL } from "../../api/limits.ts";
import type { OpenProject, PlannedLanes, Problem, VersionRequest } from "../../api/wire.ts";
import {
  advanceHistory,
  applyEdit,
  type Edit,
  EMPTY_HISTORY,
  editBetween,
  type History,
  historyOfLog,
  invertEdit,
  type LogEntry,
  type Pattern,
  rebase,
  tryEdit,
} from "../../core/document/index.ts";
import { openProject, readLog, ServerProblem } from "../server-api.ts";
import { Autosave, type SaveState, type Settled } from "./autosave.ts";
import { OtherWindows, openWindows } from "./other-windows.ts";
import { faultOfEntry, leftovers, type Unsaved } from "./unsaved.ts";

/** Something about saving that a person has to know of, said once. */
export interface SaveNotice {
  readonly kind: "refused" | "wait" | "conflict" | "recovered";
  readonly message: string;
}

export interface SavedTakeHooks {
  /** The take or its history is another. */
  onTake(take: Pattern, history: History): void;
  onState(state: SaveState): void;
  onNotice(notice: SaveNotice): void;
  /** How many other windows have the same project open. */
  onWindows(count: number): void;
}

/** An open take as it is saved: what is done to it is checked, done, kept in order and sent; what others do to it comes in. */
export class SavedTake {
  readonly #projectId: string;
  readonly #newId: () => string;
  readonly #hooks: SavedTakeHooks;
  readonly #autosave: Autosave;
  readonly #windows: OtherWindows;
  #take: Pattern;
  /** What was done before this page was opened; null until it is read. */
  #before: readonly LogEntry[] | null = null;
  /** What is to be done once that is read. */
  #waiting: (() => void)[] = [];
  /** What was done since, here and elsewhere, in the order in which it is saved. What is not saved yet comes last. */
  #since: LogEntry[] = [];
  #history: History = EMPTY_HISTORY;
  /** The newest revision that another window has told. */
  #heard = 0;
  /** Whether its lanes are on their grids. What was done before would be done to other settings. */
  #isPlanned: boolean;

  constructor({ id, pattern, revision, isPlanned }: OpenProject, newId: () => string, hooks: SavedTakeHooks) {
    this.#projectId = id;
    this.#newId = newId;
    this.#hooks = hooks;
    this.#take = pattern;
    this.#isPlanned = isPlanned;
    const windowId = newId();
    this.#autosave = new Autosave(id, windowId, revision, {
      onState: hooks.onState,
      onSaved: (saved) => this.#windows.tellChanged(saved),
      onIdle: () => this.#hear(this.#heard),
      onNewer: (newer, ours, baseRevision) => this.#takeNewer(newer, ours, baseRevision),
      onRefused: (entry, ours, baseRevision, problem) => this.#takeBack(entry, ours, baseRevision, problem),
      onVersionRefused: (conflict, problem) => hooks.onNotice(refusedVersion(conflict, problem)),
      onDiverged: () => this.#startOver(),
    });
    this.#windows = new OtherWindows(id, windowId, (newest) => this.#hear(newest), hooks.onWindows);
  }

  get take(): Pattern {
    return this.#take;
  }

  get hasUnsaved(): boolean {
    return this.#autosave.hasUnsaved;
  }

  /** The revision that is on disk; that of the take once everything is saved. */
  get revision(): number {
    return this.#autosave.revision;
  }

  retryNow(): void {
    this.#autosave.retryNow();
  }

  /** Waits until everything is saved. Returns false if that does not happen soon. */
  async saved(patienceMs = 5000): Promise<boolean> {
    for (let waitedMs = 0; this.hasUnsaved && waitedMs < patienceMs; waitedMs += 50) {
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    return !this.hasUnsaved;
  }

  /**
   * Calls back once it is known what was done before this page was opened, unless something else is done first.
   * @returns whether that is still to come; if it is known already, nobody is called
   */
  waitForHistory(act: () => void): boolean {
    if (this.#before !== null) return false;
    this.#waiting.push(act);
    return true;
  }

  /** Puts the lanes on the grids that were found. Whoever was faster has changed the take: then that comes in as what others do. */
  takePlan({ revision, lanes }: PlannedLanes): void {
    this.#isPlanned = true;
    if (revision === this.revision) this.#show({ ...this.#take, lanes });
    else void this.refresh();
  }

  /** Does something, after it was checked by the very schema that the server uses. Returns whether it was done. */
  do(kind: LogEntry["kind"], label: string, edit: Edit): boolean {
    return this.#do({ id: this.#newId(), kind, label: shortened(label), edit });
  }

  #do(entry: LogEntry): boolean {
    if (!this.#isPlanned) {
      const message = `“${entry.label}” was not done yet: the grids are still being found. Try again in a moment.`;
      this.#hooks.onNotice({ kind: "wait", message });
      return false;
    }
    const fault = faultOfEntry(entry);
    if (fault) {
      const what = fault.where.split("/").findLast((part) => /\D/.test(part)) ?? "it";
      const message = `“${entry.label}” was not done: ${what} ${fault.message}. Nothing was changed.`;
      this.#hooks.onNotice({ kind: "refused", message });
      return false;
    }
    this.#waiting = [];
    this.#take = applyEdit(this.#take, entry.edit);
    this.#since.push(entry);
    this.#history = advanceHistory(this.#history, entry);
    this.#hooks.onTake(this.#take, this.#history);
    this.#autosave.add(entry);
    return true;
  }

  /** Takes over what was done before this page was opened, and what windows that are closed by now could not save. */
  async takeLog(entries: readonly LogEntry[]): Promise<void> {
    // Something may have been done, and even saved, while the log was on its way.
    const sinceIds = new Set(this.#since.map(({ id }) => id));
    this.#before = entries.filter(({ id }) => !sinceIds.has(id));
    this.#show(this.#take);
    for (const act of this.#waiting.splice(0)) act();
    const open = await openWindows(this.#projectId);
    for (const { forget, ...left } of leftovers(this.#projectId, (windowId) => open.has(windowId))) {
      this.#takeLeftover(left);
      // By now it is under this window's own key. Where there is no room for that, the old one stays: what is saved is known by its ids.
      if (this.#autosave.isKeptHere) forget();
    }
  }

  /** Takes what others have saved, as when the window is looked at again. */
  async refresh(): Promise<void> {
    try {
      await this.#autosave.takeNewer();
    } catch (error) {
      // Whoever saves is told; looking again costs nothing.
      if (!(error instanceof ServerProblem)) throw error;
    }
  }

  async close(): Promise<void> {
    await this.#autosave.close();
    await this.#windows.close();
  }

  #hear(newest: number): void {
    this.#heard = Math.max(this.#heard, newest);
    if (newest > this.#autosave.revision) void this.refresh();
  }

  #show(take: Pattern): void {
    this.#take = take;
    this.#history = historyOfLog([...(this.#before ?? []), ...this.#since]);
    this.#hooks.onTake(this.#take, this.#history);
  }

  /** The take without what is not saved. */
  #without(ours: readonly LogEntry[]): Pattern {
    return ours.toReversed().reduce((pattern, { edit }) => applyEdit(pattern, invertEdit(edit)), this.#take);
  }

  /** Others saved first: what they did goes under ours, where ours still fits. */
  #takeNewer(newer: readonly LogEntry[], ours: readonly LogEntry[], baseRevision: number): Settled | null {
    const known = new Set(newer.map(({ id }) => id));
    const base = newer.reduce<Pattern | null>(
      (pattern, { edit }) => pattern && tryEdit(pattern, edit),
      this.#without(ours),
    );
    if (!base) return null;
    const { pattern, kept, unfit } = rebase(
      base,
      ours.filter(({ id }) => !known.has(id)),
    );
    this.#replace(ours, [...newer, ...kept]);
    this.#show(pattern);
    return { entries: kept, conflict: this.#conflictOf(unfit, ours, baseRevision) };
  }

  #takeBack(refused: LogEntry, ours: readonly LogEntry[], baseRevision: number, problem: Problem): Settled {
    const others = ours.filter((entry) => entry !== refused);
    const { pattern, kept, unfit } = rebase(this.#without(ours), others);
    this.#replace(ours, kept);
    this.#show(pattern);
    const message = `“${refused.label}” could not be saved and was taken back: ${problem.message}`;
    this.#hooks.onNotice({ kind: "refused", message });
    return { entries: kept, conflict: this.#conflictOf(unfit, others, baseRevision) };
  }

  /** The server has an older state in the place of what we know: its state is shown, and ours is kept beside it. */
  async #startOver(): Promise<Settled & { readonly revision: number }> {
    const [fresh, log] = await Promise.all([openProject(this.#projectId), readLog(this.#projectId)]);
    const entry: LogEntry = {
      id: this.#newId(),
      kind: "do",
      label: "What this window had",
      edit: editBetween(fresh.pattern, this.#take),
    };
    this.#before = log;
    this.#since = [];
    this.#show(fresh.pattern);
    return { entries: [], revision: fresh.revision, conflict: this.#conflictOf([entry], [entry], fresh.revision) };
  }

  #takeLeftover({ baseRevision, entries, conflicts }: Unsaved): void {
    const known = new Set([...(this.#before ?? []), ...this.#since].map(({ id }) => id));
    const left = entries.filter(({ id }) => !known.has(id));
    const { kept, unfit } = rebase(this.#take, left);
    // After a backup was restored, what it was made on may no longer be there.
    const isThere = baseRevision !== null && baseRevision <= this.revision;
    const base = unfit.length === 0 ? 0 : isThere ? baseRevision : this.#revisionThatFits(left);
    for (const conflict of conflicts) this.#autosave.addConflict(conflict);
    // Under the ids that they had: should they have been sent after all, they are known by them.
    for (const entry of kept) this.#do(entry);
    const conflict = this.#conflictOf(unfit, left, base);
    if (conflict) this.#autosave.addConflict(conflict);
    if (kept.length === 0) return;
    const changes = kept.length === 1 ? "1 change" : `${kept.length} changes`;
    this.#hooks.onNotice({
      kind: "recovered",
      message: `${changes} from an earlier window that could not be saved ${kept.length === 1 ? "is" : "are"} there again.`,
    });
  }

  /** The newest revision on which entries can be done, where it was not kept with them. */
  #revisionThatFits(entries: readonly LogEntry[]): number {
    const log = [...(this.#before ?? []), ...this.#since];
    let pattern = this.#take;
    for (let revision = log.length; revision > 0; revision--) {
      const fits = entries.reduce<Pattern | null>((at, { edit }) => at && tryEdit(at, edit), pattern);
      if (fits) return revision;
      pattern = applyEdit(pattern, invertEdit(log[revision - 1]!.edit));
    }
    return 0;
  }

  #replace(ours: readonly LogEntry[], by: readonly LogEntry[]): void {
    const old = new Set(ours.map(({ id }) => id));
    this.#since = [...this.#since.filter(({ id }) => !old.has(id)), ...by];
  }

  #conflictOf(unfit: readonly LogEntry[], all: readonly LogEntry[], revision: number): VersionRequest | null {
    if (unfit.length === 0) return null;
    const time = new Date().toLocaleTimeString("en", { hour: "numeric", minute: "2-digit" });
    const count = unfit.length === 1 ? "1 change" : `${unfit.length} changes`;
    this.#hooks.onNotice({
      kind: "conflict",
      message: `${count} here did not fit what was changed elsewhere: “${unfit[0]!.label}”. What this window had is kept as a conflicted version under “What was done”.`,
    });
    return { name: `Conflicted version, ${time}`, revision, entries: all };
  }
}

const refusedVersion = ({ name }: VersionRequest, { message }: Problem): SaveNotice => ({
  kind: "conflict",
  message: `“${name}” could not be kept with the project: ${message} It is in this browser, under “What was done”.`,
});

function shortened(label: string): string {
  const signs = [...label];
  return signs.length <= LONGEST_LABEL ? label : `${signs.slice(0, LONGEST_LABEL - 1).join("")}…`;
}
