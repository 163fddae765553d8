import { MidiFileError } from "../core/smf/index.ts";
import type { TaskAnswer } from "./midi-process.ts";
import { type MidiTask, runMidiTask } from "./midi-task.ts";

// One task a process: it ends with it, and so does whatever memory a hostile file made it take.
process.once("message", (task: MidiTask) => {
  process.send?.(answerTo(task), () => process.disconnect());
});

function answerTo(task: MidiTask): TaskAnswer {
  try {
    return { ok: true, value: runMidiTask(task) };
  } catch (error) {
    if (!(error instanceof MidiFileError))
      return { fault: error instanceof Error ? String(error.stack) : String(error) };
    const { code, message, byteOffset, remedy } = error;
    return { ok: false, problem: { code, message, where: `byte ${byteOffset}`, remedy } };
  }
}
