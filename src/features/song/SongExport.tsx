import { Refusal } from "../../components/messages/Refusal.tsx";
import { Sheet } from "../../components/page/Sheet.tsx";
import { useBenchState } from "../../store/bench/bench-context.ts";
import { songPath } from "../../store/server-api.ts";
import { FileTaskNote, FileTaskNotice, useFileTask } from "../page/file-task.tsx";
import { arrangementOf } from "./song-actions.ts";

interface SongExportProps {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}

const LINK =
  "inline-flex rounded-lg border-[1.5px] border-spruce px-3.5 py-1 font-semibold text-spruce hover:bg-spruce-tint";

/** Writes the song as one file with markers, or every pattern as a file of its own. */
export function SongExport({ isOpen, onOpenChange }: SongExportProps) {
  const projectId = useBenchState((state) => state.project.id);
  const { patterns, song } = useBenchState((state) => arrangementOf(state.pattern));
  const task = useFileTask();
  const bars = song.reduce(
    (sum, { patternId, repeats }) => sum + repeats * (patterns.find(({ id }) => id === patternId)?.bars.length ?? 0),
    0,
  );
  const write = async (form: "song" | "each") => {
    if (await task.save(songPath(projectId, form === "each" ? { form } : {}))) onOpenChange(false);
  };
  if (!isOpen) return <FileTaskNotice task={task} />;
  return (
    <Sheet
      title="Export the song"
      lead="Cleaned hits, a track for each voice, on the notes of the outgoing map, with the hat pedal and hands that choke. Drums only: other tracks go out with the take, from the Bench."
      isOpen={isOpen}
      onOpenChange={(willOpen) => {
        task.forgetProblem();
        onOpenChange(willOpen);
      }}
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
      <div className="mt-3">
        <FileTaskNote task={task} />
      </div>
      {task.problem && (
        <Refusal className="mt-3">
          {task.problem.message} {task.problem.remedy}
        </Refusal>
      )}
    </Sheet>
  );
}
