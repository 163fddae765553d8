import type { Marker } from "../../../../core/file/index.ts";
import type { PatternColour, Side } from "../../../../core/song/index.ts";
import { type LaneView, sideOf } from "../../../../store/bench/lane-view.ts";
import type { Viewport } from "../../../../store/bench/viewport.ts";
import type { LoopRange } from "../../../../store/playback/playing.ts";
import type { Inks } from "./inks.ts";
import type { PaintContext } from "./paint-fins.ts";

export interface OverviewScene {
  readonly lanes: readonly LaneView[];
  readonly side: Side;
  readonly lengthTicks: number;
  readonly viewport: Viewport;
  readonly loop: LoopRange | null;
  readonly markers: readonly Marker[];
  /** What the take was cut into, as bands along its top. */
  readonly sections: readonly Section[];
  readonly widthPx: number;
  readonly heightPx: number;
  readonly inks: Inks;
}

/** A stretch of the take that a pattern of the song plays. */
export interface Section {
  readonly startTick: number;
  readonly endTick: number;
  readonly colour: PatternColour;
  /** The one whose settings are looked at. */
  readonly isScope: boolean;
}

const TOP = 4;
const BAND_PX = 3;

/** All hits of the pattern, a row for each lane; the hits themselves, painted apart from what moves over them. */
export function paintOverviewHits(
  context: PaintContext,
  { lanes, side, lengthTicks, widthPx, heightPx, inks }: OverviewScene,
): void {
  const rowHeight = Math.min(8, (heightPx - 2 * TOP) / Math.max(1, lanes.length));
  const top = (heightPx - rowHeight * lanes.length) / 2;
  for (const [index, lane] of lanes.entries()) {
    context.fillStyle = inks[lane.voice.ink];
    const { ticks, velocities } = sideOf(lane, side);
    const base = top + (index + 1) * rowHeight - 1;
    let column = -1;
    for (let row = 0; row < ticks.length; row++) {
      const x = Math.floor((ticks[row]! / lengthTicks) * (widthPx - 1));
      if (x === column) continue; // one mark a pixel, however many hits
      column = x;
      const height = Math.max(1.5, (velocities[row]! / 127) * (rowHeight - 1));
      context.fillRect(x, base - height, 1.2, height);
    }
  }
}

/** The stretch that the lanes show, and the loop. */
export function paintOverviewFrame(context: PaintContext, scene: OverviewScene): void {
  const { lengthTicks, viewport, loop, markers, sections, widthPx, heightPx, inks } = scene;
  const x = (tick: number) => (Math.max(0, Math.min(lengthTicks, tick)) / lengthTicks) * widthPx;
  if (loop) {
    context.fillStyle = inks.amber;
    context.fillRect(x(loop.startTick), heightPx - 3, Math.max(2, x(loop.endTick) - x(loop.startTick)), 3);
  }
  for (const { startTick, endTick, colour, isScope } of sections) {
    context.fillStyle = inks[colour];
    context.fillRect(
      x(startTick) + 0.5,
      0,
      Math.max(1, x(endTick) - x(startTick) - 1),
      isScope ? 2 * BAND_PX : BAND_PX,
    );
  }
  context.fillStyle = inks.spruce;
  for (const { tick } of markers) context.fillRect(x(tick), 0, 1.5, heightPx - 3);
  const left = x(viewport.startTick);
  const right = x(viewport.startTick + viewport.widthPx * viewport.ticksPerPx);
  context.strokeStyle = inks.ink;
  context.lineWidth = 1.6;
  context.beginPath();
  context.rect(left + 0.8, 1, Math.max(4, right - left - 1.6), heightPx - 4);
  context.stroke();
}
