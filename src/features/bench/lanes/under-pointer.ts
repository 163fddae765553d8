import type { PlacedHit } from "../../../core/commands/index.ts";
import { isUnnamedVoice, type NoteMeaning, strokeLike } from "../../../core/document/index.ts";
import { tickToMs } from "../../../core/time/index.ts";
import { visibleLanes } from "../../../store/bench/bench-selectors.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import { type LaneView, shownSide, sideOf } from "../../../store/bench/lane-view.ts";
import { rowsBetween } from "../../../store/bench/rows-between.ts";
import { tickToX, xToTick } from "../../../store/bench/viewport.ts";
import {
  ARTICULATION_HEIGHT,
  boxAt,
  boxesOf,
  finHeightOf,
  type LaneBox,
  type OpenBox,
  RAIL_MS,
} from "./lane-layout.ts";

// What is under the pointer, in px from the top left of the lanes.

export interface Marquee {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

export interface Point {
  readonly x: number;
  readonly y: number;
}

const REACH_LEFT_PX = 5;
const REACH_RIGHT_PX = 12;
const MARK_REACH_PX = 7;

export function laneAt(state: BenchState, { y }: Point): LaneView | undefined {
  const box = boxAt(boxesOf(state), y);
  return state.lanes.find(({ voiceId }) => voiceId === box?.voice.id);
}

/**
 * The fin under a point: in its lane, not far from its edge.
 * @param isExact whether the point must be on the fin in a closed lane, too, where fins are low and usually need not be aimed at
 */
export function hitAtPoint(state: BenchState, { x, y }: Point, isExact = false): PlacedHit | null {
  const boxes = boxesOf(state);
  const box = boxAt(boxes, y);
  const lane = state.lanes.find((candidate) => candidate.voiceId === box?.voice.id);
  if (!box || !lane || isBehind(state, lane)) return null;
  const { ticks, velocities } = sideOf(lane, shownSide(state, lane));
  let best = -1;
  let bestDistance = Number.POSITIVE_INFINITY;
  const { first, end } = rowsNear(state, ticks, x - REACH_RIGHT_PX, x + REACH_LEFT_PX);
  for (let row = first; row < end; row++) {
    const distance = x - tickToX(state.viewport, ticks[row]!);
    if (distance < -REACH_LEFT_PX || distance > REACH_RIGHT_PX || Math.abs(distance) >= bestDistance) continue;
    if ((box.open || isExact) && !isOnFin(box, velocities[row]!, y)) continue;
    best = row;
    bestDistance = Math.abs(distance);
  }
  return best === -1 ? null : { hit: lane.hits[best]!, tick: lane.cleaned.ticks[best]! };
}

/** The row of a stroke in the open lane that a point is in. */
export function rowAtPoint(box: LaneBox, { y }: Point): OpenBox["articulations"][number] | undefined {
  return box.open?.articulations.find(({ middle }) => Math.abs(middle - y) <= ARTICULATION_HEIGHT / 2);
}

/** The mark of a hit in the row of its stroke that is under a point. */
export function markAtPoint(state: BenchState, point: Point): PlacedHit | null {
  const box = boxAt(boxesOf(state), point.y);
  const lane = state.lanes.find(({ voiceId }) => voiceId === box?.voice.id);
  const rowHere = box && rowAtPoint(box, point);
  if (!box?.open || !lane || !rowHere || isBehind(state, lane)) return null;
  const { ticks } = sideOf(lane, shownSide(state, lane));
  const { first, end } = rowsNear(state, ticks, point.x - MARK_REACH_PX, point.x + MARK_REACH_PX);
  let best: PlacedHit | null = null;
  let bestPx = Number.POSITIVE_INFINITY;
  for (let row = first; row < end; row++) {
    const px = Math.abs(point.x - tickToX(state.viewport, ticks[row]!));
    if (px >= bestPx || lane.hits[row]!.articulationId !== rowHere.id) continue;
    best = { hit: lane.hits[row]!, tick: lane.cleaned.ticks[row]! };
    bestPx = px;
  }
  return best;
}

/** Behind the lane in front, nothing can be reached. */
export function isBehind({ frontVoiceId }: BenchState, lane: LaneView): boolean {
  return frontVoiceId !== null && frontVoiceId !== lane.voiceId;
}

function isOnFin(box: LaneBox, velocity: number, y: number): boolean {
  return y >= box.base - finHeightOf(box, velocity) - 10 && y <= box.base + 10;
}

export function areaBetween(a: Point, b: Point): Marquee {
  return { left: Math.min(a.x, b.x), top: Math.min(a.y, b.y), width: Math.abs(a.x - b.x), height: Math.abs(a.y - b.y) };
}

export function hitsInArea(state: BenchState, area: Marquee): string[] {
  const boxes = boxesOf(state);
  const firstTick = xToTick(state.viewport, area.left);
  const lastTick = xToTick(state.viewport, area.left + area.width);
  return visibleLanes(state).flatMap((lane, index) => {
    const box = boxes[index]!;
    const { ticks, velocities } = sideOf(lane, shownSide(state, lane));
    if (box.base < area.top || box.top > area.top + area.height) return [];
    const inside: string[] = [];
    const { first, end } = rowsBetween(ticks, firstTick, lastTick);
    for (let row = first; row < end; row++) {
      const isAcross = ticks[row]! >= firstTick && ticks[row]! <= lastTick;
      const finTop = box.base - finHeightOf(box, velocities[row]!);
      if (isAcross && finTop <= area.top + area.height) inside.push(lane.hits[row]!.id);
    }
    return inside;
  });
}

/** Whether the pointer is over a picked fin of the open lane, where the wheel changes loudness. */
export function isOverPicked(state: BenchState, point: Point): boolean {
  const grabbed = hitAtPoint(state, point);
  return grabbed !== null && grabbed.hit.voiceId === state.openVoiceId && state.picked.has(grabbed.hit.id);
}

/** The dot of the drift rail under a point. */
export function dotAtPoint(state: BenchState, { x, y }: Point): PlacedHit | null {
  const lane = laneAt(state, { x, y });
  const box = boxesOf(state).find(({ voice }) => voice.id === lane?.voiceId);
  if (!lane || !box?.open || isBehind(state, lane) || Math.abs(y - box.open.railZero) > box.open.railReach) return null;
  const { ticks } = lane.cleaned;
  const { first, end } = rowsNear(state, ticks, x - REACH_LEFT_PX, x + REACH_LEFT_PX);
  for (let row = first; row < end; row++) {
    const isNear = Math.abs(railY(state, lane, box.open, row) - y) <= REACH_LEFT_PX + 2;
    if (isNear) return { hit: lane.hits[row]!, tick: ticks[row]! };
  }
  return null;
}

/** The rows between two places across the lanes. */
function rowsNear({ viewport }: BenchState, ticks: Float64Array, leftPx: number, rightPx: number) {
  return rowsBetween(ticks, xToTick(viewport, leftPx), xToTick(viewport, rightPx));
}

function railY({ maps }: BenchState, lane: LaneView, open: OpenBox, row: number): number {
  const driftMs = lane.cleanedMs[row]! - tickToMs(maps.tempoMap, lane.cleaned.slotTicks[row]!);
  return open.railZero - (Math.max(-RAIL_MS, Math.min(RAIL_MS, driftMs)) / RAIL_MS) * open.railReach;
}

/** The pointer must be this far outside of its lane before a drag goes to another drum. */
const LEFT_AFTER_PX = 22;

/** The stroke that a drag has clearly left its lane for; null while it has not. */
export function laneLeftFor(state: BenchState, grabbed: PlacedHit, { y }: Point): NoteMeaning | null {
  const boxes = boxesOf(state);
  const own = boxes.find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const target = boxAt(boxes, y);
  // Behind the lane in front nothing can be reached, and a note without a name is no drum to go to.
  if (!own || !target || target === own || state.frontVoiceId !== null || isUnnamedVoice(target.voice.id)) return null;
  if (y > own.top - LEFT_AFTER_PX && y < own.top + own.height + LEFT_AFTER_PX) return null;
  const row = rowAtPoint(target, { x: 0, y });
  if (row) return { voiceId: target.voice.id, articulationId: row.id };
  const mark = own.voice.articulations.find(({ id }) => id === grabbed.hit.articulationId)?.mark ?? "none";
  return strokeLike(target.voice, { articulationId: grabbed.hit.articulationId, mark });
}

/** What dragging a hit up or down within its own lane means at a point. */
export type WithinLane =
  | { readonly kind: "loudness" }
  /** Another stroke of the same drum. */
  | { readonly kind: "stroke"; readonly meaning: NoteMeaning }
  /** Below the line that fins stand on: a fin is not made silent by a hand on its way to somewhere else. */
  | { readonly kind: "nothing" };

/** @param isMark whether the hit was grabbed by its mark in the row of its stroke, where height says nothing of loudness */
export function withinLane(state: BenchState, grabbed: PlacedHit, point: Point, isMark: boolean): WithinLane {
  const box = boxesOf(state).find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const row = box && rowAtPoint(box, point);
  if (row && !isUnnamedVoice(box.voice.id)) {
    const isOwn = row.id === grabbed.hit.articulationId;
    if (!isOwn) return { kind: "stroke", meaning: { voiceId: box.voice.id, articulationId: row.id } };
  }
  const floor = box ? (box.open ? box.base + UNDER_LINE_PX : box.top + box.height) : Number.POSITIVE_INFINITY;
  return isMark || row || point.y > floor ? { kind: "nothing" } : { kind: "loudness" };
}

const UNDER_LINE_PX = 4;
