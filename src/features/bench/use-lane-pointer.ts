import { type RefObject, useEffect, useState } from "react";
import { toast } from "sonner";
import { idOf } from "../../components/stroke-choices.ts";
import { isUnnamedVoice, type NoteMeaning, strokeName } from "../../core/notemap/index.ts";
import {
  canWrite,
  changeVelocityBy,
  type Edit,
  moveHitsBy,
  type PlacedHit,
  revoiceHits,
  type Stroke,
  writeStrokes,
} from "../../core/part/index.ts";
import { formatBarBeat, gridStepTicks, msToTick, nearestSlots, tickToMs } from "../../core/time/index.ts";
import type { Bench } from "../../store/bench-context.ts";
import { type BenchState, pickedHits, visibleLanes } from "../../store/bench-store.ts";
import { type LaneView, sideOf } from "../../store/lane-view.ts";
import { tickToX, xToTick, zoomAround } from "../../store/viewport.ts";
import { auditionHit, changeLoudness, hitCount } from "./actions.ts";
import { strokeLike } from "./lane-actions.ts";
import {
  ARTICULATION_HEIGHT,
  boxAt,
  finHeightOf,
  type LaneBox,
  layoutLanes,
  type OpenBox,
  RAIL_MS,
} from "./lane-layout.ts";
import { drawnTick, strokeOfLane, write } from "./write-actions.ts";

/** What a drag is doing, to be shown at the pointer. */
export interface DragNote {
  readonly x: number;
  readonly y: number;
  readonly text: string;
}

export interface Marquee {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

interface Point {
  readonly x: number;
  readonly y: number;
}

/** A drag of hits: the one under the pointer and all that go with it, as they were when it began. */
interface Drag {
  readonly kind: "moving" | "loudness" | "drift";
  readonly start: Point;
  readonly grabbed: PlacedHit;
  readonly placed: readonly PlacedHit[];
  edit: Edit | null;
  /** The stroke of another lane that was sounded last, as the pointer is over it. */
  soundingId: string | null;
}

type Gesture =
  | { readonly kind: "pressed"; readonly start: Point; readonly grabbed: PlacedHit }
  | Drag
  | {
      readonly kind: "drawing";
      readonly start: Point;
      readonly voiceId: string;
      readonly strokes: Map<number, Stroke>;
      lastX: number;
      edit: Edit | null;
    }
  | { readonly kind: "marquee"; readonly start: Point; readonly before: ReadonlySet<string> };

const REACH_LEFT_PX = 5;
const REACH_RIGHT_PX = 12;
/** The pointer may tremble this far before a click becomes a drag. */
const DRAG_AFTER_PX = 4;

/** Picks, moves and shapes hits by pointer, and travels by wheel. Reads and writes the store; draws nothing itself. */
export function useLanePointer(bench: Bench, ref: RefObject<HTMLCanvasElement | null>) {
  const [note, setNote] = useState<DragNote | null>(null);
  const [marquee, setMarquee] = useState<Marquee | null>(null);
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas) return;
    const { store } = bench;
    let gesture: Gesture | null = null;

    const pointOf = (event: MouseEvent): Point => {
      const { left, top } = canvas.getBoundingClientRect();
      return { x: event.clientX - left, y: event.clientY - top };
    };

    const press = (event: PointerEvent) => {
      if (event.button !== 0) return;
      canvas.setPointerCapture(event.pointerId);
      const start = pointOf(event);
      const state = store.getState();
      if (state.isDrawing) {
        const lane = laneAt(state, start);
        if (!lane || isBehind(state, lane)) return;
        gesture = { kind: "drawing", start, voiceId: lane.voiceId, strokes: new Map(), lastX: start.x, edit: null };
        draw(gesture, start, event.shiftKey);
        return;
      }
      const onRail = dotAtPoint(state, start);
      if (onRail) {
        if (!state.picked.has(onRail.hit.id)) store.pick(new Set([onRail.hit.id]));
        const placed = pickedHits(store.getState());
        gesture = { kind: "drift", start, grabbed: onRail, placed, edit: null, soundingId: null };
        return;
      }
      const grabbed = hitAtPoint(state, start);
      const isAdding = event.shiftKey || event.ctrlKey || event.metaKey;
      if (!grabbed) {
        const before = isAdding ? state.picked : new Set<string>();
        gesture = { kind: "marquee", start, before };
        store.pick(before);
        return;
      }
      const { id } = grabbed.hit;
      if (isAdding) store.pick(toggled(state.picked, id));
      else if (!state.picked.has(id)) store.pick(new Set([id]));
      auditionHit(bench, id);
      gesture = { kind: "pressed", start, grabbed };
    };

