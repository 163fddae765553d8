import { type RefObject, useEffect, useState } from "react";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { xToTick, zoomAround } from "../../../store/bench/viewport.ts";
import { auditionHit, changeLoudness } from "../commands/actions.ts";
import { startCells } from "./gestures/cells.ts";
import { DRAG_AFTER_PX, startDriftDrag, startHitDrag } from "./gestures/drag-hits.ts";
import { startDrawing } from "./gestures/draw.ts";
import { startErasing } from "./gestures/erase.ts";
import type { DragNote, Gesture, GestureStage, HeldKeys } from "./gestures/gesture.ts";
import { startMarquee } from "./gestures/marquee.ts";
import { startShape } from "./gestures/shape.ts";
import { startTravel, TwoFingers } from "./gestures/travel.ts";
import { type Ghost, ghostAt } from "./ghost.ts";
import { zoomLanes } from "./lane-sizes.ts";
import {
  dotAtPoint,
  hitAtPoint,
  isBehind,
  isOverPicked,
  laneAt,
  type Marquee,
  markAtPoint,
  type Point,
} from "./under-pointer.ts";

/** A finger that rests this long has opened the menu of the place. */
const LONG_PRESS_MS = 650;
/** The button that opens menus elsewhere. */
const OTHER_BUTTON = 2;
const WHEEL_VELOCITY = 2;
/** How much nearer a turn of the wheel goes, for each px that it reports. */
const ZOOM_PER_PX = 0.0035;

