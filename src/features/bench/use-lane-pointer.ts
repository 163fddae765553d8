import { type RefObject, useEffect, useState } from "react";
import { toast } from "sonner";
import { idOf } from "../../components/stroke-choices.ts";
import { strokeName } from "../../core/notemap/index.ts";
import { canWrite, type Edit, type PlacedHit, type Stroke, writeStrokes } from "../../core/part/index.ts";
import { gridStepTicks } from "../../core/time/index.ts";
import type { Bench } from "../../store/bench-context.ts";
import { pickedHits, visibleLanes } from "../../store/bench-store.ts";
import { xToTick, zoomAround } from "../../store/viewport.ts";
import { auditionHit, changeLoudness, hitCount } from "./actions.ts";
import { type Dragged, driftEdit, loudnessEdit, movingEdit, revoicingEdit } from "./drag-edits.ts";
import { layoutLanes } from "./lane-layout.ts";
import {
  areaBetween,
  dotAtPoint,
  hitAtPoint,
  hitsInArea,
  isBehind,
  isOverPicked,
  laneAt,
  laneLeftFor,
  type Marquee,
  type Point,
} from "./under-pointer.ts";
import { drawnTick, strokeOfLane, write } from "./write-actions.ts";

/** What a drag is doing, to be shown at the pointer. */
export interface DragNote {
  readonly x: number;
  readonly y: number;
  readonly text: string;
}

/** A drag of hits: the one under the pointer and all that go with it, as they were when it began. */
interface Drag extends Dragged {
  readonly kind: "moving" | "loudness" | "drift";
  readonly start: Point;
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
    }
  | { readonly kind: "marquee"; readonly start: Point; readonly before: ReadonlySet<string> };

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
        gesture = { kind: "drawing", start, voiceId: lane.voiceId, strokes: new Map(), lastX: start.x };
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
      const target = gesture.kind === "drift" ? null : laneLeftFor(state, gesture.grabbed, point);
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

const AUDITION_VELOCITY = 90;
function toggled(picked: ReadonlySet<string>, id: string): ReadonlySet<string> {
  const next = new Set(picked);
  if (!next.delete(id)) next.add(id);
  return next;
}

const WHEEL_VELOCITY = 2;
