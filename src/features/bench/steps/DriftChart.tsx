import { line, max, scaleLinear } from "d3";
import { memo, useMemo } from "react";
import { remembering } from "../../../core/remember.ts";
import type { FoundGrid } from "../../../core/study/index.ts";
import { gridName, PlanFinder, tickAfterMs, ticksToMs, tickToMs } from "../../../core/time/index.ts";
import { countDrifts, type DriftSummary, summarizeDrifts } from "../../../core/timing/index.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { useSettled } from "../../../store/bench/use-settled.ts";
import { driftWords } from "../lanes/drag-edits.ts";

const WIDTH = 276;
const HEIGHT = 78;
const FOOT = 1;
const BIN_MS = 2;
const NARROWEST_MS = 30;

/** How far from their slots the hits of a voice were recorded (line) and are now (bars). */
export function DriftChart({ voiceId }: { voiceId: string }) {
  const lane = useSettledLane(voiceId);
  return lane ? <Chart lane={lane} /> : null;
}

/**
 * How far a voice is now from the slots that were meant, where other ones were chosen: measured against a wrong grid, any figure is
 * flattering.
 */
export function MeantDrift({ voiceId, found }: { voiceId: string; found: FoundGrid }) {
  const lane = useSettledLane(voiceId);
  const words = useMemo(() => (lane ? meantDrift(lane, found) : ""), [lane, found]);
  return (
    <span className="block">
      Now {shortly(words)} from {gridName(found.grid)}.
    </span>
  );
}

function meantDrift(lane: LaneView, found: FoundGrid): string {
  const { meterMap, tempoMap } = lane.maps;
  const finder = new PlanFinder(found, meterMap);
  const ghostFinder = found.ghostGrid ? new PlanFinder({ ...found, grid: found.ghostGrid }, meterMap) : finder;
  const drifts = new Float64Array(lane.hits.length);
  const late = found.meanDriftMs;
  for (let row = 0; row < drifts.length; row++) {
    const recorded = lane.recorded.ticks[row]!;
    const { slotTick } = (lane.roles[row] === 0 ? ghostFinder : finder).find(tickAfterMs(tempoMap, recorded, -late));
    drifts[row] = lane.cleanedMs[row]! - tickToMs(tempoMap, slotTick);
  }
  return spreadWords(drifts.length, summarizeDrifts(drifts));
}

/** A lane as it is, and now and then while one of its settings is dragged. */
const useSettledLane = (voiceId: string) =>
  useSettled(
    ({ lanes }) => lanes.find((candidate) => candidate.voiceId === voiceId),
    ({ lanes }) => [lanes],
  );

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
    <figure className="mt-1.5">
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
          <text y={12}>−{Math.round(widest)} ms</text>
          <text x={WIDTH} y={12} textAnchor="end">
            +{Math.round(widest)} ms
          </text>
        </g>
      </svg>
      <figcaption className="flex justify-between text-small leading-snug">
        <span className="text-muted">recorded {shortly(recordedWords)}</span>
        {isOn && <strong>now {shortly(cleanedWords)}</strong>}
      </figcaption>
    </figure>
  );
});

/** As long as a drag changes no slot, the drifts before it stay the same. */
const rememberSummary = remembering<Float64Array, DriftSummary>();
const summaryOf = (driftsMs: Float64Array) => rememberSummary(driftsMs, [], () => summarizeDrifts(driftsMs));

/** `12 ms late ± 10`: side by side there is no room for more. */
const shortly = (words: string) => words.replace(/, (± \d+) ms$/, " $1");

function spreadWords(count: number, { meanMs, spreadMs }: DriftSummary): string {
  return count === 0 ? "no hits" : `${driftWords(Math.round(meanMs))}, ± ${Math.round(spreadMs)} ms`;
}
