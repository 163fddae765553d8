import { type Bar, barAt, type Grid, gridStepTicks, type MeterMap, slotsOfBar } from "../../../../core/time/index.ts";
import { tickToX, type Viewport, xToTick } from "../../../../store/bench/viewport.ts";

/** Lines closer than this are left out. */
const CLOSEST_LINES_PX = 7;

/** Calls back for each bar in view, or for every nth where bars are narrow, so that the work stays the same. */
export function forBarsInView(
  viewport: Viewport,
  meterMap: MeterMap,
  lengthTicks: number,
  narrowestPx: number,
  paint: (bar: Bar) => void,
): void {
  const endTick = Math.min(lengthTicks, xToTick(viewport, viewport.widthPx));
  let bar = barAt(meterMap, Math.max(0, xToTick(viewport, 0)));
  while (bar.startTick <= endTick) {
    const barPx =
      (bar.endTick === Number.POSITIVE_INFINITY ? endTick - bar.startTick : bar.endTick - bar.startTick) /
      viewport.ticksPerPx;
    const every = niceStep(narrowestPx / Math.max(barPx, 1e-6));
    if (bar.barIndex % every === 0) paint(bar);
    if (bar.endTick >= lengthTicks) break;
    const bars = every - (bar.barIndex % every);
    bar = barAt(meterMap, bars <= 1 ? bar.endTick : bar.startTick + bars * (bar.endTick - bar.startTick));
  }
}

/** 1, 2, 4, 8 … bars. */
function niceStep(least: number): number {
  return least <= 1 ? 1 : 2 ** Math.ceil(Math.log2(least));
}

/** Lines at the pulses of a bar, and at the steps of a grid between them if it is given. */
export function gridLinesOfBar(
  bar: Bar,
  viewport: Viewport,
  ppq: number,
  grid: Grid | null,
  paint: (x: number, isPulse: boolean) => void,
): void {
  const pulsePx = (bar.pulseTicks[1] ?? bar.endTick - bar.startTick) / viewport.ticksPerPx;
  if (grid) {
    const stepTicks = gridStepTicks(grid, ppq);
    if (stepTicks / viewport.ticksPerPx >= CLOSEST_LINES_PX) {
      for (const tick of slotsOfBar(grid, bar, ppq)) if (tick > bar.startTick) paint(tickToX(viewport, tick), false);
    }
  }
  if (pulsePx < CLOSEST_LINES_PX) return;
  for (const pulse of bar.pulseTicks) {
    if (pulse > 0 && bar.startTick + pulse < bar.endTick) paint(tickToX(viewport, bar.startTick + pulse), true);
  }
}
