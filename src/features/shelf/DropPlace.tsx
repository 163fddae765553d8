"use client";

import clsx from "clsx";
import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { FileInput, MIDI_ACCEPT } from "../../components/FileInput.tsx";
import { ProblemNote } from "../../components/messages/ProblemNote.tsx";
import { say } from "../../components/messages/say.ts";
import { TaskNote } from "../../components/messages/TaskNote.tsx";
import { useLongTask } from "../../store/page/use-long-task.ts";
import { keepKit, keptKit, STAND_IN_KIT } from "../../store/playback/kit-choice.ts";
import {
  BODY_LIMITS,
  type BroughtIn,
  bringInArchive,
  importFile,
  type Problem,
  ServerProblem,
} from "../../store/server-api.ts";

type State =
  | { readonly kind: "idle" }
  | { readonly kind: "reading"; readonly fileName: string }
  | { readonly kind: "refused"; readonly fileName: string; readonly problem: Problem };

/** Takes a recording by drop, anywhere on the page, or by choosing a file, and opens it on the Bench. */
export function DropPlace({ onBroughtIn }: { onBroughtIn: () => void }) {
  const router = useRouter();
  const input = useRef<HTMLInputElement>(null);
  const [state, setState] = useState<State>({ kind: "idle" });
  const [isOver, setIsOver] = useState(false);
  const task = useLongTask();

  const take = async (file: File) => {
    const isArchive = /\.zip$/i.test(file.name);
    const refuse = (problem: Problem) => setState({ kind: "refused", fileName: file.name, problem });
    const limit = isArchive ? BODY_LIMITS.archive : BODY_LIMITS.take;
    if (file.size > limit) return refuse(tooLarge(file.size, limit, isArchive));
    setState({ kind: "reading", fileName: file.name });
    try {
      // It is still said while the Bench comes.
      const isLeaving = isArchive ? await takeArchive(file) : await takeRecording(file);
      if (!isLeaving) setState({ kind: "idle" });
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      refuse(error.problem);
    }
  };

  /** Returns whether another screen is on its way. */
  const takeRecording = async (file: File): Promise<boolean> => {
    const imported = await task.run((handle) => importFile(file, handle));
    if (imported) router.push(`/bench/${imported.id}`);
    return imported !== null;
  };

  const takeArchive = async (file: File): Promise<boolean> => {
    const came = await task.run((handle) => bringInArchive(file, handle));
    if (!came) return false;
    // Nothing is overwritten: a kit that was chosen here stays.
    const [kit] = keptKit() === STAND_IN_KIT ? came.kits : [];
    if (kit) keepKit(kit);
    say(broughtInWords(came, kit ? 1 : 0));
    onBroughtIn();
    return false;
  };

  useFileDrop(setIsOver, (file) => void take(file));

  return (
    <section aria-label="Import" className="flex flex-col gap-3">
      <div
        className={clsx(
          "rounded-2xl border-2 border-dashed border-spruce p-6",
          isOver ? "bg-amber-tint" : "bg-spruce-tint",
        )}
      >
        <h2 className="text-title font-bold">{isOver ? "Let go to import" : "Drop a recording here"}</h2>
        <p className="mt-1.5 mb-4 text-muted">
          A MIDI file from pads, keys or an electronic kit, up to 16 MiB. The file itself is kept as it came. A project
          or a shelf that was exported as a .zip comes in here, too.
        </p>
        <Button kind="main" disabled={state.kind === "reading"} onClick={() => input.current?.click()}>
          {state.kind === "reading" ? `Reading ${state.fileName} …` : "Choose a file"}
        </Button>
        <FileInput
          inputRef={input}
          label="Recording to import"
          accept={`${MIDI_ACCEPT},.zip,application/zip`}
          onFile={(file) => void take(file)}
        />
      </div>
      {state.kind === "reading" && task.state && (
        <TaskNote what={`Reading ${state.fileName}`} state={task.state} onCancel={task.cancel} />
      )}
      {state.kind === "refused" && <ProblemNote title={`${state.fileName} was not imported`} problem={state.problem} />}
    </section>
  );
}

/** Listens for files dragged over the whole page, so that a near miss does not open the file in the browser. */
function useFileDrop(onOver: (isOver: boolean) => void, onFile: (file: File) => void) {
  const handlers = useRef({ onOver, onFile });
  handlers.current = { onOver, onFile };
  useEffect(() => {
    const over = (event: DragEvent) => {
      event.preventDefault();
      handlers.current.onOver(true);
    };
    const leave = (event: DragEvent) => {
      if (event.relatedTarget === null) handlers.current.onOver(false);
    };
    const drop = (event: DragEvent) => {
      event.preventDefault();
      handlers.current.onOver(false);
      const file = event.dataTransfer?.files[0];
      if (file) handlers.current.onFile(file);
    };
    document.addEventListener("dragover", over);
    document.addEventListener("dragleave", leave);
    document.addEventListener("drop", drop);
    return () => {
      document.removeEventListener("dragover", over);
      document.removeEventListener("dragleave", leave);
      document.removeEventListener("drop", drop);
    };
  }, []);
}

function broughtInWords({ projects, twins, kept }: BroughtIn, kitCount: number): string {
  const projectWords = (count: number) => `${count} ${count === 1 ? "project" : "projects"}`;
  const others = kept + kitCount;
  const parts = [
    `Brought in ${projectWords(projects.length)}`,
    ...(others > 0 ? [`${others} other ${others === 1 ? "thing" : "things"} for the shelf`] : []),
    ...(twins > 0 ? [`${projectWords(twins)} ${twins === 1 ? "was" : "were"} here already`] : []),
  ];
  return `${parts.join("; ")}.`;
}

function tooLarge(size: number, limit: number, isArchive: boolean): Problem {
  return {
    code: "upload.tooLarge",
    message: `It is ${Math.ceil(size / 1024 / 1024)} MiB; the limit is ${limit / 1024 / 1024} MiB.`,
    remedy: isArchive
      ? "Export it in parts: single projects from the Bench, and the rest of the shelf without them."
      : "A MIDI recording of an hour is far smaller. Check that it is the right file, or split it.",
  };
}
