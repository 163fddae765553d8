import { line, scaleLinear } from "d3";
import type { GrooveLayer } from "../core/document/index.ts";

const WIDTH = 276;
const CURVE_HEIGHT = 50;
const BARS_HEIGHT = 26;
const GAP = 6;
/** Offsets are drawn up to this share of a step. */
const WIDEST = 0.35;
const LOUDEST = 1.6;

interface GrooveChartProps {
  readonly layer: GrooveLayer;
  readonly slotsPerQuarter: number;
  /** The ink of the family that follows it. */
  readonly ink: string;
  readonly label: string;
}

/** How a groove sits: its offsets as a curve around the grid, late above, and its accents as bars. Bridged places are hollow. */
export function GrooveChart({ layer: { slots }, slotsPerQuarter, ink, label }: GrooveChartProps) {
  const x = scaleLinear([0, slots.length], [0, WIDTH]);
  const y = scaleLinear([-WIDEST, WIDEST], [CURVE_HEIGHT - 3, 3]);
  const height = scaleLinear([0, LOUDEST], [0, BARS_HEIGHT]);
  const bottom = CURVE_HEIGHT + GAP + BARS_HEIGHT;
  const middleOf = (slot: number) => x(slot + 0.5);
  const clipped = (offset: number) => Math.max(-WIDEST, Math.min(WIDEST, offset));
  const curve = line<number>()
    .x((_, slot) => middleOf(slot))
    .y((offset) => y(clipped(offset)));
  return (
    <svg viewBox={`0 0 ${WIDTH} ${bottom}`} className="mt-1 w-full" role="img" aria-label={label}>
      {slots.map((_, slot) =>
        slot % slotsPerQuarter === 0 ? (
          <line
            // biome-ignore lint/suspicious/noArrayIndexKey: a slot is its place
            key={`beat ${slot}`}
            x1={x(slot)}
            x2={x(slot)}
            y1={0}
            y2={bottom}
            stroke="var(--hairline)"
          />
        ) : null,
      )}
      <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--ink)" strokeWidth="1" />
      <path d={curve(slots.map(({ offset }) => offset)) ?? ""} fill="none" stroke={ink} strokeWidth="1.6" />
      {slots.map(({ offset, accent, hitCount }, slot) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a slot is its place
        <g key={slot}>
          <circle
            cx={middleOf(slot)}
            cy={y(clipped(offset))}
            r={2.4}
            fill={hitCount > 0 ? ink : "var(--sheet)"}
            stroke={ink}
          />
          <rect
            x={x(slot) + x(1) * 0.2}
            width={Math.max(1, x(1) * 0.6)}
            y={bottom - height(Math.min(LOUDEST, accent))}
            height={height(Math.min(LOUDEST, accent))}
            fill={hitCount > 0 ? ink : "var(--sheet)"}
            stroke={ink}
          />
        </g>
      ))}
    </svg>
  );
}
