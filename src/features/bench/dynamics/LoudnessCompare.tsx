import { roleWord } from "../../../core/document/index.ts";
import { barsThatDiffer, summarizeLoudness } from "../../../core/dynamics/index.ts";
import { useBench } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { showStretch } from "../commands/travel-actions.ts";

const MOST_BARS = 5;

/** Loudness as recorded and as it goes out, role by role, and the bars that differ most. */
export function LoudnessCompare({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const before = summarizeLoudness(lane.recorded.velocities, lane.roles);
  const after = summarizeLoudness(lane.cleaned.velocities, lane.roles);
  const bars = barsThatDiffer(
    lane.recorded.velocities,
    lane.cleaned.velocities,
    lane.cleaned.ticks,
    lane.maps.meterMap,
    MOST_BARS,
  );
  const cell = "py-0.5 pl-1 text-right whitespace-nowrap tabular-nums";
  return (
    <div className="relative mt-2 text-small">
      <table className="w-full text-fine">
        <caption className="sr-only">Loudness as recorded and as cleaned, by role</caption>
        <thead className="text-muted">
          <tr>
            <th className="text-left font-normal">before → now</th>
            <th className={`${cell} font-normal`}>mean</th>
            <th className={`${cell} font-normal`}>spread</th>
            <th className={`${cell} font-normal`}>crest</th>
          </tr>
        </thead>
        <tbody>
          {before.map((was, index) => {
            const now = after[index]!;
            return (
              <tr key={was.role} className="border-t border-hairline">
                <th className="text-left font-normal">
                  {was.count} {roleWord(was.role, was.count)}
                </th>
                <td className={cell}>{pair(was.mean, now.mean, 0)}</td>
                <td className={cell}>{pair(was.spread, now.spread, 1)}</td>
                <td className={cell}>{pair(was.crest, now.crest, 2)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {bars.length > 0 && (
        <p className="mt-1">
          Bars that differ most:{" "}
          {bars.map(({ barIndex, startTick, endTick, meanChange }, index) => (
            <span key={barIndex}>
              {index > 0 && ", "}
              <button
                type="button"
                className="underline decoration-dotted"
                onClick={() => showStretch(bench, startTick, endTick)}
              >
                {barIndex + 1} ({meanChange > 0 ? "+" : "−"}
                {Math.abs(Math.round(meanChange))})
              </button>
            </span>
          ))}
        </p>
      )}
    </div>
  );
}

/** `84→70`, or one number where both are the same. */
function pair(before: number, after: number, digits: number): string {
  const [was, now] = [before.toFixed(digits), after.toFixed(digits)];
  return was === now ? now : `${was}→${now}`;
}
