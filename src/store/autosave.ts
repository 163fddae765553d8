import type { Problem } from "../api/wire.ts";
import type { LogEntry } from "../core/part/index.ts";
import { ServerProblem, saveEdits } from "./server-api.ts";

export type SaveState =
  | { readonly kind: "saved" }
  | { readonly kind: "saving" }
  | { readonly kind: "notSaving"; readonly problem: Problem };

export interface AutosaveHooks {
  onState(state: SaveState): void;
  /** Others were faster: their entries, and those of ours that are not saved. Says whether ours still fit. */
  onNewer(newer: readonly LogEntry[], ours: readonly LogEntry[]): boolean;
}

const FIRST_RETRY_MS = 500;
const LONGEST_RETRY_MS = 10_000;

/**
 * Sends log entries to the server in order, at once, one request at a time. Until the server has acknowledged them they
 * are kept in the browser too, so that neither a reload nor a stopped server loses one.
 */
export class Autosave {
  readonly #projectId: string;
  readonly #hooks: AutosaveHooks;
  readonly #storageKey: string;
  #revision: number;
  #waiting: LogEntry[];
  #isSending = false;
  #retryMs = FIRST_RETRY_MS;
  #isClosed = false;

  constructor(projectId: string, revision: number, hooks: AutosaveHooks) {
    this.#projectId = projectId;
    this.#revision = revision;
    this.#hooks = hooks;
    this.#storageKey = `marten.unsaved.${projectId}`;
    this.#waiting = [];
  }

  /** Entries that an earlier page could not save. */
  leftover(): readonly LogEntry[] {
    const stored = localStorage.getItem(this.#storageKey);
    return stored ? (JSON.parse(stored) as LogEntry[]) : [];
  }

  add(entry: LogEntry): void {
    this.#waiting.push(entry);
    this.#store();
    if (!this.#isSending) void this.#send();
  }

  /** The revision on the server that this page knows of. */
  get revision(): number {
    return this.#revision;
  }

  get hasUnsaved(): boolean {
    return this.#waiting.length > 0;
  }

  /** Forgets what an earlier page left, but not what this one has still to save. */
  forgetLeftover(): void {
    this.#store();
  }

  close(): void {
    this.#isClosed = true;
  }

  #store(): void {
    if (this.#waiting.length === 0) {
      localStorage.removeItem(this.#storageKey);
      return;
    }
    try {
      localStorage.setItem(this.#storageKey, JSON.stringify(this.#waiting));
    } catch (error) {
      // The browser's room is used up. The server is the real place; leaving the page too early is warned of all the same.
      if (!(error instanceof DOMException)) throw error;
      localStorage.removeItem(this.#storageKey);
    }
  }

  async #send(): Promise<void> {
    this.#isSending = true;
    this.#hooks.onState({ kind: "saving" });
    while (this.#waiting.length > 0 && !this.#isClosed) {
      const batch = [...this.#waiting];
      try {
        const answer = await saveEdits(this.#projectId, { baseRevision: this.#revision, entries: batch });
        this.#revision = answer.revision;
        this.#retryMs = FIRST_RETRY_MS;
        if ("problem" in answer) {
          const stillFits = answer.newer.length > 0 && this.#hooks.onNewer(answer.newer, this.#waiting);
          if (stillFits) continue;
          this.#hooks.onState({ kind: "notSaving", problem: answer.problem });
          return; // sending stays switched off: only a reload can help
        }
        this.#waiting.splice(0, batch.length);
        this.#store();
      } catch (error) {
        if (!(error instanceof ServerProblem)) throw error;
        this.#hooks.onState({ kind: "notSaving", problem: error.problem });
        if (error.problem.code !== "server.unreachable") return;
        await new Promise((resolve) => setTimeout(resolve, this.#retryMs));
        this.#retryMs = Math.min(LONGEST_RETRY_MS, this.#retryMs * 2);
      }
    }
    this.#isSending = false;
    if (this.#waiting.length === 0) this.#hooks.onState({ kind: "saved" });
  }
}
