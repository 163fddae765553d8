import { MOST_ENTRIES } from "../../api/limits.ts";
import type { Problem, StaleAnswer, VersionRequest } from "../../api/wire.ts";
import type { LogEntry } from "../../core/document/index.ts";
import { isRefusal, keepVersion, readLog, ServerProblem, saveEdits } from "../server-api.ts";
import { keepRefused, keepUnsaved } from "./unsaved.ts";

export type SaveState =
  | { readonly kind: "saved" }
  | { readonly kind: "saving" }
  /** It is tried again by itself. Where the browser has no room either, the work is in this window alone. */
  | { readonly kind: "notSaving"; readonly problem: Problem; readonly isKeptHere: boolean };

export interface AutosaveHooks {
  onState(state: SaveState): void;
  /** The server has everything up to this revision. */
  onSaved(revision: number): void;
  /** Nothing is on its way any more: what others saved meanwhile can be taken. */
  onIdle(): void;
  /**
   * Others were faster. Gives back those of ours that still go, on top of theirs.
   * @param newer what the server has since; ours whose answer was lost on the way are among it
   * @param ours what is not saved, as far as we know
   * @returns null if what the server has does not lead on from what we have
   */
  onNewer(newer: readonly LogEntry[], ours: readonly LogEntry[], baseRevision: number): Settled | null;
  /** The server will not have this entry of ours, whatever happens. Gives back those that still go without it. */
  onRefused(entry: LogEntry, ours: readonly LogEntry[], baseRevision: number, problem: Problem): Settled;
  /** The server will not have this conflicted version. It is kept in the browser. */
  onVersionRefused(conflict: VersionRequest, problem: Problem): void;
  /** What the server has cannot be led to from what we have, as after a backup was restored. Gives back where we stand now. */
  onDiverged(): Promise<Settled & { readonly revision: number }>;
}

/** What is left to save after others came first. */
export interface Settled {
  readonly entries: readonly LogEntry[];
  /** What did not fit, to be kept on the server as a version of its own. */
  readonly conflict: VersionRequest | null;
}

const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 15_000;

/**
 * Sends log entries to the server in order, at once, one request at a time. Until the server has acknowledged them they are kept in
 * the browser too, under a key of this window. Whatever fails is tried again, with growing pauses, until it is saved.
 */
export class Autosave {
  readonly #projectId: string;
  readonly #windowId: string;
  readonly #hooks: AutosaveHooks;
  #revision: number;
  #waiting: LogEntry[] = [];
  #conflicts: VersionRequest[] = [];
  /** After a refusal one at a time, to find the one that is meant. */
  #batchSize = MOST_ENTRIES;
  #running: Promise<void> | null = null;
  #pauseMs = FIRST_PAUSE_MS;
  #wake: () => void = () => {};
  #isKeptHere = true;
  #isClosed = false;

  constructor(projectId: string, windowId: string, revision: number, hooks: AutosaveHooks) {
    this.#projectId = projectId;
    this.#windowId = windowId;
    this.#revision = revision;
    this.#hooks = hooks;
  }

  add(entry: LogEntry): void {
    this.#waiting.push(entry);
    this.#keep();
    this.#run();
  }

  addConflict(conflict: VersionRequest): void {
    this.#conflicts.push(conflict);
    this.#keep();
    this.#run();
  }

  /** The revision on the server that this page knows of. */
  get revision(): number {
    return this.#revision;
  }

  get hasUnsaved(): boolean {
    return this.#waiting.length > 0 || this.#conflicts.length > 0;
  }

  /** Whether the browser keeps what is not saved, and not this window alone. */
  get isKeptHere(): boolean {
    return this.#isKeptHere;
  }

  /** Tries again at once, as when the network is back or a person asks. */
  retryNow(): void {
    this.#pauseMs = FIRST_PAUSE_MS;
    this.#wake();
  }

