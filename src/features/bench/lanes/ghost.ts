import type { Family } from "../../../core/document/index.ts";
import { formatBarBeat } from "../../../core/time/index.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { tickToX, xToTick } from "../../../store/bench/viewport.ts";
import { drawnTick } from "../commands/write-actions.ts";
import { drawPlaceAt, isFreehand, loudnessDrawn } from "./draw-place.ts";
import { cellAt } from "./gestures/cells.ts";
import { finHeightOf } from "./lane-layout.ts";
import { isBehind, laneAt, type Point } from "./under-pointer.ts";

/** The hit that a press would write, in px from the top left of the lanes. */
export interface Ghost {
  readonly x: number;
  /** What the fin stands on, and how tall it is. */
  readonly base: number;
  readonly height: number;
  readonly ink: Family;
  readonly text: string;
}

/** What a press would draw at a point; null where it would draw nothing. */
export function ghostAt(state: BenchState, point: Point, isShift: boolean): Ghost | null {
  if (state.tool !== "draw") return null;
  const lane = laneAt(state, point);
  const place = lane && !isBehind(state, lane) ? drawPlaceAt(state, point, lane.voiceId) : null;
  if (!place) return null;
  const at = xToTick(state.viewport, point.x);
  const tick = state.drawing.showsCells
    ? cellAt(state, place.lane, Math.max(0, at))
    : drawnTick(state, place.lane, at, isFreehand(state, isShift));
  const velocity = loudnessDrawn(place, point, point);
  const stroke = place.box.voice.articulations.find(({ id }) => id === place.articulationId)?.name ?? "";
  return {
    x: tickToX(state.viewport, tick),
    base: place.rowMiddle === null ? place.box.base : place.rowMiddle + MARK_PX / 2,
    height: place.rowMiddle === null ? finHeightOf(place.box, velocity) : MARK_PX,
    ink: place.box.voice.ink,
    text: `${formatBarBeat(state.maps.meterMap, tick)}  ${stroke ? `${stroke} ` : ""}${velocity}`,
  };
}

const MARK_PX = 10;
