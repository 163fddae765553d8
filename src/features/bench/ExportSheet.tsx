import Link from "next/link";
import { RadioGroup } from "radix-ui";
import { useMemo, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { Hint } from "../../components/Hint.tsx";
import { Refusal } from "../../components/Refusal.tsx";
import { Sheet } from "../../components/Sheet.tsx";
import { saveBlob } from "../../components/save-text.ts";
import { TaskNote } from "../../components/TaskNote.tsx";
import { describeExport, type OutgoingVoice, TRACK_LAYOUTS, type TrackLayout } from "../../core/file/index.ts";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import { keepWord, readWord } from "../../store/browser-store.ts";
import { exportPath, fetchFile, type Problem, projectArchivePath, ServerProblem } from "../../store/server-api.ts";
import { useLongTask } from "../../store/use-long-task.ts";

interface ExportSheetProps {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}

const LAYOUT_WORDS: Readonly<Record<TrackLayout, string>> = {
  asRecorded: "Tracks as they came",
  merged: "All drums on one track",
  perVoice: "A track for each drum",
};
const LAYOUT_KEY = "marten.exportLayout";

/** Shows what will be written before it is written: where each voice goes, and how much of it has changed. */
export function ExportSheet({ isOpen, onOpenChange }: ExportSheetProps) {
  return (
    <Sheet
      title="Export"
      lead="A Standard MIDI File with the cleaned hits. Everything that was not drums goes out as it came in."
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    >
      {isOpen && <ExportForm onDone={() => onOpenChange(false)} />}
    </Sheet>
  );
}

const NOT_SAVED: Problem = {
  code: "export.unsaved",
  message: "Your last changes are not saved yet, and the file would miss them.",
  remedy: "Export again when it says “Saved”.",
};

function ExportForm({ onDone }: { onDone: () => void }) {
  const bench = useBench();
  const pattern = useBenchState((state) => state.pattern);
  const projectId = useBenchState((state) => state.project.id);
  // A drum without hits sends nothing out.
  const voices = useMemo(
    () => describeExport(pattern).filter(({ hitCount, mutedCount }) => hitCount + mutedCount > 0),
    [pattern],
  );
  const [layout, setLayout] = useState(() => TRACK_LAYOUTS.find((one) => one === readWord(LAYOUT_KEY)) ?? "asRecorded");
  const task = useLongTask();
  const [problem, setProblem] = useState<Problem | null>(null);
  /** The file is written from what is saved, so everything is saved first. */
  const save = async (path: string) => {
    setProblem(null);
    if (!(await bench.store.saved())) return setProblem(NOT_SAVED);
    try {
      const made = await task.run((handle) => fetchFile(path, handle));
      if (!made) return;
      saveBlob(made.name, made.blob);
      onDone();
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
    }
  };
  const sum = (count: (voice: OutgoingVoice) => number) => voices.reduce((total, voice) => total + count(voice), 0);
  const hits = sum((voice) => voice.hitCount);
  const changed = sum((voice) => voice.changedCount);
  const muted = sum((voice) => voice.mutedCount);
  return (
    <>
      <RadioGroup.Root
        aria-label="Tracks"
        value={layout}
        onValueChange={(value) => {
          keepWord(LAYOUT_KEY, value);
          setLayout(value as TrackLayout);
        }}
        className="flex flex-wrap gap-x-6 gap-y-1"
      >
        {TRACK_LAYOUTS.map((one) => (
          <div key={one} className="flex items-center gap-2">
            <RadioGroup.Item
              id={`layout-${one}`}
              value={one}
              className="grid size-4 place-items-center rounded-full border-[1.5px] border-edge data-[state=checked]:border-spruce"
            >
              <RadioGroup.Indicator className="size-2 rounded-full bg-spruce" />
            </RadioGroup.Item>
            <label htmlFor={`layout-${one}`}>{LAYOUT_WORDS[one]}</label>
          </div>
        ))}
      </RadioGroup.Root>
      <p className="mt-3">
        {pattern.outgoingMap ? (
          <>
            It goes out to <strong>{pattern.outgoingMap.name}</strong>.
          </>
        ) : (
          "Hits go out on the notes they came in on."
        )}{" "}
        <Link href={`/maps/${projectId}`} className="font-semibold text-spruce underline">
          Another kit
        </Link>
      </p>
      <table className="mt-3 w-full text-left text-[13px] [&_td]:py-1">
        <thead className="text-muted">
          <tr>
            <th className="py-1 font-normal">Drum</th>
            <th className="font-normal">goes out on</th>
            <th className="text-right font-normal">hits</th>
            <th className="text-right font-normal">changed</th>
          </tr>
        </thead>
        <tbody>
          {voices.map((voice) => (
            <tr key={voice.voiceId} className="border-t border-hairline align-top">
              <td className="font-bold">{voice.name}</td>
              <td>
                {noteWords(voice)}
                {voice.mutedCount > 0 && (
                  <span className="block text-muted">
                    {voice.mutedCount} muted {voice.mutedCount === 1 ? "hit is" : "hits are"} left out
                  </span>
                )}
                {voice.fallbacks.length > 0 && (
                  <span className="block text-amber-text">{voice.fallbacks.join("; ")}</span>
                )}
              </td>
              <td className="text-right">{voice.hitCount.toLocaleString("en")}</td>
              <td className="text-right">{voice.changedCount.toLocaleString("en")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-4 flex items-center gap-4">
        <Button kind="main" disabled={task.state !== null} onClick={() => void save(exportPath(projectId, layout))}>
          Save the file
        </Button>
        <Hint text="The recording, every edit with its undo, versions and the song, to be dropped on the Shelf of another machine.">
          <Button disabled={task.state !== null} onClick={() => void save(projectArchivePath(projectId))}>
            The whole project
          </Button>
        </Hint>
        <span className="text-muted">
          {changed + muted === 0
            ? "Nothing has been changed: this is the recording."
            : `${changed.toLocaleString("en")} of ${hits.toLocaleString("en")} hits changed.`}
        </span>
      </p>
      {task.state && (
        <div className="mt-3">
          <TaskNote what="Writing the file" state={task.state} onCancel={task.cancel} />
        </div>
      )}
      {problem && (
        <Refusal className="mt-3">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
    </>
  );
}

function noteWords({ notes }: OutgoingVoice): string {
  const channels = new Set(notes.map(({ channel }) => channel));
  const list = notes.map(({ note, hitCount }) => (notes.length > 1 ? `${note} (${hitCount})` : `${note}`)).join(", ");
  return `${notes.length === 1 ? "note" : "notes"} ${list}, channel ${[...channels].map((channel) => channel + 1).join(" and ")}`;
}