  /** Takes what others have saved since. What is on its way to the server learns of it there. */
  async takeNewer(): Promise<void> {
    if (this.#running) return;
    const revision = this.#revision;
    const newer = await readLog(this.#projectId, revision);
    if (newer.length === 0 || this.#revision !== revision || this.#running) return;
    await this.#settleNewer({ newer, revision: revision + newer.length });
  }

  /** Nothing more is added. What waits is still sent, as long as the page is there and the server answers. */
  async close(): Promise<void> {
    this.#isClosed = true;
    this.#wake();
    await this.#running;
  }

  #run(): void {
    this.#running ??= this.#sendAll().finally(() => {
      this.#running = null;
      this.#hooks.onIdle();
    });
  }

  #keep(): void {
    const unsaved = { baseRevision: this.#revision, entries: this.#waiting, conflicts: this.#conflicts };
    this.#isKeptHere = keepUnsaved(this.#projectId, this.#windowId, unsaved);
  }

  async #sendAll(): Promise<void> {
    this.#hooks.onState({ kind: "saving" });
    while (this.hasUnsaved) {
      try {
        if (this.#waiting.length > 0) await this.#sendEntries();
        else await this.#sendConflict();
        this.#pauseMs = FIRST_PAUSE_MS;
      } catch (error) {
        if (!(error instanceof ServerProblem)) throw error;
        this.#hooks.onState({ kind: "notSaving", problem: error.problem, isKeptHere: this.#isKeptHere });
        // A page that was left does not go on knocking: what it could not save waits in the browser.
        if (this.#isClosed) return;
        await this.#pause();
      }
    }
    this.#hooks.onState({ kind: "saved" });
    this.#hooks.onSaved(this.#revision);
  }

  async #sendEntries(): Promise<void> {
    const batch = this.#waiting.slice(0, this.#batchSize);
    try {
      const answer = await saveEdits(this.#projectId, { baseRevision: this.#revision, entries: batch });
      if ("problem" in answer) return await this.#settleStale(answer);
      this.#revision = answer.revision;
      this.#waiting.splice(0, batch.length);
      this.#batchSize = MOST_ENTRIES;
      this.#keep();
    } catch (error) {
      if (!isRefusal(error)) throw error;
      if (batch.length > 1) this.#batchSize = 1;
      else {
        const settled = this.#hooks.onRefused(batch[0]!, this.#waiting, this.#revision, error.problem);
        this.#settle(settled, this.#revision);
      }
    }
  }

  async #sendConflict(): Promise<void> {
    try {
      await keepVersion(this.#projectId, this.#conflicts[0]!);
    } catch (error) {
      if (!isRefusal(error)) throw error;
      // Where the browser has no room either, this window goes on holding it, and trying.
      if (!keepRefused(this.#projectId, this.#conflicts[0]!, error.problem.message)) throw error;
      this.#hooks.onVersionRefused(this.#conflicts[0]!, error.problem);
    }
    this.#conflicts.shift();
    this.#keep();
  }

  async #settleStale({ newer, revision }: StaleAnswer): Promise<void> {
    if (newer.length > 0) return this.#settleNewer({ newer, revision });
    await this.#settleDiverged();
  }

  async #settleNewer({ newer, revision }: Pick<StaleAnswer, "newer" | "revision">): Promise<void> {
    const settled = this.#hooks.onNewer(newer, this.#waiting, this.#revision);
    if (settled) this.#settle(settled, revision);
    else await this.#settleDiverged();
  }

  async #settleDiverged(): Promise<void> {
    const diverged = await this.#hooks.onDiverged();
    this.#settle(diverged, diverged.revision);
  }

  #settle({ entries, conflict }: Settled, revision: number): void {
    this.#revision = revision;
    this.#waiting = [...entries];
    if (conflict) this.#conflicts.push(conflict);
    this.#keep();
    // What came of it while nothing was on its way.
    if (this.hasUnsaved) this.#run();
  }

  async #pause(): Promise<void> {
    const pauseMs = this.#pauseMs;
    this.#pauseMs = Math.min(LONGEST_PAUSE_MS, this.#pauseMs * 2);
    await new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, pauseMs);
      this.#wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }
}