    const drag = (event: PointerEvent) => {
      if (!gesture) return;
      const point = pointOf(event);
      const { start } = gesture;
      if (gesture.kind === "drawing") {
        draw(gesture, point, event.shiftKey);
        return;
      }
      if (gesture.kind === "marquee") {
        const area = areaBetween(start, point);
        setMarquee(area);
        store.pick(new Set([...gesture.before, ...hitsInArea(store.getState(), area)]));
        return;
      }
      const across = point.x - start.x;
      const up = start.y - point.y;
      if (gesture.kind === "pressed") {
        if (Math.hypot(across, up) < DRAG_AFTER_PX) return;
        // The first clear direction decides: along the lane moves in time, across it shapes loudness.
        const kind = Math.abs(across) >= Math.abs(up) ? "moving" : "loudness";
        gesture = {
          kind,
          start,
          grabbed: gesture.grabbed,
          placed: pickedHits(store.getState()),
          edit: null,
          soundingId: null,
        };
      }
      const state = store.getState();
      const target = gesture.kind === "drift" ? null : laneLeftFor(state, gesture, point);
      const { edit, text } = target
        ? revoicingEdit(state, gesture, target)
        : gesture.kind === "moving"
          ? movingEdit(state, gesture, across, event.shiftKey)
          : gesture.kind === "drift"
            ? driftEdit(state, gesture, up)
            : loudnessEdit(state, gesture, up);
      gesture.edit = edit;
      // Hits that go to another drum stay where they are drawn until they are let go: lanes that come and go would jump.
      if (target) store.endPreview();
      else store.preview(edit);
      const soundingId = target ? idOf(target) : null;
      if (target && soundingId !== gesture.soundingId) {
        void bench.playback.audition(target.voiceId, target.articulationId, AUDITION_VELOCITY);
      }
      gesture.soundingId = soundingId;
      setNote({ x: point.x, y: point.y, text });
    };

    /** Draws from where the pointer was to where it is now, in the lane in which the drawing began. */
    const draw = (drawing: Gesture & { kind: "drawing" }, point: Point, isFree: boolean) => {
      const state = store.getState();
      const lane = state.lanes.find(({ voiceId }) => voiceId === drawing.voiceId);
      if (!lane) return;
      if (!canWrite(state.pattern)) {
        toast("No track of this take counts as drums.", { id: "command" });
        return;
      }
      const { articulationId, velocity } = strokeOfLane(lane, state.picked);
      const box = layoutLanes(visibleLanes(state), state.openVoiceId).find(({ voice }) => voice.id === lane.voiceId);
      const finHeight = box?.finHeight ?? 40;
      // In the open lane a fin is as tall as the pointer is high; slim ones change from what they were last.
      const wanted = box?.open
        ? ((box.base - point.y) / finHeight) * 127
        : velocity + ((drawing.start.y - point.y) / finHeight) * 127;
      const loudness = Math.max(1, Math.min(127, Math.round(wanted)));
      const taken = lane.cleaned.ticks;
      const near = gridStepTicks(lane.treatment.timing.grid, state.maps.meterMap.ppq) * 0.3;
      const steps = isFree ? 1 : Math.max(1, Math.ceil(Math.abs(point.x - drawing.lastX) / 3));
      for (let step = 1; step <= steps; step++) {
        const x = drawing.lastX + ((point.x - drawing.lastX) * step) / steps;
        const tick = drawnTick(state, lane, xToTick(state.viewport, x), isFree);
        const isTaken = !drawing.strokes.has(tick) && taken.some((other) => Math.abs(other - tick) < near);
        // What is there already stays as it is.
        if (isTaken || (isFree && drawing.strokes.size > 0)) continue;
        if (!drawing.strokes.has(tick)) void bench.playback.audition(lane.voiceId, articulationId, loudness);
        drawing.strokes.set(tick, { voiceId: lane.voiceId, articulationId, tick, velocity: loudness });
      }
      drawing.lastX = point.x;
      let turn = 0;
      if (drawing.strokes.size > 0) {
        store.preview(writeStrokes(state.pattern, [...drawing.strokes.values()], () => `drawn ${turn++}`));
      }
      setNote({ x: point.x, y: point.y, text: `${drawing.strokes.size} drawn, velocity ${loudness}` });
    };

