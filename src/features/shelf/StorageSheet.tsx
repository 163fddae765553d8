import { useState } from "react";
import { Button } from "../../components/Button.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import { say } from "../../components/messages/say.ts";
import { TaskNote } from "../../components/messages/TaskNote.tsx";
import { Sheet } from "../../components/page/Sheet.tsx";
import { saveBlob } from "../../components/save-text.ts";
import { useLongTask } from "../../store/page/use-long-task.ts";
import { keptKit, STAND_IN_KIT } from "../../store/playback/kit-choice.ts";
import {
  backupPath,
  COPY_PATH,
  fetchArchive,
  makeBackup,
  type Problem,
  restoreBackup,
  ServerProblem,
  type StorageState,
} from "../../store/server-api.ts";
import type { StorageDesk } from "../../store/shelf/use-storage.ts";

interface StorageSheetProps {
  readonly desk: StorageDesk;
  readonly onRestored: () => void;
  readonly onClose: () => void;
}

const REASONS: Readonly<Record<StorageState["backups"][number]["reason"], string>> = {
  day: "daily",
  "before-migration": "before an update",
  "before-restore": "before a restore",
  "by-hand": "made by you",
};

const SORTS = [
  { id: "recipes", name: "Recipes" },
  { id: "chores", name: "Chores" },
  { id: "grooves", name: "Grooves" },
  { id: "maps", name: "Note maps" },
  { id: "kits", name: "Kit layers" },
  { id: "marks", name: "Names and tags of patterns" },
  { id: "patternFiles", name: "Files of patterns" },
] as const;

type SortId = (typeof SORTS)[number]["id"];

/** Backups beside the data and the way back to them, and the whole shelf as one file for another machine. */
export function StorageSheet({ desk, onRestored, onClose }: StorageSheetProps) {
  const { state, problem, attempt } = desk;
  const [chosen, setChosen] = useState<string | null>(null);
  const restore = async (name: string) => {
    if (!(await attempt(() => restoreBackup(name)))) return;
    setChosen(null);
    say("Restored. What was there before is kept among the backups.");
    onRestored();
  };
  const link = "font-semibold text-spruce underline";
  return (
    <Sheet
      title="Back up and move"
      lead={state ? `Your work is in ${state.folder}.` : "Looking …"}
      isOpen
      onOpenChange={(isOpen) => !isOpen && onClose()}
    >
      <section aria-label="Backups">
        <h3 className="font-bold">Backups</h3>
        <p className="text-small text-muted">
          A whole copy is made every day and before every update. The last 10 daily ones stay, and all that you make.
        </p>
        <p className="mt-2 flex flex-wrap items-center gap-4">
          <Button onClick={() => void attempt(makeBackup).then((isMade) => isMade && say("Made a backup."))}>
            Back up now
          </Button>
          <a className={link} href={COPY_PATH} download>
            Download a copy
          </a>
        </p>
        {problem && (
          <Refusal className="mt-2">
            {problem.message} {problem.remedy}
          </Refusal>
        )}
        <ul aria-label="Backups, the newest first" className="mt-3 max-h-56 overflow-y-auto text-base">
          {state?.backups.map(({ name, reason, madeAt, bytes }) => (
            <li key={name} aria-label={name} className="border-t border-hairline py-1.5">
              <p className="flex flex-wrap items-baseline gap-x-4">
                <time dateTime={madeAt} className="font-bold tabular-nums">
                  {new Date(madeAt).toLocaleString("en", { dateStyle: "medium", timeStyle: "medium" })}
                </time>
                <span className="flex-1 text-muted">
                  {REASONS[reason]}, {(bytes / 1024 / 1024).toFixed(1)} MiB
                </span>
                <a className={link} href={backupPath(name)} download>
                  Download
                </a>
                <button type="button" className={link} onClick={() => setChosen(chosen === name ? null : name)}>
                  Restore …
                </button>
              </p>
              {chosen === name && (
                <div role="alert" className="mt-1.5 flex flex-wrap items-center gap-3 rounded-lg bg-amber-tint p-2.5">
                  <p className="min-w-0 flex-1">
                    Everything goes back to how it was then. What is there now is kept as another backup.
                  </p>
                  <Button kind="main" onClick={() => void restore(name)}>
                    Restore it
                  </Button>
                  <Button onClick={() => setChosen(null)}>Cancel</Button>
                </div>
              )}
            </li>
          ))}
          {state?.backups.length === 0 && <li className="py-1.5 text-muted">There is none yet.</li>}
        </ul>
      </section>
      <MoveSection />
    </Sheet>
  );
}

function leftOut(count: number): Problem {
  return {
    code: "archive.leftOut",
    message: `${count === 1 ? "1 project is" : `${count} projects are`} damaged on the disk and not in the file.`,
    remedy: "Restore a backup from before to have them back.",
  };
}

/** The shelf as one file, to be dropped on the Shelf of another machine. */
function MoveSection() {
  const [hasProjects, setHasProjects] = useState(true);
  const [sorts, setSorts] = useState<ReadonlySet<SortId>>(new Set(SORTS.map(({ id }) => id)));
  const [problem, setProblem] = useState<Problem | null>(null);
  const task = useLongTask();
  const write = async () => {
    setProblem(null);
    const kit = keptKit();
    const kits = kit === STAND_IN_KIT ? [] : [kit];
    try {
      const wish = { projectIds: hasProjects ? null : [], sorts: [...sorts], kits };
      const made = await task.run((handle) => fetchArchive(wish, handle));
      if (!made) return;
      saveBlob(made.name, made.blob);
      if (made.leftOutCount > 0) setProblem(leftOut(made.leftOutCount));
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setProblem(error.problem);
    }
  };
  const check = (name: string, isChecked: boolean, onChange: (isChecked: boolean) => void) => (
    <label key={name} className="flex min-h-6 items-center gap-2">
      <input
        type="checkbox"
        className="size-4 accent-spruce"
        checked={isChecked}
        onChange={(event) => onChange(event.target.checked)}
      />
      {name}
    </label>
  );
  return (
    <section aria-label="Move" className="mt-6 border-t border-hairline pt-4">
      <h3 className="font-bold">Move to another machine</h3>
      <p className="text-small text-muted">
        One file with recordings, every edit, undo, versions and songs. Drop it on the Shelf there: nothing is
        overwritten, and what is there already does not come in twice.
      </p>
      <fieldset className="mt-2 flex flex-wrap gap-x-5 gap-y-1">
        <legend className="sr-only">What goes into the file</legend>
        {check("All projects", hasProjects, setHasProjects)}
        {SORTS.map(({ id, name }) =>
          check(name, sorts.has(id), (isChecked) =>
            setSorts(
              new Set(SORTS.flatMap((sort) => ((sort.id === id ? isChecked : sorts.has(sort.id)) ? [sort.id] : []))),
            ),
          ),
        )}
      </fieldset>
      <p className="mt-3">
        <Button
          kind="main"
          disabled={task.state !== null || (!hasProjects && sorts.size === 0)}
          onClick={() => void write()}
        >
          Export as one file
        </Button>
      </p>
      {task.state && (
        <div className="mt-2">
          <TaskNote what="Writing the archive" state={task.state} onCancel={task.cancel} />
        </div>
      )}
      {problem && (
        <Refusal className="mt-2">
          {problem.message} {problem.remedy}
        </Refusal>
      )}
    </section>
  );
}
