import { type ChildProcess, fork, spawn } from "node:child_process";
import { join } from "node:path";
import type { Answer } from "../api/wire.ts";
import { counted } from "../core/ordinal.ts";
import type { ImportResult, MidiTask, MidiTaskResult, SentTask } from "./midi-task.ts";
import { ProblemError } from "./problem-error.ts";
import { givenUp, NO_HANDLE, sharedTasks, type TaskHandle } from "./task-queue.ts";

/** What the process says: its result, what is wrong with the file, a fault of ours, or how far it has come, 0 to 1. */
export type TaskAnswer<Result = unknown> = Answer<Result> | { readonly fault: string } | { readonly share: number };

/** Of the processor, not of the clock: a machine that is busy with other things makes no file too heavy. A slow one may be given more. */
const CPU_LIMIT_S = limitFrom(process.env.MARTEN_WORK_S, 60);
const MEMORY_LIMIT_MB = limitFrom(process.env.MARTEN_WORK_MB, 1536);
/** Only for a process that hangs and does nothing. */
const CLOCK_LIMIT_MS = 20 * 60_000;
/** How a process ends that is out of memory, where there are no signals. */
const ABORTED = 134;
/** How the shell reports the end of a process that has used up its processor time. */
const OUT_OF_TIME = new Set([128 + 24, 128 + 9]);

/** Started while nobody waits: to start a process takes longer than to read most files. */
let spare: ChildProcess | null = null;

/** Whoever waits for some work, and is told how far it has come, 0 to 1. */
type Watching = Pick<TaskHandle, "signal" | "onShare">;

/** A take that is read, and its lanes once their grids are found, as text; null if that failed. */
export interface ImportInSteps {
  readonly read: ImportResult;
  readonly plan: Promise<string | null>;
}

/**
 * Runs one task on a file in a process of its own, so that requests go on being answered. A thread would not do: if one takes more
 * memory than it may at a single stroke, the whole server ends with it. A few run at a time; the others wait in a queue.
 * @throws ProblemError if the file cannot be read, takes too much time or memory, or was given up
 */
export function runInProcess<Kind extends Exclude<MidiTask["kind"], "import">>(
  task: SentTask<Extract<MidiTask, { kind: Kind }>>,
  handle: TaskHandle = NO_HANDLE,
): Promise<MidiTaskResult[Kind]> {
  return sharedTasks().run(handle, async (tellProgress) => {
    const onShare = (share: number) => {
      tellProgress(Math.round(100 * share), 100);
      handle.onShare?.(share);
    };
    return (await runNow(task as SentTask, { signal: handle.signal, onShare }, 1)).at(-1) as MidiTaskResult[Kind];
  });
}

/**
 * The same for an import, which tells what it has read before it seeks the grids. The place in the queue is kept until it is over.
 * @param seeking what gives up seeking the grids, and is told how far that has come
 */
export function importInProcess(
  bytes: Uint8Array,
  handle: TaskHandle = NO_HANDLE,
  seeking: Watching = {},
): Promise<ImportInSteps> {
  return new Promise((resolve, reject) => {
    let findPlan: (lanes: string | null) => void = () => {};
    const plan = new Promise<string | null>((found) => {
      findPlan = found;
    });
    let isRead = false;
    const tell = (read: unknown) => {
      isRead = true;
      resolve({ read: read as ImportResult, plan });
    };
    sharedTasks()
      .run(handle, () =>
        runNow({ kind: "import", bytes }, { ...seeking, signal: handle.signal }, 2, tell, seeking.signal),
      )
      .then((answers) => findPlan(answers.at(-1) as string))
      .catch((error: unknown) => {
        // A take without its grids is a take all the same: they are sought when it is opened.
        if (isRead) findPlan(null);
        else reject(error);
      });
  });
}

/**
 * @param count how many answers there are to be
 * @param tell told the first, before the others are there
 * @param later gives up what is done after that
 */
function runNow(
  task: SentTask,
  { signal, onShare }: Watching,
  count: number,
  tell: (answer: unknown) => void = () => {},
  later?: AbortSignal,
): Promise<readonly unknown[]> {
  const child = spare?.connected ? spare : start();
  spare = null;
  const answers: unknown[] = [];
  return new Promise((resolve, reject) => {
    const stop = (reason: ProblemError) => {
      reject(reason);
      child.kill("SIGKILL");
    };
    const timer = setTimeout(() => stop(tooHeavy("does not come to an end")), CLOCK_LIMIT_MS);
    const giveUp = () => stop(givenUp());
    signal?.addEventListener("abort", giveUp, { once: true });
    later?.addEventListener("abort", giveUp, { once: true });
    child.on("message", (answer: TaskAnswer) => {
      if ("share" in answer) return onShare?.(answer.share);
      if ("fault" in answer) return reject(new Error(answer.fault));
      if (!answer.ok) return reject(new ProblemError(422, answer.problem));
      answers.push(answer.value);
      if (answers.length === count) resolve(answers);
      else {
        // Whoever asked has an answer, and may go.
        signal?.removeEventListener("abort", giveUp);
        tell(answer.value);
      }
    });
    child.once("error", reject);
    // What it said is heard before its channel is closed, but maybe after it has ended: only both together say that it said nothing.
    let end: readonly [number | null, NodeJS.Signals | null] | null = null;
    let isClosed = false;
    const over = () => {
      if (!end || !isClosed) return;
      const [code, signalName] = end;
      clearTimeout(timer);
      signal?.removeEventListener("abort", giveUp);
      spare ??= start();
      // After an answer this says nothing any more.
      if (signalName === "SIGXCPU" || OUT_OF_TIME.has(code ?? 0) || signalName === "SIGKILL")
        reject(tooHeavy(`takes longer than ${counted(CPU_LIMIT_S, "second")} of work`));
      else if (signalName === "SIGABRT" || code === ABORTED) reject(tooHeavy("needs more memory than we allow"));
      else reject(new Error(`The process for a file ended with ${signalName ?? code}, without an answer.`));
    };
    child.once("exit", (code, signalName) => {
      end = [code, signalName];
      over();
    });
    child.once("disconnect", () => {
      isClosed = true;
      over();
    });
    child.send(task, (error) => {
      if (error) reject(error);
    });
  });
}

/** What is no whole number above 0 sets nothing. */
function limitFrom(said: string | undefined, usual: number): number {
  return /^[1-9]\d{0,5}$/.test(said ?? "") ? Number(said) : usual;
}

function start(): ChildProcess {
  // Built beside the server by the build script: a bundler cannot follow a script of another bundle.
  const script = join(/* turbopackIgnore: true */ process.cwd(), "build/midi-child.mjs");
  const memory = `--max-old-space-size=${MEMORY_LIMIT_MB}`;
  // Typed arrays go over as they are. What it says when it runs out of memory is told in our own words.
  const options = { serialization: "advanced" as const, stdio: ["ignore", "inherit", "ignore", "ipc"] as const };
  // The kernel keeps count of the processor: no clock of ours could.
  const child =
    process.platform === "win32"
      ? fork(script, { ...options, stdio: [...options.stdio], execArgv: [memory] })
      : spawn("/bin/sh", ["-c", `ulimit -t ${CPU_LIMIT_S}; exec "$0" "$@"`, process.execPath, memory, script], {
          ...options,
          stdio: [...options.stdio],
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