    const release = () => {
      if (gesture?.kind === "drawing" && gesture.strokes.size > 0) {
        store.endPreview();
        const words = write(bench, "Draw", [...gesture.strokes.values()]);
        if (words) toast(words, { id: "command" });
      } else if (gesture && "placed" in gesture && gesture.edit) {
        const { edit, kind, grabbed } = gesture;
        const { placed } = gesture;
        const count = hitCount(placed.length);
        if (edit.kind === "reassignHits") {
          const [change] = edit.changes;
          const name = change ? strokeName(store.getState().pattern.noteMap, change.to) : "";
          store.commit(`Move ${count} to ${name}`, edit);
          toast(`Moved ${count} to ${name}.`, { id: "command" });
        } else store.commit(kind === "loudness" ? `Change the loudness of ${count}` : `Move ${count}`, edit);
        auditionHit(bench, grabbed.hit.id);
      }
      end();
    };

    const end = () => {
      gesture = null;
      setNote(null);
      setMarquee(null);
    };

    const giveUp = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || !gesture) return;
      event.stopPropagation();
      store.endPreview();
      end();
    };

    const wheel = (event: WheelEvent) => {
      const { viewport, pattern } = store.getState();
      const scroller = canvas.closest("[data-scrolls-lanes]");
      const hasMoreLanes = scroller !== null && scroller.scrollHeight > scroller.clientHeight + 1;
      if (event.ctrlKey || event.metaKey) {
        event.preventDefault();
        store.setViewport(zoomAround(viewport, pointOf(event).x, Math.exp(event.deltaY * 0.0035), pattern.lengthTicks));
        return;
      }
      const steps = Math.sign(-event.deltaY) * WHEEL_VELOCITY;
      if (steps !== 0 && isOverPicked(store.getState(), pointOf(event))) {
        event.preventDefault();
        changeLoudness(bench, steps);
        return;
      }
      const isSideways = Math.abs(event.deltaX) > Math.abs(event.deltaY) || event.shiftKey || !hasMoreLanes;
      if (!isSideways) return;
      event.preventDefault();
      const distance = Math.abs(event.deltaX) > Math.abs(event.deltaY) ? event.deltaX : event.deltaY;
      store.setViewport({ ...viewport, startTick: viewport.startTick + distance * viewport.ticksPerPx });
    };

    canvas.addEventListener("pointerdown", press);
    canvas.addEventListener("pointermove", drag);
    canvas.addEventListener("pointerup", release);
    canvas.addEventListener("pointercancel", end);
    canvas.addEventListener("wheel", wheel, { passive: false });
    window.addEventListener("keydown", giveUp, { capture: true });
    return () => {
      canvas.removeEventListener("pointerdown", press);
      canvas.removeEventListener("pointermove", drag);
      canvas.removeEventListener("pointerup", release);
      canvas.removeEventListener("pointercancel", end);
      canvas.removeEventListener("wheel", wheel);
      window.removeEventListener("keydown", giveUp, { capture: true });
    };
  }, [bench, ref]);
  return { note, marquee };
}

/** The pointer must be this far outside of its lane before a drag goes to another drum. */
const LEFT_AFTER_PX = 22;
const AUDITION_VELOCITY = 90;

