import { idOf } from "../../../../components/sentence/stroke-choices.ts";
import { copiesOf, moveHitsBy, type PlacedHit, type Stroke, writeStrokes } from "../../../../core/commands/index.ts";
import { type Edit, type NoteMeaning, strokeName } from "../../../../core/document/index.ts";
import { pickedHits } from "../../../../store/bench/bench-selectors.ts";
import { auditionHit, hitCount } from "../../commands/actions.ts";
import { doAndSay } from "../../commands/do-and-say.ts";
import { write } from "../../commands/write-actions.ts";
import { type DragMove, type DragWords, loudnessEdit, moveAlong, moveDrift, revoicingEdit } from "../drag-edits.ts";
import { laneLeftFor, type Point, withinLane } from "../under-pointer.ts";
import type { Gesture, GestureStage, HeldKeys } from "./gesture.ts";

/** The pointer may tremble this far before a click becomes a drag. */
export const DRAG_AFTER_PX = 4;
const AUDITION_VELOCITY = 90;

/**
 * Drags what is picked, by one hit of it: along the lane in time, across it in loudness or onto the row of another stroke, clearly
 * out of it to another drum. Along, Shift holds to the lane's grid and Alt leaves the hits and takes copies; across, Shift keeps the
 * shape and Alt the middle.
 * @param isMark whether it was grabbed by its mark in the row of its stroke
 */
export function startHitDrag(stage: GestureStage, start: Point, grabbed: PlacedHit, isMark = false): Gesture {
  const { bench, showNote } = stage;
  const { store } = bench;
  let kind: "along" | "across" | null = null;
  let placed: readonly PlacedHit[] = [];
  let edit: Edit | null = null;
  /** How far hits are moved in time; the edit of thousands of them is made when they are let go. */
  let moved: DragMove | null = null;
  /** Copies that would be written where the pointer is; null if the hits themselves are moved. */
  let copies: readonly Stroke[] | null = null;
  let soundingId: string | null = null;

  const nothing = (text: string): Words => {
    [copies, moved, edit] = [null, null, null];
    store.endPreview();
    return { text };
  };

  const sound = (target: NoteMeaning) => {
    if (soundingId !== idOf(target)) {
      void bench.playback.audition(target.voiceId, target.articulationId, AUDITION_VELOCITY);
    }
    soundingId = idOf(target);
  };

  const toOtherDrum = (target: NoteMeaning, { isAlt }: HeldKeys): Words => {
    const state = store.getState();
    // Hits that go to another drum stay where they are drawn until they are let go: lanes that come and go would jump.
    store.endPreview();
    sound(target);
    copies = isAlt ? copiesOf(placed, 0).map((stroke) => ({ ...stroke, ...target })) : null;
    const words = revoicingEdit(state, { grabbed, placed }, target);
    edit = words.edit;
    moved = null;
    return isAlt ? { text: `copy ${words.text}` } : words;
  };

  const toOtherStroke = (target: NoteMeaning): Words => {
    // Hits of other drums that are picked, too, have no such stroke and stay what they are.
    const own = placed.filter(({ hit }) => hit.voiceId === target.voiceId);
    const words = revoicingEdit(store.getState(), { grabbed, placed: own }, target);
    [copies, moved, edit] = [null, null, words.edit];
    sound(target);
    store.preview(edit);
    return words;
  };

  const along = (across: number, { isShift, isAlt }: HeldKeys): Words => {
    const state = store.getState();
    moved = moveAlong(state, { grabbed, placed }, across, isShift);
    edit = null;
    copies = isAlt ? copiesOf(placed, moved.deltaTicks) : null;
    let turn = 0;
    if (copies) store.preview(writeStrokes(state.pattern, copies, () => `copy ${turn++}`));
    else store.previewMove(placed, moved.deltaTicks);
    return copies ? { text: `copy, ${moved.text}` } : moved;
  };

  const across = (point: Point, held: HeldKeys): Words => {
    const within = withinLane(store.getState(), grabbed, point, isMark);
    if (within.kind === "stroke") return toOtherStroke(within.meaning);
    soundingId = null;
    if (within.kind === "nothing") return nothing("as it was");
    const louder = loudnessEdit(store.getState(), { grabbed, placed }, start.y - point.y, held);
    [copies, moved, edit] = [null, null, louder.edit];
    store.preview(edit);
    return louder;
  };

  return {
    move(point, held) {
      const [acrossPx, upPx] = [point.x - start.x, start.y - point.y];
      if (kind === null) {
        if (Math.hypot(acrossPx, upPx) < DRAG_AFTER_PX) return;
        // The first clear direction decides.
        kind = Math.abs(acrossPx) >= Math.abs(upPx) ? "along" : "across";
        placed = pickedHits(store.getState());
      }
      const target = laneLeftFor(store.getState(), grabbed, point);
      const { text } = target
        ? toOtherDrum(target, held)
        : kind === "along"
          ? along(acrossPx, held)
          : across(point, held);
      const many = placed.length > 1 ? `${hitCount(placed.length)}: ` : "";
      showNote({ ...point, text: `${many}${text}` });
    },
    end() {
      store.endPreview();
      if (moved && !copies) edit = moveHitsBy(store.getState().pattern, placed, moved.deltaTicks);
      const count = hitCount(placed.length);
      if (copies) {
        const strokes = copies;
        doAndSay(bench, () => write(bench, "Copy", strokes) ?? `Copied ${count}.`);
      } else if (edit?.kind === "reassignHits") {
        const { changes } = edit;
        const [change] = changes;
        const moving = edit;
        const name = change ? strokeName(store.getState().pattern.noteMap, change.to) : "";
        doAndSay(bench, () => {
          store.commit(`Move ${hitCount(changes.length)} to ${name}`, moving);
          return `Moved ${hitCount(changes.length)} to ${name}.`;
        });
      } else if (edit) store.commit(kind === "across" ? `Change the velocity of ${count}` : `Move ${count}`, edit);
      else return;
      auditionHit(bench, grabbed.hit.id);
    },
  };
}

type Words = Pick<DragWords, "text">;

/** Drags what is picked earlier or later by a dot of the drift rail. */
export function startDriftDrag({ bench, showNote }: GestureStage, start: Point, grabbed: PlacedHit): Gesture {
  const { store } = bench;
  if (!store.getState().picked.has(grabbed.hit.id)) store.pick(new Set([grabbed.hit.id]));
  const placed = pickedHits(store.getState());
  let moved: DragMove | null = null;
  return {
    move(point) {
      moved = moveDrift(store.getState(), { grabbed, placed }, start.y - point.y);
      store.previewMove(placed, moved.deltaTicks);
      showNote({ ...point, text: moved.text });
    },
    end() {
      if (!moved) return;
      store.commit(`Move ${hitCount(placed.length)}`, moveHitsBy(store.getState().pattern, placed, moved.deltaTicks));
      auditionHit(bench, grabbed.hit.id);
    },
  };
}
