import { useStore } from "zustand";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { MEASURED_STROKES } from "../../../core/record/index.ts";
import { useBench } from "../../../store/bench/bench-context.ts";
import { changePlayIn, PLAY_IN_LIMITS } from "../../../store/playin/play-in-state.ts";

const WIDTH = 220;
const HEIGHT = 34;
/** The picture shows so much on either side. */
const MOST_MS = 120;

const nothing = () => {};

/** How late the input is that is played on, and the way to measure it. */
export function MeasureInput() {
  const { recording } = useBench();
  const { measuring, lastInput, settings } = useStore(recording.state);
  const setLate = (input: string, ms: number) =>
    changePlayIn(recording.state, { lateMs: { ...settings.lateMs, [input]: Math.round(ms * 2) / 2 } });
  const link = "font-bold underline decoration-dotted underline-offset-4 hover:bg-spruce-tint";
  if (measuring?.kind === "striking") {
    return (
      <p className="mt-2 text-small" role="status">
        Strike with the click: <strong>{measuring.strokes}</strong> of {MEASURED_STROKES}.{" "}
        <button type="button" className={link} onClick={() => recording.measure.cancel()}>
          Leave it
        </button>
      </p>
    );
  }
  if (measuring?.kind === "done") {
    const { input, result } = measuring;
    return (
      <div className="mt-2 text-small" role="status">
        <Offsets offsetsMs={result.offsetsMs} middleMs={"latencyMs" in result ? result.latencyMs : null} />
        {"problem" in result ? (
          <p>{result.problem}</p>
        ) : (
          <p>
            Input from {input} comes <strong>{words(result.latencyMs)}</strong>, within ±&nbsp;
            {Math.round(result.spreadMs)}&nbsp;ms.{" "}
            <button
              type="button"
              className={link}
              onClick={() => {
                setLate(input, result.latencyMs);
                recording.measure.cancel();
              }}
            >
              Take it off
            </button>
          </p>
        )}{" "}
        <button type="button" className={link} onClick={() => void recording.measure.start()}>
          Measure again
        </button>{" "}
        <button type="button" className={link} onClick={() => recording.measure.cancel()}>
          Leave it
        </button>
      </div>
    );
  }
  return (
    <p className="mt-2 text-small text-muted">
      {lastInput ? (
        <>
          Input from {lastInput} is heard{" "}
          <SentenceNumber
            {...PLAY_IN_LIMITS.lateMs}
            value={settings.lateMs[lastInput] ?? 0}
            usual={0}
            say={words}
            onPreview={nothing}
            onCommit={(ms) => setLate(lastInput, ms)}
            onCancel={nothing}
          />
          {" and put back by that. "}
        </>
      ) : (
        "How late each input is can be taken off. "
      )}
      <button type="button" className={link} onClick={() => void recording.measure.start()}>
        Measure
      </button>
    </p>
  );
}

function words(ms: number): string {
  const rounded = Math.round(ms * 2) / 2;
  return rounded === 0 ? "in time" : `${Math.abs(rounded)} ms ${rounded > 0 ? "late" : "early"}`;
}

/** Each stroke as a line, by how late it came; the middle of them in spruce. */
function Offsets({ offsetsMs, middleMs }: { offsetsMs: readonly number[]; middleMs: number | null }) {
  const x = (ms: number) => WIDTH / 2 + (Math.max(-MOST_MS, Math.min(MOST_MS, ms)) / MOST_MS) * (WIDTH / 2 - 4);
  return (
    <svg
      role="img"
      aria-label={`${offsetsMs.length} strokes, early to the left, late to the right`}
      width={WIDTH}
      height={HEIGHT}
      className="mb-1 block"
    >
      <line x1={4} x2={WIDTH - 4} y1={HEIGHT - 6} y2={HEIGHT - 6} stroke="var(--hairline-strong)" />
      <line x1={WIDTH / 2} x2={WIDTH / 2} y1={2} y2={HEIGHT - 2} stroke="var(--ink)" />
      {offsetsMs.map((ms, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: strokes have no names, and never change places
        <line key={index} x1={x(ms)} x2={x(ms)} y1={9} y2={HEIGHT - 6} stroke="var(--amber)" strokeWidth={2} />
      ))}
      {middleMs !== null && (
        <line x1={x(middleMs)} x2={x(middleMs)} y1={2} y2={HEIGHT - 2} stroke="var(--spruce)" strokeWidth={3} />
      )}
    </svg>
  );
}