/** The stroke that a drag has clearly left its lane for; null while it has not. */
function laneLeftFor(state: BenchState, { grabbed }: Drag, { y }: Point): NoteMeaning | null {
  const boxes = layoutLanes(visibleLanes(state), state.openVoiceId);
  const own = boxes.find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const target = boxAt(boxes, y);
  // Behind the lane in front nothing can be reached, and a note without a name is no drum to go to.
  if (!own || !target || target === own || state.frontVoiceId !== null || isUnnamedVoice(target.voice.id)) return null;
  if (y > own.top - LEFT_AFTER_PX && y < own.top + own.height + LEFT_AFTER_PX) return null;
  const row = target.open?.articulations.find(({ middle }) => Math.abs(middle - y) <= ARTICULATION_HEIGHT / 2);
  if (row) return { voiceId: target.voice.id, articulationId: row.id };
  const mark = own.voice.articulations.find(({ id }) => id === grabbed.hit.articulationId)?.mark ?? "none";
  return strokeLike(target.voice, { articulationId: grabbed.hit.articulationId, mark });
}

function revoicingEdit(state: BenchState, { placed }: Drag, meaning: NoteMeaning) {
  const hits = placed.map(({ hit }) => hit);
  const name = strokeName(state.pattern.noteMap, meaning);
  return { edit: revoiceHits(state.pattern, hits, meaning), text: `to ${name}` };
}

function toggled(picked: ReadonlySet<string>, id: string): ReadonlySet<string> {
  const next = new Set(picked);
  if (!next.delete(id)) next.add(id);
  return next;
}

const WHEEL_VELOCITY = 2;

/** Whether the pointer is over a picked fin of the open lane, where the wheel changes loudness. */
function isOverPicked(state: BenchState, point: Point): boolean {
  const grabbed = hitAtPoint(state, point);
  return grabbed !== null && grabbed.hit.voiceId === state.openVoiceId && state.picked.has(grabbed.hit.id);
}

function laneAt(state: BenchState, { y }: Point): LaneView | undefined {
  const box = boxAt(layoutLanes(visibleLanes(state), state.openVoiceId), y);
  return state.lanes.find(({ voiceId }) => voiceId === box?.voice.id);
}

/** The dot of the drift rail under a point. */
function dotAtPoint(state: BenchState, { x, y }: Point): PlacedHit | null {
  const lane = laneAt(state, { x, y });
  const box = layoutLanes(visibleLanes(state), state.openVoiceId).find(({ voice }) => voice.id === lane?.voiceId);
  if (!lane || !box?.open || isBehind(state, lane) || Math.abs(y - box.open.railZero) > box.open.railReach) return null;
  const { ticks } = lane.cleaned;
  const near = [...ticks.keys()].filter((row) => Math.abs(tickToX(state.viewport, ticks[row]!) - x) <= REACH_LEFT_PX);
  const row = near.find((candidate) => Math.abs(railY(state, lane, box.open!, candidate) - y) <= REACH_LEFT_PX + 2);
  return row === undefined ? null : { hit: lane.hits[row]!, tick: ticks[row]! };
}

function railY({ maps }: BenchState, lane: LaneView, open: OpenBox, row: number): number {
  const driftMs = lane.timesMs.cleaned[row]! - tickToMs(maps.tempoMap, lane.cleaned.slotTicks[row]!);
  return open.railZero - (Math.max(-RAIL_MS, Math.min(RAIL_MS, driftMs)) / RAIL_MS) * open.railReach;
}

/** Up is later, as the rail is drawn. */
function driftEdit(state: BenchState, { grabbed, placed }: Drag, upPx: number) {
  const { meterMap, tempoMap } = state.maps;
  const box = layoutLanes(visibleLanes(state), state.openVoiceId).find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const ms = (upPx / (box?.open?.railReach ?? RAIL_MS)) * RAIL_MS;
  const tick = msToTick(tempoMap, tickToMs(tempoMap, grabbed.tick) + ms);
  const edit = moveHitsBy(state.pattern, placed, tick - grabbed.tick);
  const lane = state.lanes.find(({ voiceId }) => voiceId === grabbed.hit.voiceId) as LaneView;
  const { slotTick } = nearestSlots(lane.treatment.timing.grid, meterMap, tick);
  return { edit, text: driftWords(Math.round((tickToMs(tempoMap, tick) - tickToMs(tempoMap, slotTick)) * 10) / 10) };
}

