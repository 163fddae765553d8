import { type ChangeEvent, useRef, useState } from "react";
import { MIDI_ACCEPT } from "../../components/FileInput.tsx";
import { say } from "../../components/messages/say.ts";
import { TaskNote } from "../../components/messages/TaskNote.tsx";
import { useFocusBack } from "../../components/page/use-focus-back.ts";
import { counted } from "../../core/ordinal.ts";
import type { AddedFiles, UnreadFile } from "../../store/patterns/pattern-files.ts";
import type { PatternShelf } from "../../store/patterns/use-pattern-shelf.ts";
import { useSeeking } from "../../store/playback/use-seeking.ts";
import { type Problem, ServerProblem } from "../../store/server-api.ts";

/** Puts files of others onto the shelf of patterns, how far that is, and what could not be read. */
export function ShelfFiles({ shelf }: { shelf: PatternShelf }) {
  const { isRunning, share, run, cancel } = useSeeking();
  useFocusBack(share !== null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const take = async (event: ChangeEvent<HTMLInputElement>) => {
    const files = [...(event.target.files ?? [])];
    event.target.value = "";
    if (files.length === 0 || isRunning) return;
    setProblem(null);
    try {
      say(wordsOf(await run((goesOn) => shelf.add(files, goesOn))));
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
    }
  };
  const trouble = "border-b border-hairline px-4 py-1.5 text-small text-brick";
  return (
    <>
      <div className="flex items-center gap-4 border-b border-hairline px-4 py-1 text-small">
        {/* They stay, so that the focus does. */}
        <FilesButton name="Add files" isIdle={!isRunning} onFiles={(event) => void take(event)} />
        <FilesButton name="Add a folder" isFolder isIdle={!isRunning} onFiles={(event) => void take(event)} />
        {share === null ? (
          <span className="text-muted">of .mid, to be found by knocking</span>
        ) : (
          <div className="flex-1">
            <TaskNote what="Reading the files" state={{ kind: "running", done: share, of: 1 }} onCancel={cancel} />
          </div>
        )}
      </div>
      {problem && (
        <p role="alert" className={trouble}>
          {problem.message} {problem.remedy}
        </p>
      )}
      {shelf.unread.length > 0 && (
        <div role="alert" className={trouble}>
          <Unread unread={shelf.unread} onClose={shelf.forgetUnread} />
        </div>
      )}
    </>
  );
}

interface FilesButtonProps {
  readonly name: string;
  readonly isFolder?: boolean;
  /** Whether some can be chosen now. */
  readonly isIdle: boolean;
  readonly onFiles: (event: ChangeEvent<HTMLInputElement>) => void;
}

/** The browser's choice of files, or of a folder with all that is in it. */
function FilesButton({ name, isFolder = false, isIdle, onFiles }: FilesButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <button
        type="button"
        aria-disabled={!isIdle}
        className="font-bold whitespace-nowrap text-spruce underline aria-disabled:text-muted"
        onClick={() => isIdle && input.current?.click()}
      >
        {name} …
      </button>
      <input
        ref={(element) => {
          input.current = element;
          if (element) element.webkitdirectory = isFolder;
        }}
        type="file"
        multiple
        accept={MIDI_ACCEPT}
        aria-label={isFolder ? "Folder of patterns" : "Files of patterns"}
        className="sr-only"
        tabIndex={-1}
        onChange={onFiles}
      />
    </>
  );
}

/** Which could not be read, and why, behind one line. */
function Unread({ unread, onClose }: { unread: readonly UnreadFile[]; onClose: () => void }) {
  return (
    <div className="flex items-start gap-4">
      <details className="min-w-0 flex-1">
        <summary className="cursor-pointer">
          {unread.length.toLocaleString("en")} could not be read: {unread.length === 1 ? "its" : "their"} patterns are
          missing.
        </summary>
        <ul className="max-h-40 overflow-y-auto pl-4 text-ink">
          {unread.map(({ path, why }) => (
            <li key={path}>
              <strong>{path}</strong>: {why}
            </li>
          ))}
        </ul>
      </details>
      <button type="button" className="font-bold underline" onClick={onClose}>
        Close
      </button>
    </div>
  );
}

function wordsOf({ added, known, patterns, unread, wasCancelled }: AddedFiles): string {
  if (added + known + unread.length === 0 && !wasCancelled) return "There is no MIDI file among those.";
  const parts = [
    `Added ${counted(patterns, "pattern")} of ${counted(added, "file")}.`,
    known > 0 && `${counted(known, "file")} ${known === 1 ? "was" : "were"} there already.`,
    wasCancelled && "The rest was left.",
  ];
  return parts.filter(Boolean).join(" ");
}
