import { parentPort, workerData } from "node:worker_threads";
import { MidiFileError } from "../core/smf/index.ts";
import { type MidiTask, runMidiTask } from "./midi-task.ts";

// One task a thread: the thread ends with it, and so does whatever memory a hostile file made it take.
try {
  parentPort?.postMessage({ ok: true, value: runMidiTask(workerData as MidiTask) });
} catch (error) {
  if (!(error instanceof MidiFileError)) throw error;
  const { code, message, byteOffset, remedy } = error;
  parentPort?.postMessage({ ok: false, problem: { code, message, where: `byte ${byteOffset}`, remedy } });
}
