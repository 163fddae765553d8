import { Button } from "../../../components/Button.tsx";
import { sayTrouble } from "../../../components/messages/say.ts";
import { Sheet } from "../../../components/page/Sheet.tsx";
import { Toggle } from "../../../components/Toggle.tsx";
import { trackLabel } from "../../../core/document/index.ts";
import { type Bench, useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { setHeard } from "../../../store/project/tones.ts";
import { ServerProblem } from "../../../store/server-api.ts";
import { takeForDrums } from "./take-for-drums.ts";

interface TracksSheetProps {
  readonly isOpen: boolean;
  readonly onOpenChange: (isOpen: boolean) => void;
}

/** Lists what has notes in the file, says what is taken for drums and why, and lets that be changed. */
export function TracksSheet({ isOpen, onOpenChange }: TracksSheetProps) {
  const bench = useBench();
  const streams = useBenchState((state) => state.pattern.streams);
  const heardTones = useBenchState((state) => state.heardTones);
  const fileName = useBenchState((state) => state.project.fileName);
  return (
    <Sheet
      title="Tracks of the take"
      lead={`Drums come to the Bench. Everything else in ${fileName} stays as it is and goes out again untouched.`}
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    >
      <ul className="flex flex-col">
        {streams.map((stream, index) => (
          <li
            key={`${stream.trackIndex}:${stream.channel}`}
            className="flex items-center gap-4 border-t border-hairline py-2.5"
          >
            <div className="min-w-0 flex-1">
              <p className="truncate font-bold">{trackLabel(stream)}</p>
              <p className="text-small text-muted">
                {stream.noteCount.toLocaleString("en")} notes on channel {stream.channel + 1}; {stream.reason}
              </p>
            </div>
            {!stream.isDrums && (
              <Button
                kind={heardTones.has(index) ? "main" : "outline"}
                aria-pressed={heardTones.has(index)}
                aria-label={`${heardTones.has(index) ? "Heard" : "Hear"} ${trackLabel(stream)}`}
                className="px-2.5 text-small"
                onClick={() => void hear(bench, index, !heardTones.has(index))}
              >
                {heardTones.has(index) ? "Heard" : "Hear"}
              </Button>
            )}
            <span className="w-16 text-right text-small text-muted">{stream.isDrums ? "drums" : "not drums"}</span>
            <Toggle
              label={`${trackLabel(stream)} is drums`}
              isOn={stream.isDrums}
              onChange={(isDrums) => void takeForDrums(bench, index, isDrums)}
            />
          </li>
        ))}
      </ul>
      {streams.length === 0 && <p className="text-muted">There are no notes in this file.</p>}
    </Sheet>
  );
}

/** Lets a track that is not drums be heard with a simple tone. */
async function hear({ store }: Bench, streamIndex: number, isHeard: boolean): Promise<void> {
  try {
    await setHeard(store, streamIndex, isHeard);
  } catch (error) {
    if (!(error instanceof ServerProblem)) throw error;
    sayTrouble(error.problem);
  }
}
