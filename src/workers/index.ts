import { proxy, type Remote, wrap } from "comlink";
import type { Analysis } from "./analysis.worker.ts";
import type { Kit } from "./kit.worker.ts";
import type { Patterns } from "./patterns.worker.ts";
import type { Song } from "./song.worker.ts";
import type { TakeReader } from "./take.worker.ts";

const FIRST_RETRY_MS = 500;
const LONGEST_RETRY_MS = 8000;

/**
 * A worker with its functions, started when it is first needed. If its script does not load, because the server is away
 * for a moment, what was asked of it waits and is tried again. `end` stops it and whatever it is doing.
 */
export class Helper<Functions> {
  readonly #create: () => Worker;
  #worker: Worker | null = null;
  #call: Remote<Functions> | null = null;
  #hasFailed: Promise<"failed"> = new Promise(() => {});
  #isEnded = false;

  constructor(create: () => Worker) {
    this.#create = create;
  }

  async run<Result>(ask: (call: Remote<Functions>) => Promise<Result>): Promise<Result> {
    for (let retryMs = FIRST_RETRY_MS; ; retryMs = Math.min(LONGEST_RETRY_MS, retryMs * 2)) {
      const answer = ask(this.#start()).then((result) => ({ result }));
      const outcome = await Promise.race([this.#hasFailed, answer]);
      if (outcome !== "failed") return outcome.result;
      this.#stop();
      await new Promise((resolve) => setTimeout(resolve, retryMs));
    }
  }

  end(): void {
    this.#isEnded = true;
    this.#stop();
  }

  #start(): Remote<Functions> {
    if (this.#call) return this.#call;
    const worker = this.#create();
    this.#worker = worker;
    this.#hasFailed = new Promise((resolve) => {
      worker.addEventListener("error", (event) => {
        // Its functions answer with their own errors; this one says that the script itself could not be run.
        event.preventDefault();
        resolve("failed");
      });
    });
    // A helper that was ended answers no more.
    if (this.#isEnded) worker.terminate();
    this.#call = wrap<Functions>(worker);
    return this.#call;
  }

  #stop(): void {
    this.#worker?.terminate();
    this.#worker = null;
    this.#call = null;
  }
}

/** A function that a worker may call back. */
export const calledBack = proxy;

export const startKit = () =>
  new Helper<Kit>(() => new Worker(new URL("./kit.worker.ts", import.meta.url), { type: "module" }));

export const startAnalysis = () =>
  new Helper<Analysis>(() => new Worker(new URL("./analysis.worker.ts", import.meta.url), { type: "module" }));

export const startSong = () =>
  new Helper<Song>(() => new Worker(new URL("./song.worker.ts", import.meta.url), { type: "module" }));

export const startPatterns = () =>
  new Helper<Patterns>(() => new Worker(new URL("./patterns.worker.ts", import.meta.url), { type: "module" }));

export const startTakeReader = () =>
  new Helper<TakeReader>(() => new Worker(new URL("./take.worker.ts", import.meta.url), { type: "module" }));
