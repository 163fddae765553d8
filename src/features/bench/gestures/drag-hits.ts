import { idOf } from "../../../components/stroke-choices.ts";
import { copiesOf, moveHitsBy, type PlacedHit, type Stroke, writeStrokes } from "../../../core/commands/index.ts";
import { type Edit, type NoteMeaning, strokeName } from "../../../core/document/index.ts";
import { pickedHits } from "../../../store/bench-selectors.ts";
import { auditionHit, hitCount } from "../actions.ts";
import { doAndSay } from "../do-and-say.ts";
import { type DragMove, type DragWords, loudnessEdit, moveAlong, moveDrift, revoicingEdit } from "../drag-edits.ts";
import { laneLeftFor, type Point } from "../under-pointer.ts";
import { write } from "../write-actions.ts";
import type { Gesture, GestureStage, HeldKeys } from "./gesture.ts";

/** The pointer may tremble this far before a click becomes a drag. */
const DRAG_AFTER_PX = 4;
const AUDITION_VELOCITY = 90;

/**
 * Drags what is picked, by one hit of it: along the lane in time, across it in loudness, clearly out of it to another drum.
 * Along, Shift holds to the lane's grid and Alt leaves the hits and takes copies; across, Shift keeps the shape and Alt the
 * middle.
 */
export function startHitDrag(stage: GestureStage, start: Point, grabbed: PlacedHit): Gesture {
  const { bench, showNote } = stage;
  const { store } = bench;
  let kind: "time" | "loudness" | null = null;
  let placed: readonly PlacedHit[] = [];
  let edit: Edit | null = null;
  /** How far hits are moved in time; the edit of thousands of them is made when they are let go. */
  let moved: DragMove | null = null;
  /** Copies that would be written where the pointer is; null if the hits themselves are moved. */
  let copies: readonly Stroke[] | null = null;
  let soundingId: string | null = null;

  const toOtherDrum = (target: NoteMeaning, { isAlt }: HeldKeys): DragWords => {
    const state = store.getState();
    // Hits that go to another drum stay where they are drawn until they are let go: lanes that come and go would jump.
    store.endPreview();
    if (soundingId !== idOf(target)) {
      void bench.playback.audition(target.voiceId, target.articulationId, AUDITION_VELOCITY);
    }
    soundingId = idOf(target);
    copies = isAlt ? copiesOf(placed, 0).map((stroke) => ({ ...stroke, ...target })) : null;
    const words = revoicingEdit(state, { grabbed, placed }, target);
    edit = words.edit;
    moved = null;
    return isAlt ? { ...words, text: `copy ${words.text}` } : words;
  };

  const inTime = (across: number, { isShift, isAlt }: HeldKeys): Pick<DragWords, "text"> => {
    const state = store.getState();
    moved = moveAlong(state, { grabbed, placed }, across, isShift);
    edit = null;
    copies = isAlt ? copiesOf(placed, moved.deltaTicks) : null;
    let turn = 0;
    if (copies) store.preview(writeStrokes(state.pattern, copies, () => `copy ${turn++}`));
    else store.previewMove(placed, moved.deltaTicks);
    return copies ? { text: `copy, ${moved.text}` } : moved;
  };

  return {
    move(point, held) {
      const across = point.x - start.x;
      const up = start.y - point.y;
      if (kind === null) {
        if (Math.hypot(across, up) < DRAG_AFTER_PX) return;
        // The first clear direction decides: along the lane moves in time, across it shapes loudness.
        kind = Math.abs(across) >= Math.abs(up) ? "time" : "loudness";
        placed = pickedHits(store.getState());
      }
      const target = laneLeftFor(store.getState(), grabbed, point);
      let words: Pick<DragWords, "text">;
      if (target) words = toOtherDrum(target, held);
      else if (kind === "time") words = inTime(across, held);
      else {
        const louder = loudnessEdit(store.getState(), { grabbed, placed }, up, held);
        [copies, moved, edit] = [null, null, louder.edit];
        store.preview(edit);
        words = louder;
      }
      if (!target) soundingId = null;
      showNote({ ...point, text: words.text });
    },
    end() {
      store.endPreview();
      if (moved) edit = moveHitsBy(store.getState().pattern, placed, moved.deltaTicks);
      if (!edit) return;
      const count = hitCount(placed.length);
      if (copies) {
        const strokes = copies;
        doAndSay(bench, () => write(bench, "Copy", strokes) ?? `Copied ${count}.`);
      } else if (edit.kind === "reassignHits") {
        const [change] = edit.changes;
        const name = change ? strokeName(store.getState().pattern.noteMap, change.to) : "";
        const moving = edit;
        doAndSay(bench, () => {
          store.commit(`Move ${count} to ${name}`, moving);
          return `Moved ${count} to ${name}.`;
        });
      } else store.commit(kind === "loudness" ? `Change the loudness of ${count}` : `Move ${count}`, edit);
      auditionHit(bench, grabbed.hit.id);
    },
  };
}

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
