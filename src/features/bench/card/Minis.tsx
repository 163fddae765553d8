import { ticksToMs } from "../../../core/time/index.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";

// The pictures on the tabs of the steps: what a step does to a voice, at a glance. The charts below say it in full.

const WIDTH = 58;
const HEIGHT = 22;
const BINS = 16;

interface MiniProps {
  readonly lane: LaneView;
}

/** How many values fall into each of some even bins; what is beyond is in the first or last. */
function binned(values: ArrayLike<number>, from: number, to: number): readonly number[] {
  const counts = new Array<number>(BINS).fill(0);
  for (let row = 0; row < values.length; row++) {
    const bin = Math.floor(((values[row]! - from) / (to - from)) * BINS);
    counts[Math.max(0, Math.min(BINS - 1, bin))]!++;
  }
  return counts;
}

const xOf = (bin: number) => (bin / BINS) * WIDTH;

function Bars({ counts, tallest, ink }: { counts: readonly number[]; tallest: number; ink: string }) {
  const path = counts
    .map((count, bin) =>
      count === 0 ? "" : `M${xOf(bin) + 0.5},${HEIGHT}v${-(count / tallest) * HEIGHT}h${WIDTH / BINS - 1}V${HEIGHT}z`,
    )
    .join("");
  return <path d={path} fill={`var(--${ink})`} />;
}

function Outline({ counts, tallest }: { counts: readonly number[]; tallest: number }) {
  const points = counts.map((count, bin) => `${xOf(bin + 0.5)},${HEIGHT - (count / tallest) * HEIGHT}`).join(" ");
  return <polyline points={points} fill="none" stroke="var(--muted)" strokeWidth="1" strokeDasharray="2 1.5" />;
}

/** Recorded as a dashed line, now as bars; they lie on one another while the step is off. */
function BeforeAfter({ before, after, ink }: { before: readonly number[]; after: readonly number[]; ink: string }) {
  const tallest = Math.max(1, ...before, ...after);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="h-[22px] w-[58px]" aria-hidden="true">
      <Bars counts={after} tallest={tallest} ink={ink} />
      <Outline counts={before} tallest={tallest} />
    </svg>
  );
}

/** Hits along the take; those that the step leaves out are crossed. */
export function RepairMini({ lane }: MiniProps) {
  const { isLeftOut, ticks } = lane.cleaned;
  const left: string[] = [];
  for (let row = 0; row < ticks.length; row++) {
    if (isLeftOut[row] === 1) left.push(`M${(ticks[row]! / lane.lengthTicks) * WIDTH},6v10`);
  }
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="h-[22px] w-[58px]" aria-hidden="true">
      <line x1={0} x2={WIDTH} y1={16.5} y2={16.5} stroke="var(--hairline-strong)" />
      <path d={left.join("")} stroke="var(--brick)" strokeWidth="1" />
    </svg>
  );
}

const WIDEST_MS = 45;

export function QuantizeMini({ lane }: MiniProps) {
  const { slotTicks, driftsMs } = lane.cleaned;
  const drifts = ticksToMs(lane.maps.tempoMap, slotTicks);
  for (let row = 0; row < drifts.length; row++) drifts[row] = lane.cleanedMs[row]! - drifts[row]!;
  return (
    <BeforeAfter
      before={binned(driftsMs, -WIDEST_MS, WIDEST_MS)}
      after={binned(drifts, -WIDEST_MS, WIDEST_MS)}
      ink={lane.voice.ink}
    />
  );
}

export function DynamicsMini({ lane }: MiniProps) {
  return (
    <BeforeAfter
      before={binned(lane.recorded.velocities, 1, 128)}
      after={binned(lane.cleaned.velocities, 1, 128)}
      ink={lane.voice.ink}
    />
  );
}

/** The offsets of the groove around its grid; a flat line without one. */
export function GrooveMini({ lane }: MiniProps) {
  const groove = lane.treatment.feel?.groove;
  const layers = groove?.layers ?? [];
  const layer = layers.find(({ family }) => family === lane.voice.family) ?? layers.find(({ family }) => !family);
  const slots = layer?.slots ?? [];
  const points = slots
    .map(({ offset }, slot) => `${((slot + 0.5) / slots.length) * WIDTH},${HEIGHT / 2 - offset * 28}`)
    .join(" ");
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="h-[22px] w-[58px]" aria-hidden="true">
      <line x1={0} x2={WIDTH} y1={HEIGHT / 2} y2={HEIGHT / 2} stroke="var(--hairline-strong)" />
      {slots.length > 0 && (
        <polyline points={points} fill="none" stroke={`var(--${lane.voice.ink})`} strokeWidth="1.4" />
      )}
    </svg>
  );
}
