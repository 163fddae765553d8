import clsx from "clsx";
import type { ReactNode } from "react";
import { useStore } from "zustand";
import { Hint } from "../../../components/Hint.tsx";
import { useBench } from "../../../store/bench/bench-context.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { toggleRecording } from "./record-actions.ts";

/** Beside Play: takes down what is played. */
export function RecordButton() {
  const bench = useBench();
  const isOn = useStore(bench.recording.state, (state) => state.phase !== "idle");
  const keyName = useKeyNames();
  const word = isOn ? "Stop recording" : "Record";
  return (
    <Hint text={word} keys={keyName("record")}>
      <button
        type="button"
        aria-label={word}
        aria-pressed={isOn}
        className={clsx(
          "-ml-3 grid size-10 shrink-0 place-items-center rounded-full border-2 border-brick hover:bg-brick-tint",
          isOn && "bg-brick-tint",
        )}
        onClick={() => doAndSay(bench, () => toggleRecording(bench))}
      >
        <span className={clsx("bg-brick", isOn ? "size-3.5 rounded-sm" : "size-4 rounded-full")} />
      </button>
    </Hint>
  );
}

const PHASE_WORDS = {
  waiting: "Waiting for the first stroke",
  countIn: "Counting in",
  recording: "Recording",
} as const;

/** What is recorded just now, in the place of what else is said at the foot. */
export function RecordingWords({ children }: { children: ReactNode }) {
  const { recording } = useBench();
  const { phase, pass, strokeCount } = useStore(recording.state);
  const keyName = useKeyNames();
  if (phase === "idle") return children;
  const words = phase === "recording" && pass !== null ? `Pass ${pass} is recording` : PHASE_WORDS[phase];
  return (
    <p role="status" className="flex flex-1 flex-wrap items-baseline gap-x-4 text-base">
      <strong className="text-brick">{words}</strong>
      <span className="text-muted">
        {strokeCount === 1 ? "1 hit" : `${strokeCount} hits`} so far; {keyName("undo")} takes the last pass away
      </span>
      <span className="ml-auto text-fine text-muted">
        {keyName("record")} or {keyName("play")} stops
      </span>
    </p>
  );
}
