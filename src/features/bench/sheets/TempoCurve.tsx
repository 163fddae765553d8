import { curveStepAfter, extent, line, scaleLinear } from "d3";
import { type PointerEvent, useRef, useState } from "react";
import { barLengths, type TempoStudy } from "../../../core/tempo/index.ts";

const WIDTH = 620;
const HEIGHT = 190;
const LEFT = 40;
const FOOT = 22;
const NARROWEST_BPM = 8;
const KEY_MS = 5;

interface CurveProps {
  readonly study: TempoStudy;
  /** What the file counts at, for comparison. */
  readonly fileBpm: number;
  /** Moves a beat, by number, so much later than it is. */
  readonly onShift: (beat: number, byMs: number) => void;
}

/**
 * The tempo bar by bar, with the file's own beside it. The line at the end of a bar can be dragged up or down, which makes that
 * bar faster or slower, and the next one the other way: all other bar lines stay.
 */
export function TempoCurve({ study, fileBpm, onShift }: CurveProps) {
  const { beatsMs, beatsPerBar, firstDownbeat } = study;
  const bpms = barLengths(beatsMs, study).map((ms) => 60_000 / ms);
  const svg = useRef<SVGSVGElement>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const drag = useRef<{ readonly bar: number; readonly fromBpm: number } | null>(null);
  const [draft, setDraft] = useState<number | null>(null);
  const [least = 0, most = 0] = extent([...bpms, fileBpm]);
  const [slowest = 0, fastest = 0] = extent(bpms);
  const middle = (least + most) / 2;
  const reach = Math.max(NARROWEST_BPM, (most - least) * 0.6);
  const x = scaleLinear([0, Math.max(1, bpms.length)], [LEFT, WIDTH - 8]);
  const y = scaleLinear([middle - reach, middle + reach], [HEIGHT - FOOT, 8]);
  const path = line<number>()
    .x((_, bar) => x(bar))
    .y((bpm) => y(bpm))
    .curve(curveStepAfter);
  const shown = bpms.map((bpm, bar) => (bar === chosen && draft !== null ? draft : bpm));
  const barAt = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    const at = x.invert(((event.clientX - box.left) / box.width) * WIDTH);
    return Math.max(0, Math.min(bpms.length - 1, Math.floor(at)));
  };
  const bpmAt = (event: PointerEvent) => {
    const box = svg.current!.getBoundingClientRect();
    return y.invert(((event.clientY - box.top) / box.height) * HEIGHT);
  };
  /** The beat that ends a bar; the last bar has none that another one follows. */
  const endBeat = (bar: number) => firstDownbeat + (bar + 1) * beatsPerBar;
  const setBpm = (bar: number, bpm: number) => {
    const byMs = (60_000 / Math.max(20, bpm) - 60_000 / bpms[bar]!) * beatsPerBar;
    const next = bpms[bar + 1];
    // The bar after it gives what this one takes, and keeps at least half of itself.
    const room = next === undefined ? Number.POSITIVE_INFINITY : (60_000 / next) * beatsPerBar * 0.5;
    onShift(endBeat(bar), Math.max(-room, Math.min(room, byMs)));
  };
  const range = [...new Set([slowest, fastest].map(Math.round))].join(" to ");
  const words =
    chosen === null ? `${bpms.length} bars, ${range} bpm` : `Bar ${chosen + 1}: ${shown[chosen]?.toFixed(1)} bpm`;
  return (
    <figure className="mt-3">
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full touch-none rounded-lg border border-hairline bg-paper"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: its bars are chosen and moved by key
        tabIndex={0}
        role="application"
        aria-label={`Tempo by bar. Left and right choose a bar, up and down make it faster or slower. ${words}`}
        onPointerDown={(event) => {
          const bar = barAt(event);
          event.currentTarget.setPointerCapture(event.pointerId);
          setChosen(bar);
          drag.current = { bar, fromBpm: bpmAt(event) };
        }}
        onPointerMove={(event) => {
          if (drag.current) setDraft(bpms[drag.current.bar]! + bpmAt(event) - drag.current.fromBpm);
        }}
        onPointerUp={() => {
          if (drag.current && draft !== null) setBpm(drag.current.bar, draft);
          drag.current = null;
          setDraft(null);
        }}
        onKeyDown={(event) => {
          const bar = chosen ?? 0;
          if (event.key === "ArrowLeft") setChosen(Math.max(0, bar - (chosen === null ? 0 : 1)));
          else if (event.key === "ArrowRight") setChosen(Math.min(bpms.length - 1, bar + (chosen === null ? 0 : 1)));
          else if (event.key === "ArrowUp") onShift(endBeat(bar), -KEY_MS);
          else if (event.key === "ArrowDown") onShift(endBeat(bar), KEY_MS);
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      >
        {y.ticks(5).map((bpm) => (
          <g key={bpm}>
            <line x1={LEFT} x2={WIDTH - 8} y1={y(bpm)} y2={y(bpm)} stroke="var(--hairline)" />
            <text x={LEFT - 6} y={y(bpm) + 4} textAnchor="end" fontSize="12" fill="var(--muted)">
              {bpm}
            </text>
          </g>
        ))}
        {x
          .ticks(Math.min(12, bpms.length))
          .filter((bar) => Number.isInteger(bar) && bar < bpms.length)
          .map((bar) => (
            <text key={bar} x={x(bar) + 2} y={HEIGHT - 6} fontSize="12" fill="var(--muted)">
              {bar + 1}
            </text>
          ))}
        <line
          x1={LEFT}
          x2={WIDTH - 8}
          y1={y(fileBpm)}
          y2={y(fileBpm)}
          stroke="var(--muted)"
          strokeWidth="1.5"
          strokeDasharray="5 4"
        />
        <text x={WIDTH - 12} y={y(fileBpm) - 5} textAnchor="end" fontSize="12" fill="var(--muted)">
          the file counts {Math.round(fileBpm * 10) / 10}
        </text>
        {chosen !== null && shown[chosen] !== undefined && (
          <rect
            x={x(chosen)}
            width={Math.max(2, x(chosen + 1) - x(chosen))}
            y={8}
            height={HEIGHT - FOOT - 8}
            fill="var(--amber-tint)"
          />
        )}
        <path
          d={path([...shown, shown.at(-1) ?? middle]) ?? ""}
          fill="none"
          stroke="var(--spruce)"
          strokeWidth="2"
          strokeLinejoin="round"
        />
      </svg>
      <figcaption className="mt-1 text-small text-muted" aria-live="polite">
        {words}. Drag a bar up or down to make it faster or slower; the next one gives way.
      </figcaption>
    </figure>
  );
}
