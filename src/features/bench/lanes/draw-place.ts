import type { BenchState } from "../../../store/bench/bench-state.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { xToTick } from "../../../store/bench/viewport.ts";
import { strokeOfLane } from "../commands/write-actions.ts";
import { boxesOf, type LaneBox } from "./lane-layout.ts";
import { type Point, rowAtPoint } from "./under-pointer.ts";

/** Where a hit would be drawn, and as what. */
export interface DrawPlace {
  readonly lane: LaneView;
  readonly box: LaneBox;
  readonly articulationId: string;
  /** As loud as a hit is where height says nothing. */
  readonly velocity: number;
  /** The middle of the row of a stroke that the pointer is in; null for the field or a closed lane. */
  readonly rowMiddle: number | null;
}

const STEP_PX = 3;

/** The ticks that a pointer passes on its way, so close that a quick hand skips no slot. */
export function ticksPassed({ viewport }: Pick<BenchState, "viewport">, fromX: number, toX: number): readonly number[] {
  const steps = Math.max(1, Math.ceil(Math.abs(toX - fromX) / STEP_PX));
  return Array.from({ length: steps }, (_, step) => xToTick(viewport, fromX + ((toX - fromX) * (step + 1)) / steps));
}

/** Whether hits are drawn off the grid: as the switch says, and the other way with Shift. */
export const isFreehand = ({ drawing }: Pick<BenchState, "drawing">, isShift: boolean) => drawing.isSnapped === isShift;

/** What drawing in a lane would write: the stroke of the row under the pointer, or the one chosen for the lane, or its usual one. */
export function drawPlaceAt(state: BenchState, point: Point, voiceId: string): DrawPlace | null {
  const lane = state.lanes.find((one) => one.voiceId === voiceId);
  const box = boxesOf(state).find(({ voice }) => voice.id === voiceId);
  if (!lane || !box) return null;
  const usual = strokeOfLane(lane, state.picked);
  const row = rowAtPoint(box, point);
  return {
    lane,
    box,
    articulationId: row?.id ?? state.drawing.strokes.get(voiceId) ?? usual.articulationId,
    velocity: state.drawing.velocity ?? usual.velocity,
    rowMiddle: row?.middle ?? null,
  };
}

/**
 * In the field of an open lane a hit is as loud as the pointer is high; in a row, or where the pointer was only pressed, as loud as
 * was set; in a closed lane it changes by how far the pointer went up or down since.
 */
export function loudnessDrawn({ box, velocity, rowMiddle }: DrawPlace, start: Point, point: Point): number {
  const byHeight = box.open !== null && rowMiddle === null && start.y <= box.base;
  const up = rowMiddle === null && !byHeight ? ((start.y - point.y) / box.finHeight) * 127 : 0;
  const wanted = byHeight ? ((box.base - point.y) / box.finHeight) * 127 : velocity + up;
  return Math.max(1, Math.min(127, Math.round(wanted)));
}
