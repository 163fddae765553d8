import { type Grid, gridStepTicks, nearestSlots, slotsBetween } from "../../../../core/time/index.ts";
import { rowsBetween } from "../../../../store/bench/rows-between.ts";
import { tickToX, xToTick } from "../../../../store/bench/viewport.ts";
import type { LaneBox } from "../lane-layout.ts";
import type { PaintContext } from "./paint-fins.ts";
import type { LanePicture, ScenePicture } from "./picture.ts";

/** Narrower cells could not be told apart. */
const NARROWEST_CELL_PX = 6;

/** Paints the slots of a lane as cells, each from its slot to the next: those that have a hit are filled. */
export function paintCells(
  context: PaintContext,
  { viewport, maps, lengthTicks, inks }: Pick<ScenePicture, "viewport" | "maps" | "lengthTicks" | "inks">,
  { handGrid, stretches = [], cleanedTicks }: Pick<LanePicture, "handGrid" | "stretches" | "cleanedTicks">,
  box: LaneBox,
): void {
  const firstTick = Math.max(0, viewport.startTick);
  const lastTick = Math.min(lengthTicks, xToTick(viewport, viewport.widthPx));
  const gridAt = (tick: number): Grid =>
    stretches.find(({ startTick, endTick }) => tick >= startTick && tick < endTick)?.grid ?? handGrid;
  const margin = gridStepTicks(handGrid, maps.meterMap.ppq);
  const { first, end } = rowsBetween(cleanedTicks, firstTick - margin, lastTick + margin);
  const taken = new Set<number>();
  for (let row = first; row < end; row++) {
    const tick = cleanedTicks[row]!;
    taken.add(nearestSlots(gridAt(tick), maps.meterMap, tick).slotTick);
  }
  const top = box.base - box.finHeight;
  const paint = (grid: Grid, startTick: number, endTick: number) => {
    const widthPx = gridStepTicks(grid, maps.meterMap.ppq) / viewport.ticksPerPx;
    if (widthPx < NARROWEST_CELL_PX) return;
    const slots = slotsBetween(grid, maps.meterMap, startTick, endTick);
    for (const [index, slot] of slots.entries()) {
      if (gridAt(slot) !== grid) continue;
      const x = tickToX(viewport, slot);
      const width = Math.max(
        2,
        tickToX(viewport, slots[index + 1] ?? Math.min(lengthTicks, slot + widthPx * viewport.ticksPerPx)) - x - 2,
      );
      context.fillStyle = taken.has(slot) ? inks["amber-tint"] : inks.sheet;
      context.fillRect(x + 1, top, width, box.finHeight);
      context.fillStyle = inks["hairline-strong"];
      // Four thin sides: an outline of many cells in one path is what the canvas is slow at.
      context.fillRect(x + 1, top, width, 1);
      context.fillRect(x + 1, box.base - 1, width, 1);
      context.fillRect(x + 1, top, 1, box.finHeight);
      context.fillRect(x + width, top, 1, box.finHeight);
    }
  };
  paint(handGrid, firstTick - margin, lastTick);
  for (const { grid, startTick, endTick } of stretches) {
    if (endTick > firstTick && startTick < lastTick)
      paint(grid, Math.max(startTick, firstTick - margin), Math.min(endTick, lastTick));
  }
}
