import type { Marker } from "../../../core/file/index.ts";
import { barAt, type MeterMap } from "../../../core/time/index.ts";
import type { LoopRange } from "../../../store/bench-state.ts";
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
  markers: readonly Marker[],
  heightPx: number,
  inks: Inks,
): void {
  if (loop) {
    const x = tickToX(viewport, loop.startTick);
    context.fillStyle = inks["amber-tint"];
    context.fillRect(x, 2, tickToX(viewport, loop.endTick) - x, heightPx - 4);
  }
  // Markers are read after the hits; their row is kept free, so that the lanes do not jump when they come.
  const barsPx = heightPx - MARKER_ROW_PX;
  paintMarkers(context, viewport, markers, barsPx, inks);
  context.textBaseline = "middle";
  context.textAlign = "left";
  const middle = barsPx / 2 + 1;
  // The number of the last bar has room before the next one.
  const digits = String(barAt(meterMap, lengthTicks).barIndex + 1).length;
  const narrowestPx = Math.max(30, DIGIT_PX * digits + 12);
  forBarsInView(viewport, meterMap, lengthTicks, narrowestPx, (bar) => {
    const x = tickToX(viewport, bar.startTick);
    if (bar.startTick >= lengthTicks) return;
    context.fillStyle = inks["hairline-strong"];
    context.fillRect(Math.round(x), barsPx - 8, 1, 8);
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

const DIGIT_PX = 8;

/** Each marker a small flag on the ruler with its words, as far as there is room before the next. */
function paintMarkers(
  context: PaintContext,
  viewport: Viewport,
  markers: readonly Marker[],
  topPx: number,
  inks: Inks,
): void {
  context.textBaseline = "middle";
  context.textAlign = "left";
  context.font = `600 12px ${CANVAS_FONT}`;
  for (const [index, { tick, text }] of markers.entries()) {
    const x = tickToX(viewport, tick);
    const room = Math.min(MARKER_PX, (markers[index + 1] ? tickToX(viewport, markers[index + 1]!.tick) : Infinity) - x);
    if (x > viewport.widthPx || x + room < 0) continue;
    const width = Math.min(room - 4, context.measureText(text).width + 12);
    context.fillStyle = inks["spruce-tint"];
    context.fillRect(x, topPx, Math.max(4, width), MARKER_ROW_PX - 1);
    context.fillStyle = inks.spruce;
    context.fillRect(x, topPx, 2, MARKER_ROW_PX - 1);
    if (width >= context.measureText(text).width + 8) context.fillText(text, x + 6, topPx + MARKER_ROW_PX / 2);
  }
}

/** The row of the markers. */
export const MARKER_ROW_PX = 17;
/** A long name does not cover the bars behind it. */
const MARKER_PX = 160;