/** Decides which gesture a press begins, and travels by wheel. Reads and writes the store; draws nothing itself. */
export function useLanePointer(bench: Bench, ref: RefObject<HTMLElement | null>) {
  const [note, setNote] = useState<DragNote | null>(null);
  const [marquee, setMarquee] = useState<Marquee | null>(null);
  const [ghost, setGhost] = useState<Ghost | null>(null);
  useEffect(() => {
    const field = ref.current;
    if (!field) return;
    const { store } = bench;
    const stage: GestureStage = { bench, showNote: setNote, showMarquee: setMarquee };
    const scroller = field.closest("[data-scrolls-lanes]");
    let gesture: Gesture | null = null;
    /** Where each finger is, of those that are down. */
    const fingers = new Map<number, Point>();
    let twoFingers: TwoFingers | null = null;
    let pressed: Point | null = null;
    let pressedMs = 0;
    let hasMoved = false;
    /** Whether the finger that was lifted last had asked for the menu, and for nothing else. */
    let hasRested = false;
    /** What the press means if the pointer is let go where it was pressed. */
    let ifClicked: (() => void) | null = null;

    const pointOf = (event: MouseEvent): Point => {
      const { left, top } = field.getBoundingClientRect();
      return { x: event.clientX - left, y: event.clientY - top };
    };
    const heldKeys = (event: PointerEvent): HeldKeys => {
      const { isShift, isAlt } = store.getState().heldForFingers;
      const isFinger = event.pointerType === "touch";
      return { isShift: event.shiftKey || (isFinger && isShift), isAlt: event.altKey || (isFinger && isAlt) };
    };

    /** What a press at a point begins. */
    const gestureAt = (start: Point, event: PointerEvent): Gesture | null => {
      const state = store.getState();
      const lane = laneAt(state, start);
      const isReachable = lane !== undefined && !isBehind(state, lane);
      const isOther = event.button === OTHER_BUTTON;
      if (state.tool === "erase" || (state.tool === "draw" && isOther)) {
        return isReachable ? startErasing(stage, start, lane.voiceId) : null;
      }
      if (state.tool === "draw") {
        if (!isReachable) return null;
        return (state.drawing.showsCells ? startCells : startDrawing)(stage, start, lane.voiceId);
      }
      const dot = dotAtPoint(state, start);
      if (dot) return startDriftDrag(stage, start, dot);
      const mark = markAtPoint(state, start);
      const { isShift, isAlt } = heldKeys(event);
      const grabbed = mark ?? hitAtPoint(state, start, isAlt);
      const isAdding = isShift || event.ctrlKey || event.metaKey;
      if (!grabbed) {
        // Alt draws loudness across any lane, from ground on which there is no hit to copy.
        if (isAlt && isReachable) return startShape(stage, start, lane.voiceId);
        const frame = () => startMarquee(stage, start, isAdding);
        return event.pointerType === "touch" && !isShift
          ? startTravel(stage, start, scroller, frame, () => performance.now())
          : frame();
      }
      const { id } = grabbed.hit;
      // What is picked may be about to be dragged, all of it: what a click means is done when it turns out to be one.
      if (!state.picked.has(id)) store.pick(isAdding ? new Set([...state.picked, id]) : new Set([id]));
      else if (isAdding) ifClicked = () => store.pick(without(state.picked, id));
      else if (state.picked.size > 1) ifClicked = () => store.pick(new Set([id]));
      auditionHit(bench, id);
      return startHitDrag(stage, start, grabbed, mark !== null);
    };

    const press = (event: PointerEvent) => {
      if (event.button !== 0 && !(event.button === OTHER_BUTTON && store.getState().tool === "draw")) return;
      field.setPointerCapture(event.pointerId);
      const start = pointOf(event);
      fingers.set(event.pointerId, start);
      const [first, second] = [...fingers.values()];
      if (first && second) {
        giveUp();
        twoFingers = new TwoFingers(stage, [first, second]);
        return;
      }
      pressed = start;
      pressedMs = performance.now();
      hasMoved = false;
      hasRested = false;
      ifClicked = null;
      setGhost(null);
      gesture = gestureAt(start, event);
      if (store.getState().tool !== "select") gesture?.move(start, heldKeys(event));
    };

    const move = (event: PointerEvent) => {
      const point = pointOf(event);
      bench.pointerTick = xToTick(store.getState().viewport, point.x);
      if (!fingers.has(event.pointerId)) {
        setGhost(event.pointerType === "touch" ? null : ghostAt(store.getState(), point, event.shiftKey));
        return;
      }
      if (pressed && Math.hypot(point.x - pressed.x, point.y - pressed.y) >= DRAG_AFTER_PX) {
        ifClicked = null;
        hasMoved = true;
      }
      fingers.set(event.pointerId, point);
      const [first, second] = [...fingers.values()];
      if (twoFingers && first && second) twoFingers.move([first, second]);
      else gesture?.move(point, heldKeys(event));
    };

    const release = (event: PointerEvent) => {
      fingers.delete(event.pointerId);
      // The finger that is left after two means nothing until it is lifted too.
      if (fingers.size === 0) twoFingers = null;
      hasRested = event.pointerType === "touch" && !hasMoved && performance.now() - pressedMs > LONG_PRESS_MS;
      if (hasRested) {
        giveUp();
        return;
      }
      gesture?.end();
      ifClicked?.();
      forget();
    };

    const leave = () => {
      bench.pointerTick = null;
      setGhost(null);
    };

    const forget = () => {
      gesture = null;
      pressed = null;
      ifClicked = null;
      setNote(null);
      setMarquee(null);
    };

    const giveUp = () => {
      store.endPreview();
      forget();
    };

    const cancel = (event: PointerEvent) => {
      fingers.delete(event.pointerId);
      giveUp();
    };

    const letGo = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || !gesture) return;
      event.stopPropagation();
      giveUp();
    };

    /** A browser takes a finger that is lifted for a press of the mouse as well, which would close the menu that it has opened. */
    const keepOpen = (event: TouchEvent) => {
      if (hasRested) event.preventDefault();
    };

    /** While drawing, the other button takes hits away and opens no menu. */
    const keepMenu = (event: MouseEvent) => {
      if (store.getState().tool !== "draw") return;
      event.preventDefault();
      event.stopPropagation();
    };

    const wheel = (event: WheelEvent) => {
      const { viewport, pattern } = store.getState();
      const hasMoreLanes = scroller !== null && scroller.scrollHeight > scroller.clientHeight + 1;
      if (event.ctrlKey || event.metaKey) {
        event.preventDefault();
        const factor = Math.exp(event.deltaY * ZOOM_PER_PX);
        store.setViewport(zoomAround(viewport, pointOf(event).x, factor, pattern.lengthTicks));
        return;
      }
      if (event.altKey) {
        event.preventDefault();
        zoomLanes(store, Math.exp(-event.deltaY * ZOOM_PER_PX));
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

    field.addEventListener("pointerdown", press);
    field.addEventListener("pointermove", move);
    field.addEventListener("pointerup", release);
    field.addEventListener("pointercancel", cancel);
    field.addEventListener("touchend", keepOpen, { passive: false });
    field.addEventListener("pointerleave", leave);
    field.addEventListener("contextmenu", keepMenu);
    field.addEventListener("wheel", wheel, { passive: false });
    window.addEventListener("keydown", letGo, { capture: true });
    return () => {
      field.removeEventListener("pointerdown", press);
      field.removeEventListener("pointermove", move);
      field.removeEventListener("pointerup", release);
      field.removeEventListener("pointercancel", cancel);
      field.removeEventListener("touchend", keepOpen);
      field.removeEventListener("pointerleave", leave);
      field.removeEventListener("contextmenu", keepMenu);
      field.removeEventListener("wheel", wheel);
      window.removeEventListener("keydown", letGo, { capture: true });
    };
  }, [bench, ref]);
  return { note, marquee, ghost };
}

function without(picked: ReadonlySet<string>, id: string): ReadonlySet<string> {
  const next = new Set(picked);
  next.delete(id);
  return next;
}
