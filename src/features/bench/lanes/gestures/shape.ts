import type { Edit, Hit } from "../../../../core/document/index.ts";
import { lineAt, type ShapePoint, setVelocities } from "../../../../core/dynamics/index.ts";
import { tickToX, xToTick } from "../../../../store/bench/viewport.ts";
import { auditionHit, hitCount } from "../../commands/actions.ts";
import { boxesOf } from "../lane-layout.ts";
import type { Point } from "../under-pointer.ts";
import type { Gesture, GestureStage } from "./gesture.ts";

/** A fin this near to the pointer takes its height, so that a slow hand misses none. */
const REACH_PX = 3;

/**
 * Draws loudness across the open lane: each fin that the pointer passes becomes as tall as the pointer is high; with Shift,
 * those between the press and the pointer lie on a straight line. If some of the lane's hits are picked, only those change.
 */
export function startShape({ bench, showNote }: GestureStage, start: Point, voiceId: string): Gesture {
  const { store } = bench;
  const state = store.getState();
  const lane = state.lanes.find((candidate) => candidate.voiceId === voiceId);
  const pickedOfLane = lane?.hits.filter((hit) => state.picked.has(hit.id)) ?? [];
  const reachable = new Set((pickedOfLane.length > 0 ? pickedOfLane : (lane?.hits ?? [])).map((hit) => hit.id));
  const drawn = new Map<string, { readonly hit: Hit; readonly velocity: number }>();
  let last = start;
  let lastSounded: string | null = null;
  let edit: Edit | null = null;
  let isRamp = false;

  const pointAt = ({ x, y }: Point): ShapePoint => {
    const box = boxesOf(store.getState()).find(({ voice }) => voice.id === voiceId);
    const height = box ? (box.base - y) / box.finHeight : 0;
    return { tick: xToTick(store.getState().viewport, x), velocity: Math.max(1, Math.min(127, height * 127)) };
  };
  /** The hits between two places, each with the height of the line between them. */
  const along = (a: Point, b: Point) => {
    const { viewport } = store.getState();
    const [from, to] = [Math.min(a.x, b.x) - REACH_PX, Math.max(a.x, b.x) + REACH_PX];
    const [first, second] = [pointAt(a), pointAt(b)];
    return (lane?.hits ?? []).flatMap((hit, row) => {
      const tick = lane!.cleaned.ticks[row]!;
      const x = tickToX(viewport, tick);
      if (!reachable.has(hit.id) || x < from || x > to) return [];
      return [{ hit, velocity: lineAt(first, second, tick) }];
    });
  };

  return {
    move(point, { isShift }) {
      isRamp = isShift;
      if (isShift) drawn.clear();
      const passed = along(isShift ? start : last, point);
      for (const one of passed) drawn.set(one.hit.id, one);
      last = point;
      const hits = [...drawn.values()].map(({ hit }) => hit);
      edit = setVelocities(hits, (hit) => drawn.get(hit.id)!.velocity);
      store.preview(edit);
      const newest = passed.at(-1)?.hit.id ?? null;
      if (newest !== null && newest !== lastSounded) auditionHit(bench, newest);
      lastSounded = newest ?? lastSounded;
      const velocity = Math.round(pointAt(point).velocity);
      const from = Math.round(pointAt(start).velocity);
      showNote({
        ...point,
        text: isShift ? `${hitCount(hits.length)}, ${from} to ${velocity}` : `${hitCount(hits.length)}, ${velocity}`,
      });
    },
    end() {
      if (!edit || drawn.size === 0) {
        store.endPreview();
        return;
      }
      const [from, to] = [Math.round(pointAt(start).velocity), Math.round(pointAt(last).velocity)];
      const name = lane?.voice.name ?? "";
      store.commit(
        isRamp
          ? `Ramp ${hitCount(drawn.size)} of ${name} ${from} → ${to}`
          : `Draw the loudness of ${hitCount(drawn.size)} of ${name}`,
        edit,
      );
    },
  };
}
