import { type ChildProcess, fork } from "node:child_process";
import { join } from "node:path";
import type { Answer } from "../api/wire.ts";
import type { MidiTask, MidiTaskResult } from "./midi-task.ts";
import { ProblemError } from "./problem-error.ts";

/** What the process says: its result, what is wrong with the file, or a fault of ours. */
export type TaskAnswer<Result = unknown> = Answer<Result> | { readonly fault: string };

const TIME_LIMIT_MS = 20_000;
const MEMORY_LIMIT_MB = 1024;
/** How a process ends that is out of memory, where there are no signals. */
const ABORTED = 134;

/** Started while nobody waits: to start a process takes longer than to read most files. */
let spare: ChildProcess | null = null;

/**
 * Runs one task on a file in a process of its own, so that requests go on being answered. A thread would not do: if one takes more
 * memory than it may at a single stroke, the whole server ends with it.
 * @throws ProblemError if the file cannot be read, takes too long or too much memory
 */
export function runInProcess<Kind extends MidiTask["kind"]>(
  task: MidiTask & { kind: Kind },
): Promise<MidiTaskResult[Kind]> {
  const child = spare ?? start();
  spare = null;
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => {
      reject(tooHeavy("takes longer than 20 seconds to read"));
      child.kill("SIGKILL");
    }, TIME_LIMIT_MS);
    child.once("message", (answer: TaskAnswer<MidiTaskResult[Kind]>) => {
      if ("fault" in answer) reject(new Error(answer.fault));
      else if (answer.ok) resolve(answer.value);
      else reject(new ProblemError(422, answer.problem));
    });
    child.once("error", reject);
    child.once("exit", (code, signal) => {
      clearTimeout(timer);
      spare ??= start();
      // After an answer this says nothing any more.
      if (signal === "SIGABRT" || code === ABORTED) reject(tooHeavy("needs more memory than we allow"));
      else reject(new Error(`The process for a file ended with ${signal ?? code}, without an answer.`));
    });
    child.send(task);
  });
}

function start(): ChildProcess {
  // Built beside the server by the build script: a bundler cannot follow a script of another bundle.
  const child = fork(join(/* turbopackIgnore: true */ process.cwd(), "build/midi-child.mjs"), {
    // Typed arrays go over as they are.
    serialization: "advanced",
    execArgv: [`--max-old-space-size=${MEMORY_LIMIT_MB}`],
    // What it says when it runs out of memory is told in our own words.
    stdio: ["ignore", "inherit", "ignore", "ipc"],
  });
  // A spare one must not keep the server from ending, and nobody hears it fail.
  child.unref();
  child.channel?.unref();
  const forget = () => {
    if (spare === child) spare = null;
  };
  child.once("error", forget).once("exit", forget);
  return child;
}

function tooHeavy(what: string): ProblemError {
  return new ProblemError(422, {
    code: "file.tooHeavy",
    message: `This file ${what}.`,
    remedy: "Split the recording into shorter files and import them one by one.",
  });
}
