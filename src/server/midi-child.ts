import { MidiFileError } from "../core/smf/index.ts";
import type { TaskAnswer } from "./midi-process.ts";
import { importInSteps, runMidiTask, type SentTask, taskOf } from "./midi-task.ts";

// One task a process: it ends with it, and so does whatever memory a hostile file made it take.
process.once("message", async (sent: SentTask) => {
  process.send?.(await answerTo(sent), () => process.disconnect());
});

/** What is told before the task is over. */
function tell(value: unknown): void {
  process.send?.({ ok: true, value } satisfies TaskAnswer);
}

const tellShare = (share: number) => void process.send?.({ share } satisfies TaskAnswer);

async function answerTo(sent: SentTask): Promise<TaskAnswer> {
  try {
    const task = taskOf(sent);
    if (task.kind === "import") return { ok: true, value: importInSteps(task.bytes, tell, tellShare) };
    if (task.kind !== "archive") return { ok: true, value: runMidiTask(task, tellShare) };
    // Its checks take a while to be made, and no other task needs them.
    const { ArchiveError, readArchive } = await import("./archive/read-archive.ts");
    try {
      return { ok: true, value: readArchive(task.bytes) };
    } catch (error) {
      if (!(error instanceof ArchiveError)) throw error;
      return { ok: false, problem: error.problem };
    }
  } catch (error) {
    if (!(error instanceof MidiFileError))
      return { fault: error instanceof Error ? String(error.stack) : String(error) };
    const { code, message, byteOffset, remedy } = error;
    return { ok: false, problem: { code, message, where: `byte ${byteOffset}`, remedy } };
  }
}
