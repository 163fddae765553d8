import { RadioGroup } from "radix-ui";
import { useMemo, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { Hint } from "../../../components/Hint.tsx";
import { Refusal } from "../../../components/messages/Refusal.tsx";
import { PageLink } from "../../../components/page/PageLink.tsx";
import { Sheet } from "../../../components/page/Sheet.tsx";
import { setNoteMap } from "../../../core/commands/index.ts";
import { findVoice } from "../../../core/document/index.ts";
import {
  describeExport,
  type OutgoingVoice,
  strayNotes,
  TRACK_LAYOUTS,
  type TrackLayout,
} from "../../../core/file/index.ts";
import { GENERAL_MIDI, setOutgoing } from "../../../core/notemap/index.ts";
import { counted } from "../../../core/ordinal.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { keepWord, readWord } from "../../../store/project/browser-store.ts";
import { exportPath, projectArchivePath } from "../../../store/server-api.ts";
import { type FileTask, FileTaskNote } from "../../page/file-task.tsx";

interface ExportSheetProps {
  readonly task: FileTask;
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
export function ExportSheet({ task, isOpen, onOpenChange }: ExportSheetProps) {
  return (
    <Sheet
      title="Export"
      lead="A Standard MIDI File with the cleaned hits. Everything that was not drums goes out as it came in."
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    >
      {isOpen && <ExportForm task={task} onDone={() => onOpenChange(false)} />}
    </Sheet>
  );
}

function ExportForm({ task, onDone }: { task: FileTask; onDone: () => void }) {
  const pattern = useBenchState((state) => state.pattern);
  const projectId = useBenchState((state) => state.project.id);
  // A drum without hits sends nothing out.
  const voices = useMemo(
    () =>
      describeExport(pattern).filter(
        ({ hitCount, mutedCount, unplayedCount }) => hitCount + mutedCount + unplayedCount > 0,
      ),
    [pattern],
  );
  const [layout, setLayout] = useState(() => TRACK_LAYOUTS.find((one) => one === readWord(LAYOUT_KEY)) ?? "asRecorded");
  const { problem } = task;
  const save = async (path: string) => {
    if (await task.save(path)) onDone();
  };
  const sum = (count: (voice: OutgoingVoice) => number) => voices.reduce((total, voice) => total + count(voice), 0);
  const hits = sum((voice) => voice.hitCount);
  const changed = sum((voice) => voice.changedCount);
  const muted = sum((voice) => voice.mutedCount + voice.unplayedCount);
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
        <PageLink href={`/maps/${projectId}`} className="font-semibold text-spruce underline">
          Another kit
        </PageLink>
      </p>
      <table className="mt-3 w-full text-left text-small [&_td]:py-1">
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
                {voice.unplayedCount > 0 && (
                  <span className="block text-muted">{voice.unplayedCount} played sometimes, and not this time</span>
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
      <Strays />
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
      <div className="mt-3">
        <FileTaskNote task={task} />
      </div>
      {problem && (
        <Refusal className="mt-3">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
    </>
  );
}

/** Notes that were named, and go out as they came: others take them for something else. */
function Strays() {
  const bench = useBench();
  const pattern = useBenchState((state) => state.pattern);
  const strays = useMemo(() => strayNotes(pattern), [pattern]);
  return strays.map(({ meaning, name, note, knownNote, hitCount }) => (
    <p
      key={`${note} ${name}`}
      className="mt-3 flex items-baseline gap-3 rounded-md bg-amber-tint px-3 py-1.5 text-small"
    >
      <span className="min-w-0 flex-1">
        {name}: {counted(hitCount, "hit")} {hitCount === 1 ? "stays" : "stay"} on note {note}
        {knownAs(note)}.
      </span>
      <button
        type="button"
        className="shrink-0 font-semibold text-spruce underline"
        onClick={() => {
          const { store } = bench;
          const { pattern: now } = store.getState();
          const noteMap = setOutgoing(now.noteMap, meaning, { note: knownNote, channel: null });
          store.commit(`Send ${name} as note ${knownNote}`, setNoteMap(now, noteMap));
        }}
      >
        Send {hitCount === 1 ? "it" : "them"} as note {knownNote}
      </button>
    </p>
  ));
}

/** `, which is Guiro elsewhere`. */
function knownAs(note: number): string {
  const known = GENERAL_MIDI.entries.find((entry) => entry.note === note);
  return known ? `, which is ${findVoice(GENERAL_MIDI, known.voiceId).name} in General MIDI` : "";
}

function noteWords({ notes }: OutgoingVoice): string {
  const channels = new Set(notes.map(({ channel }) => channel));
  const list = notes.map(({ note, hitCount }) => (notes.length > 1 ? `${note} (${hitCount})` : `${note}`)).join(", ");
  return `${notes.length === 1 ? "note" : "notes"} ${list}, channel ${[...channels].map((channel) => channel + 1).join(" and ")}`;
}
