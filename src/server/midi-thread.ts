import { join } from "node:path";
import { Worker } from "node:worker_threads";
import type { Answer } from "../api/wire.ts";
import type { MidiTask, MidiTaskResult } from "./midi-task.ts";
import { ProblemError } from "./problem-error.ts";

const TIME_LIMIT_MS = 20_000;
const MEMORY_LIMIT_MB = 1024;

/**
 * Runs one task on a file in a thread of its own, so that requests go on being answered.
 * @throws ProblemError if the file cannot be read, takes too long or too much memory
 */
export function runInThread<Kind extends MidiTask["kind"]>(
  task: MidiTask & { kind: Kind },
): Promise<MidiTaskResult[Kind]> {
  // Built beside the server by the build script: a bundler cannot follow a worker of another bundle.
  const worker = new Worker(join(/* turbopackIgnore: true */ process.cwd(), "build/midi-worker.mjs"), {
    workerData: task,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_LIMIT_MB },
  });
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => {
      reject(tooHeavy("takes longer than 20 seconds to read"));
      void worker.terminate();
    }, TIME_LIMIT_MS);
    worker.once("message", (answer: Answer<MidiTaskResult[Kind]>) => {
      clearTimeout(timer);
      if (answer.ok) resolve(answer.value);
      else reject(new ProblemError(422, answer.problem));
    });
    worker.once("error", (error: NodeJS.ErrnoException) => {
      clearTimeout(timer);
      reject(error.code === "ERR_WORKER_OUT_OF_MEMORY" ? tooHeavy("needs more memory than we allow") : error);
    });
  });
}

function tooHeavy(what: string): ProblemError {
  return new ProblemError(422, {
    code: "file.tooHeavy",
    message: `This file ${what}.`,
    remedy: "Split the recording into shorter files and import them one by one.",
  });
}
