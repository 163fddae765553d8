import { line, max, scaleLinear } from "d3";
import { memo } from "react";
import { ticksToMs } from "../../core/time/index.ts";
import { countDrifts, type DriftSummary, summarizeDrifts } from "../../core/timing/index.ts";
import type { LaneView } from "../../store/lane-view.ts";
import { useSettled } from "../../store/use-settled.ts";
import { driftWords } from "./drag-edits.ts";

const WIDTH = 276;
const HEIGHT = 96;
const FOOT = 16;
const BIN_MS = 2;
const NARROWEST_MS = 30;

/** How far from their slots the hits of a voice were recorded (line) and are now (bars). */
export function DriftChart({ voiceId }: { voiceId: string }) {
  const lane = useSettled(
    ({ lanes }) => lanes.find((candidate) => candidate.voiceId === voiceId),
    ({ lanes }) => [lanes],
  );
  return lane ? <Chart lane={lane} /> : null;
}

const Chart = memo(function Chart({ lane }: { lane: LaneView }) {
  const { slotTicks, driftsMs: recorded } = lane.cleaned;
  const cleaned = ticksToMs(lane.maps.tempoMap, slotTicks);
  for (let row = 0; row < cleaned.length; row++) cleaned[row] = lane.cleanedMs[row]! - cleaned[row]!;
  const recordedSummary = summaryOf(recorded);
  // As wide as nearly all of the hits; a few strays would flatten the rest.
  const widest = Math.max(NARROWEST_MS, Math.abs(recordedSummary.meanMs) + 4 * recordedSummary.spreadMs);
  const x = scaleLinear([-widest, widest], [0, WIDTH]);
  const { isOn } = lane.treatment.timing;
  const before = countDrifts(recorded, widest, BIN_MS);
  const after = countDrifts(cleaned, widest, BIN_MS);
  const tallest = max([...before, ...(isOn ? after : [])]) ?? 1;
  const y = scaleLinear([0, Math.max(1, tallest)], [HEIGHT - FOOT, 4]);
  const startOf = (bin: number) => -widest + bin * BIN_MS;
  const outline = line<number>()
    .x((_, bin) => x(startOf(bin + 0.5)))
    .y((count) => y(count));
  // All bars are one path: it is drawn anew several times a second while a setting is dragged.
  const bars = Array.from(after, (count, bin) => {
    const width = Math.max(1, x(startOf(bin + 1)) - x(startOf(bin)) - 1);
    return count === 0 ? "" : `M${x(startOf(bin)) + 0.5},${HEIGHT - FOOT}V${y(count)}h${width}V${HEIGHT - FOOT}z`;
  }).join("");
  const recordedWords = spreadWords(recorded.length, recordedSummary);
  const cleanedWords = isOn ? spreadWords(cleaned.length, summarizeDrifts(cleaned)) : "";
  const family = lane.voice.ink;
  return (
    <figure className="mt-3">
      <figcaption className="text-[13px] leading-snug">
        <span className="text-muted">recorded: {recordedWords}</span>
        <br />
        {isOn ? <strong>cleaned: {cleanedWords}</strong> : <span className="text-muted">not tightened yet</span>}
      </figcaption>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="mt-1 w-full"
        role="img"
        aria-label={`Drift: recorded ${recordedWords}${isOn ? `, cleaned ${cleanedWords}` : ""}`}
      >
        {isOn && <path d={bars} fill={`var(--${family})`} />}
        <path
          d={outline(Array.from(before)) ?? ""}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.6"
          strokeDasharray="4 2.5"
        />
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

/** As long as a drag changes no slot, the drifts before it stay the same. */
const summaries = new WeakMap<Float64Array, DriftSummary>();

function summaryOf(driftsMs: Float64Array): DriftSummary {
  const known = summaries.get(driftsMs) ?? summarizeDrifts(driftsMs);
  summaries.set(driftsMs, known);
  return known;
}

function spreadWords(count: number, { meanMs, spreadMs }: DriftSummary): string {
  return count === 0 ? "no hits" : `${driftWords(Math.round(meanMs))}, ± ${Math.round(spreadMs)} ms`;
}
