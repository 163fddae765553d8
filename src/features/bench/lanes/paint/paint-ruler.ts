import type { Marker } from "../../../../core/file/index.ts";
import { barAt, type Grid } from "../../../../core/time/index.ts";
import { tickToX, type Viewport } from "../../../../store/bench/viewport.ts";
import { CANVAS_FONT, type Inks } from "./inks.ts";
import type { PaintContext } from "./paint-fins.ts";
import { forBarsInView } from "./paint-grid.ts";
import type { ScenePicture } from "./picture.ts";

/** What of the whole picture the ruler needs. */
export type RulerScene = Pick<
  ScenePicture,
  "viewport" | "maps" | "lengthTicks" | "loop" | "markers" | "countGrid" | "inks"
>;

/** Bars and beats, with the loop behind them, and what is counted between the beats where there is room. */
export function paintRuler(context: PaintContext, scene: RulerScene, heightPx: number): void {
  const { viewport, lengthTicks, loop, markers, countGrid, inks } = scene;
  const { meterMap } = scene.maps;
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
    context.fillStyle = inks["line-bar"];
    context.fillRect(Math.round(x), barsPx - 8, 1, 8);
    context.fillStyle = inks.ink;
    context.font = `700 ${inks.small} ${CANVAS_FONT}`;
    context.fillText(String(bar.barIndex + 1), x + 5, middle);
    const pulsePx = (bar.pulseTicks[1] ?? 0) / viewport.ticksPerPx;
    if (pulsePx < 24) return;
    context.fillStyle = inks.muted;
    context.font = `400 ${inks.fine} ${CANVAS_FONT}`;
    for (const [index, pulse] of bar.pulseTicks.entries()) {
      const startTick = bar.startTick + pulse;
      if (startTick >= bar.endTick) continue;
      if (index > 0) context.fillText(String(index + 1), tickToX(viewport, startTick) + 5, middle);
      const nextPulse = bar.pulseTicks[index + 1] ?? Number.POSITIVE_INFINITY;
      const beatTicks = Math.min(bar.endTick, bar.startTick + nextPulse) - startTick;
      const counted = countedBetween(beatTicks / meterMap.ppq, beatTicks / viewport.ticksPerPx, countGrid);
      for (const { share, word } of counted) {
        context.fillText(word, tickToX(viewport, startTick + share * beatTicks) + 3, middle);
      }
    }
  });
}

/** A word needs this much room, its own and some air. */
const COUNT_PX = 26;

interface Counted {
  /** Of the beat, from its start. */
  readonly share: number;
  readonly word: string;
}

/**
 * What a drummer counts between two beats: 1 e & a, or 1 trip let where the voice plays triplets; 1 & a in a dotted beat.
 * @param quarters how long the beat is
 * @param widthPx how much room it has
 */
export function countedBetween(quarters: number, widthPx: number, grid: Grid | null): readonly Counted[] {
  const isDotted = Math.abs(quarters - 1.5) < 1e-6;
  const isTriplet = grid?.family === "triplet" && Math.abs(quarters - 1) < 1e-6;
  if (isDotted || isTriplet) {
    const words = isDotted ? ["&", "a"] : ["trip", "let"];
    return widthPx >= 3 * COUNT_PX ? words.map((word, index) => ({ share: (index + 1) / 3, word })) : [];
  }
  // Shorter beats are counted as they are: an eighth has nothing said within it.
  if (quarters < 1 - 1e-6 || widthPx < 2 * COUNT_PX) return [];
  const half = [{ share: 0.5, word: "&" }];
  return widthPx < 4 * COUNT_PX ? half : [{ share: 0.25, word: "e" }, ...half, { share: 0.75, word: "a" }];
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
  context.font = `600 ${inks.fine} ${CANVAS_FONT}`;
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
