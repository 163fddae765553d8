import { extent, line, max, scaleLinear } from "d3";
import { useBenchState } from "../../store/bench/bench-context.ts";
import type { SongDesk } from "../../store/playback/use-song.ts";
import { arrangementOf, countOf, takeBars } from "./song-actions.ts";

const WIDTH = 290;
const HEIGHT = 96;
const MARGIN = { left: 30, right: 4, top: 6, bottom: 16 } as const;
/** More than these on one chart tell nothing apart. */
const MOST = 4;
const DASHES = ["", "6 3", "2 2", "8 2 2 2"] as const;

interface ProfileChartProps {
  readonly desk: SongDesk;
  readonly voiceId: string;
  readonly patternIds: readonly string[];
}

/** How one voice sits in the bars of a pattern, or of several laid over one another: ms off the grid, late above. */
export function ProfileChart({ desk, voiceId, patternIds }: ProfileChartProps) {
  const { patterns } = useBenchState((state) => arrangementOf(state.shown));
  const side = useBenchState((state) => state.side);
  const take = useBenchState((state) => state.pattern);
  const maps = useBenchState((state) => state.maps);
  const shown = patternIds.slice(0, MOST).flatMap((id) => {
    const pattern = patterns.find((one) => one.id === id);
    const profile = desk.sheetOf(id)?.cells.find((cell) => cell.voiceId === voiceId)?.profile;
    return pattern && profile && profile.quarters.length > 0 ? [{ pattern, profile }] : [];
  });
  if (shown.length === 0) return <p className="mt-2 text-small text-muted">It is not played there.</p>;
  const isRecorded = side === "recorded";
  const valuesOf = ({ profile }: (typeof shown)[number]) => (isRecorded ? profile.recordedMs : profile.cleanedMs);
  const all = shown.flatMap(({ profile }) => [...profile.recordedMs, ...profile.cleanedMs]);
  const [lowest = 0, highest = 0] = extent(all);
  const reach = Math.max(6, Math.ceil(Math.max(-lowest, highest)));
  const { beats, lengthQuarters } = countOf(
    takeBars({ pattern: take, maps }),
    shown.map(({ pattern }) => pattern),
    take.ppq,
  );
  const longest = Math.max(lengthQuarters, max(shown.flatMap(({ profile }) => profile.quarters)) ?? 0);
  const x = scaleLinear([0, longest], [MARGIN.left, WIDTH - MARGIN.right]);
  const y = scaleLinear([-reach, reach], [HEIGHT - MARGIN.bottom, MARGIN.top]);
  const curve = (quarters: readonly number[]) =>
    line<number>()
      .x((_, at) => x(quarters[at]!))
      .y((ms) => y(ms));
  const names = shown.map(({ pattern }) => pattern.name).join(", ");
  return (
    <figure className="mt-2">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="img" aria-label={`How it sits in ${names}`}>
        {beats.map((quarter, beat) => (
          <g key={quarter}>
            <line
              x1={x(quarter)}
              x2={x(quarter)}
              y1={MARGIN.top}
              y2={HEIGHT - MARGIN.bottom}
              stroke="var(--hairline)"
            />
            <text x={x(quarter) + 2} y={HEIGHT - 4} fontSize={12} fill="var(--muted)">
              {beat + 1}
            </text>
          </g>
        ))}
        <line x1={MARGIN.left} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--ink)" />
        {[reach, -reach].map((ms) => (
          <text key={ms} x={0} y={y(ms) + 4} fontSize={12} fill="var(--muted)">
            {ms > 0 ? `+${ms}` : ms}
          </text>
        ))}
        {shown.map((one, index) => {
          const { pattern, profile } = one;
          const values = valuesOf(one);
          return (
            <g key={pattern.id}>
              {shown.length === 1 && !isRecorded && (
                <path
                  d={curve(profile.quarters)(profile.recordedMs) ?? ""}
                  fill="none"
                  stroke="var(--muted)"
                  strokeDasharray="2 2"
                />
              )}
              <path
                d={curve(profile.quarters)(values) ?? ""}
                fill="none"
                stroke={`var(--${pattern.colour})`}
                strokeWidth={1.8}
                strokeDasharray={DASHES[index]}
              />
              {profile.quarters.map((quarter, at) => (
                <circle key={quarter} cx={x(quarter)} cy={y(values[at]!)} r={2.4} fill={`var(--${pattern.colour})`} />
              ))}
            </g>
          );
        })}
      </svg>
      <figcaption className="text-fine text-muted">
        ms off the grid through the bar, late above, {isRecorded ? "as recorded" : "cleaned"}
        {shown.length === 1 && !isRecorded && "; dotted as recorded"}
        {shown.length > 1 && (
          <span className="mt-0.5 flex flex-wrap gap-x-3">
            {shown.map(({ pattern }, index) => (
              <span key={pattern.id} className="flex items-center gap-1">
                <svg width={22} height={8} aria-hidden="true">
                  <line
                    x1={0}
                    x2={22}
                    y1={4}
                    y2={4}
                    stroke={`var(--${pattern.colour})`}
                    strokeWidth={2}
                    strokeDasharray={DASHES[index]}
                  />
                </svg>
                {pattern.name}
              </span>
            ))}
            {patternIds.length > MOST && (
              <span>
                the first {MOST} of {patternIds.length}
              </span>
            )}
          </span>
        )}
      </figcaption>
    </figure>
  );
}