/** The fin under a point: in its lane, not far from its edge. */
function hitAtPoint(state: BenchState, { x, y }: Point): PlacedHit | null {
  const boxes = layoutLanes(visibleLanes(state), state.openVoiceId);
  const box = boxAt(boxes, y);
  const lane = state.lanes.find((candidate) => candidate.voiceId === box?.voice.id);
  if (!box || !lane || isBehind(state, lane)) return null;
  const { ticks, velocities } = sideOf(lane, state.side);
  let best = -1;
  let bestDistance = Number.POSITIVE_INFINITY;
  for (let row = 0; row < ticks.length; row++) {
    const distance = x - tickToX(state.viewport, ticks[row]!);
    if (distance < -REACH_LEFT_PX || distance > REACH_RIGHT_PX || Math.abs(distance) >= bestDistance) continue;
    if (box.open && !isOnFin(box, velocities[row]!, y)) continue;
    best = row;
    bestDistance = Math.abs(distance);
  }
  return best === -1 ? null : { hit: lane.hits[best]!, tick: lane.cleaned.ticks[best]! };
}

/** Behind the lane in front, nothing can be reached. */
function isBehind({ frontVoiceId }: BenchState, lane: LaneView): boolean {
  return frontVoiceId !== null && frontVoiceId !== lane.voiceId;
}

function isOnFin(box: LaneBox, velocity: number, y: number): boolean {
  return y >= box.base - finHeightOf(box, velocity) - 10 && y <= box.base + 10;
}

function areaBetween(a: Point, b: Point): Marquee {
  return { left: Math.min(a.x, b.x), top: Math.min(a.y, b.y), width: Math.abs(a.x - b.x), height: Math.abs(a.y - b.y) };
}

function hitsInArea(state: BenchState, area: Marquee): string[] {
  const boxes = layoutLanes(visibleLanes(state), state.openVoiceId);
  const firstTick = xToTick(state.viewport, area.left);
  const lastTick = xToTick(state.viewport, area.left + area.width);
  return visibleLanes(state).flatMap((lane, index) => {
    const box = boxes[index]!;
    const { ticks, velocities } = sideOf(lane, state.side);
    return lane.hits.flatMap((hit, row) => {
      const finTop = box.base - finHeightOf(box, velocities[row]!);
      const isInside =
        ticks[row]! >= firstTick && ticks[row]! <= lastTick && finTop <= area.top + area.height && box.base >= area.top;
      return isInside ? [hit.id] : [];
    });
  });
}

/** Everything is measured from where the hits were when the drag began. */
function movingEdit(state: BenchState, { grabbed, placed }: Drag, acrossPx: number, isSnapped: boolean) {
  const { meterMap, tempoMap } = state.maps;
  const lane = state.lanes.find(({ voiceId }) => voiceId === grabbed.hit.voiceId) as LaneView;
  const { grid } = lane.treatment.timing;
  const freeTick = grabbed.tick + acrossPx * state.viewport.ticksPerPx;
  const targetTick = isSnapped ? nearestSlots(grid, meterMap, freeTick).slotTick : freeTick;
  const edit = moveHitsBy(state.pattern, placed, targetTick - grabbed.tick);
  const landing =
    edit.kind === "moveHits" ? (edit.moves.find(({ hitId }) => hitId === grabbed.hit.id)?.toTick ?? 0) : 0;
  const { slotTick } = nearestSlots(grid, meterMap, landing);
  const driftMs = Math.round(tickToMs(tempoMap, landing) - tickToMs(tempoMap, slotTick));
  return { edit, text: `${formatBarBeat(meterMap, landing)}, ${driftWords(driftMs)}` };
}

function loudnessEdit(state: BenchState, { grabbed, placed }: Drag, upPx: number) {
  const box = layoutLanes(visibleLanes(state), state.openVoiceId).find(({ voice }) => voice.id === grabbed.hit.voiceId);
  const delta = Math.round((upPx / (box?.finHeight ?? 40)) * 127);
  const edit = changeVelocityBy(
    placed.map(({ hit }) => hit),
    delta,
  );
  const velocity =
    edit.kind === "setVelocity" ? edit.changes.find(({ hitId }) => hitId === grabbed.hit.id)?.toVelocity : null;
  return { edit, text: `velocity ${velocity ?? ""}` };
}

export function driftWords(ms: number): string {
  return ms === 0 ? "on the slot" : `${Math.round(Math.abs(ms) * 10) / 10} ms ${ms > 0 ? "late" : "early"}`;
}
