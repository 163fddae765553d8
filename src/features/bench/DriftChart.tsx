import { bin, line, max, scaleLinear } from "d3";
import { memo } from "react";
import { tickToMs } from "../../core/time/index.ts";
import { summarizeDrifts } from "../../core/timing/index.ts";
import type { LaneView } from "../../store/lane-view.ts";
import { useSettled } from "../../store/use-settled.ts";
import { driftWords } from "./drag-edits.ts";

const WIDTH = 276;
const HEIGHT = 96;
const FOOT = 16;
const BIN_MS = 2;
const NARROWEST_MS = 30;
/** A chart of thousands of hits is drawn this often while a setting is dragged. */
const CHART_MS = 120;

/** How far from their slots the hits of a voice were recorded (line) and are now (bars). */
export function DriftChart({ voiceId }: { voiceId: string }) {
  const lane = useSettled(
    ({ lanes }) => lanes.find((candidate) => candidate.voiceId === voiceId),
    ({ lanes }) => [lanes],
    CHART_MS,
  );
  return lane ? <Chart lane={lane} /> : null;
}

const Chart = memo(function Chart({ lane }: { lane: LaneView }) {
  const { tempoMap } = lane.maps;
  const { slotTicks, driftsMs: recorded } = lane.cleaned;
  const cleaned = lane.timesMs.cleaned.map((ms, row) => ms - tickToMs(tempoMap, slotTicks[row]!));
  // As wide as nearly all of the hits; a few strays would flatten the rest.
  const { meanMs, spreadMs } = summarizeDrifts(recorded);
  const widest = Math.max(NARROWEST_MS, Math.abs(meanMs) + 4 * spreadMs);
  const x = scaleLinear([-widest, widest], [0, WIDTH]);
  const thresholds = Array.from({ length: Math.ceil((2 * widest) / BIN_MS) }, (_, index) => -widest + index * BIN_MS);
  const bins = bin().domain([-widest, widest]).thresholds(thresholds);
  const before = bins(recorded);
  const after = bins(cleaned);
  const { isOn } = lane.treatment.timing;
  const tallest = max([...before, ...(isOn ? after : [])], (one) => one.length) ?? 1;
  const y = scaleLinear([0, Math.max(1, tallest)], [HEIGHT - FOOT, 4]);
  const outline = line<(typeof before)[number]>()
    .x((one) => x(((one.x0 ?? 0) + (one.x1 ?? 0)) / 2))
    .y((one) => y(one.length));
  const family = lane.voice.ink;
  return (
    <figure className="mt-3">
      <figcaption className="text-[13px] leading-snug">
        <span className="text-muted">recorded: {spreadWords(recorded)}</span>
        <br />
        {isOn ? (
          <strong>cleaned: {spreadWords(cleaned)}</strong>
        ) : (
          <span className="text-muted">not tightened yet</span>
        )}
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-1 w-full"
        role="img"
        aria-label={`Drift: recorded ${spreadWords(recorded)}${isOn ? `, cleaned ${spreadWords(cleaned)}` : ""}`}
      >
        {isOn &&
          after
            .filter((one) => one.length > 0)
            .map((one) => (
              <rect
                key={one.x0}
                x={x(one.x0 ?? 0) + 0.5}
                width={Math.max(1, x(one.x1 ?? 0) - x(one.x0 ?? 0) - 1)}
                y={y(one.length)}
                height={HEIGHT - FOOT - y(one.length)}
                fill={`var(--${family})`}
              />
            ))}
        <path d={outline(before) ?? ""} fill="none" stroke="var(--ink)" strokeWidth="1.6" strokeDasharray="4 2.5" />
        <line x1={0} x2={WIDTH} y1={HEIGHT - FOOT} y2={HEIGHT - FOOT} stroke="var(--hairline-strong)" />
        <line x1={x(0)} x2={x(0)} y1={6} y2={HEIGHT - FOOT} stroke="var(--spruce)" strokeDasharray="2 3" />
        <g fill="var(--muted)" fontSize="12">
          <text y={HEIGHT - 3}>−{Math.round(widest)} ms</text>
          <text x={x(0)} y={HEIGHT - 3} textAnchor="middle">
            on the slot
          </text>
          <text x={WIDTH} y={HEIGHT - 3} textAnchor="end">
            +{Math.round(widest)} ms
          </text>
        </g>
      </svg>
    </figure>
  );
});

function spreadWords(drifts: Float64Array): string {
  if (drifts.length === 0) return "no hits";
  const { meanMs, spreadMs } = summarizeDrifts(drifts);
  return `${driftWords(Math.round(meanMs))}, ± ${Math.round(spreadMs)} ms`;
}
