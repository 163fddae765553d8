import { Sheet } from "../../components/Sheet.tsx";
import { saveBlob } from "../../components/save-text.ts";
import { say, sayTrouble } from "../../components/say.ts";
import { TaskNote } from "../../components/TaskNote.tsx";
import { useBench, useBenchState } from "../../store/bench-context.ts";
import { fetchFile, ServerProblem, songPath } from "../../store/server-api.ts";
import { useLongTask } from "../../store/use-long-task.ts";
import { arrangementOf } from "./song-actions.ts";

interface SongExportProps {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}

const LINK =
  "inline-flex rounded-lg border-[1.5px] border-spruce px-3.5 py-1 font-semibold text-spruce hover:bg-spruce-tint";

/** Writes the song as one file with markers, or every pattern as a file of its own. */
export function SongExport({ isOpen, onOpenChange }: SongExportProps) {
  const { store } = useBench();
  const projectId = useBenchState((state) => state.project.id);
  const { patterns, song } = useBenchState((state) => arrangementOf(state.pattern));
  const task = useLongTask();
  const bars = song.reduce(
    (sum, { patternId, repeats }) => sum + repeats * (patterns.find(({ id }) => id === patternId)?.bars.length ?? 0),
    0,
  );
  const write = async (form: "song" | "each") => {
    // What is written is what is on disk.
    if (!(await store.saved())) {
      say("Not everything is saved yet. Try again when the page says Saved.");
      return;
    }
    try {
      const made = await task.run((handle) => fetchFile(songPath(projectId, form === "each" ? { form } : {}), handle));
      if (!made) return;
      saveBlob(made.name, made.blob);
      onOpenChange(false);
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      sayTrouble(error.problem);
    }
  };
  return (
    <Sheet
      title="Export the song"
      lead="Cleaned hits, a track for each voice, on the notes of the outgoing map, with the hat pedal and hands that choke. Drums only: other tracks go out with the take, from the Bench."
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    >
      <p>
        The song plays {song.length} {song.length === 1 ? "pattern" : "patterns"} in {bars}{" "}
        {bars === 1 ? "bar" : "bars"}. Each begins with a marker of its name.
      </p>
      <p className="mt-4 flex flex-wrap gap-3">
        <button type="button" className={LINK} disabled={song.length === 0} onClick={() => void write("song")}>
          One file with markers
        </button>
        <button type="button" className={LINK} disabled={patterns.length === 0} onClick={() => void write("each")}>
          A file for each of {patterns.length} patterns
        </button>
      </p>
      {task.state && (
        <div className="mt-3">
          <TaskNote what="Writing the song" state={task.state} onCancel={task.cancel} />
        </div>
      )}
    </Sheet>
  );
}
