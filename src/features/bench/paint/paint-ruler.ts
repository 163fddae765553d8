import type { MeterMap } from "../../../core/time/index.ts";
import type { LoopRange } from "../../../store/bench-store.ts";
import { tickToX, type Viewport } from "../../../store/viewport.ts";
import { CANVAS_FONT, type Inks } from "./inks.ts";
import type { PaintContext } from "./paint-fins.ts";
import { forBarsInView } from "./paint-grid.ts";

/** Bars and beats, with the loop behind them. */
export function paintRuler(
  context: PaintContext,
  viewport: Viewport,
  meterMap: MeterMap,
  lengthTicks: number,
  loop: LoopRange | null,
  heightPx: number,
  inks: Inks,
): void {
  if (loop) {
    const x = tickToX(viewport, loop.startTick);
    context.fillStyle = inks["amber-tint"];
    context.fillRect(x, 2, tickToX(viewport, loop.endTick) - x, heightPx - 4);
  }
  context.textBaseline = "middle";
  context.textAlign = "left";
  const middle = heightPx / 2 + 1;
  forBarsInView(viewport, meterMap, lengthTicks, 30, (bar) => {
    const x = tickToX(viewport, bar.startTick);
    if (bar.startTick >= lengthTicks) return;
    context.fillStyle = inks["hairline-strong"];
    context.fillRect(Math.round(x), heightPx - 8, 1, 8);
    context.fillStyle = inks.ink;
    context.font = `700 13px ${CANVAS_FONT}`;
    context.fillText(String(bar.barIndex + 1), x + 5, middle);
    const pulsePx = (bar.pulseTicks[1] ?? 0) / viewport.ticksPerPx;
    if (pulsePx < 24) return;
    context.fillStyle = inks.muted;
    context.font = `400 12px ${CANVAS_FONT}`;
    for (const [index, pulse] of bar.pulseTicks.entries()) {
      if (index > 0 && bar.startTick + pulse < bar.endTick) {
        context.fillText(String(index + 1), tickToX(viewport, bar.startTick + pulse) + 5, middle);
      }
    }
  });
}
