import type { Family } from "../../core/document/index.ts";
import { endOf, type Rhythm, type RhythmStroke } from "../../core/pattern/index.ts";

/** From above to below, as on a drum staff. */
const ROWS: readonly (readonly Family[])[] = [["cymbals", "hats", "percussion"], ["snare", "toms"], ["kick"]];

interface PatternFinsProps {
  readonly rhythm: Pick<Rhythm, "bars">;
  readonly strokes: readonly (RhythmStroke & { readonly isAdded?: boolean })[];
  /** Strokes that were left out, which stay faintly seen. */
  readonly gone?: readonly RhythmStroke[];
  readonly width: number;
  readonly height: number;
  readonly label: string;
}

/** A pattern as fins, drums over one another. Strokes that were added are outlined and have a mark under the line. */
export function PatternFins({ rhythm, strokes, gone = [], width, height, label }: PatternFinsProps) {
  const length = Math.max(1, endOf(rhythm.bars));
  const rowHeight = height / ROWS.length;
  const x = (quarters: number) => (Math.max(0, quarters) / length) * (width - 8) + 1;
  const finOf = ({ family, quarters, velocity }: RhythmStroke) => {
    const row = ROWS.findIndex((families) => families.includes(family));
    const bottom = (row + 1) * rowHeight - 3;
    const tall = 3 + (velocity / 127) * (rowHeight - 7);
    const at = x(quarters);
    return { at, bottom, path: `M${at} ${bottom}v${-tall}q1.6 ${tall * 0.8} 6.5 ${tall}z` };
  };
  return (
    <svg
      role="img"
      aria-label={label}
      viewBox={`0 0 ${width} ${height}`}
      className="block w-full"
      style={{ height }}
      preserveAspectRatio="none"
    >
      {rhythm.bars.map(({ startQuarters }) => (
        <line
          key={startQuarters}
          x1={x(startQuarters)}
          x2={x(startQuarters)}
          y1={0}
          y2={height}
          stroke="var(--hairline-strong)"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {gone.map((stroke) => {
        const { at, path } = finOf(stroke);
        return (
          <path
            key={`gone ${stroke.hit.id} ${at}`}
            d={path}
            fill="none"
            stroke="var(--muted)"
            strokeDasharray="1.5 1.5"
            strokeWidth={0.8}
          />
        );
      })}
      {strokes.map((stroke) => {
        const { at, bottom, path } = finOf(stroke);
        const { family, quarters, hit, isAdded } = stroke;
        const ink = `var(--${family})`;
        return (
          <g key={`${hit.id} ${quarters}`}>
            <path d={path} fill={isAdded ? "var(--sheet)" : ink} stroke={ink} strokeWidth={isAdded ? 1.2 : 0.4} />
            {isAdded && <rect x={at} y={bottom + 1} width={5} height={2} fill="var(--amber)" />}
          </g>
        );
      })}
    </svg>
  );
}
