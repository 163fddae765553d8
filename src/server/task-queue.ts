import type { TaskState } from "../api/wire.ts";
import { ProblemError } from "./problem-error.ts";

/** Long work that somebody waits for: so many at a time, the others in the order in which they came. */
export interface TaskHandle {
  /** By what the one who waits asks how far it is; null if nobody asks. */
  readonly ticket: string | null;
  /** Whoever waits has gone, or does not want it any more. */
  readonly signal?: AbortSignal | undefined;
  /** Told how far it has come, 0 to 1. */
  readonly onShare?: (share: number) => void;
}

export const NO_HANDLE: TaskHandle = { ticket: null };

/** What is told while it goes on. */
export type TellProgress = (done: number, of: number) => void;

interface Waiting {
  readonly handle: TaskHandle;
  readonly start: () => void;
}

export class TaskQueue {
  readonly #slots: number;
  /** Places that are taken, also by one that is about to begin. */
  #taken = 0;
  readonly #waiting: Waiting[] = [];
  readonly #running = new Map<object, { readonly ticket: string | null; progress: readonly [number, number] | null }>();

  constructor(slots: number) {
    this.#slots = slots;
  }

  /** @throws ProblemError 499 if it was given up while it waited */
  async run<Value>(handle: TaskHandle, work: (tell: TellProgress) => Promise<Value>): Promise<Value> {
    await this.#turn(handle);
    const own: { readonly ticket: string | null; progress: readonly [number, number] | null } = {
      ticket: handle.ticket,
      progress: null,
    };
    this.#running.set(own, own);
    try {
      return await work((done, of) => {
        own.progress = [done, of];
      });
    } finally {
      this.#running.delete(own);
      const next = this.#waiting.shift();
      // One that ends gives its place to the first that waits, so nobody overtakes.
      if (next) next.start();
      else this.#taken--;
    }
  }

  /** How far the work with a ticket is. */
  stateOf(ticket: string): TaskState {
    const ahead = this.#waiting.findIndex(({ handle }) => handle.ticket === ticket);
    if (ahead >= 0) return { kind: "waiting", ahead: ahead + this.#taken };
    const running = [...this.#running.values()].find((one) => one.ticket === ticket);
    if (!running) return { kind: "unknown" };
    const [done, of] = running.progress ?? [0, 0];
    return running.progress ? { kind: "running", done, of } : { kind: "running" };
  }

  #turn(handle: TaskHandle): Promise<void> {
    const { signal } = handle;
    if (signal?.aborted) return Promise.reject(givenUp());
    if (this.#taken < this.#slots) {
      this.#taken++;
      return Promise.resolve();
    }
    return new Promise((resolve, reject) => {
      const waiting: Waiting = { handle, start: resolve };
      this.#waiting.push(waiting);
      signal?.addEventListener("abort", () => {
        const at = this.#waiting.indexOf(waiting);
        if (at < 0) return;
        this.#waiting.splice(at, 1);
        reject(givenUp());
      });
    });
  }
}

/** Answered to nobody: whoever asked has gone. */
export function givenUp(): ProblemError {
  return new ProblemError(499, {
    code: "task.givenUp",
    message: "This was cancelled before it was done.",
    remedy: "Nothing was changed.",
  });
}

const holder = globalThis as { martenTasks?: TaskQueue };

/** Each takes a processor for a while; the machines that this runs on have few. On the global object, since routes are bundled apart. */
const SLOTS = 2;

export function sharedTasks(): TaskQueue {
  holder.martenTasks ??= new TaskQueue(SLOTS);
  return holder.martenTasks;
}
