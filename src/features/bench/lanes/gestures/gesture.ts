import type { Bench } from "../../../../store/bench/bench-context.ts";
import type { Marquee, Point } from "../under-pointer.ts";

/** What a gesture is doing, to be shown at the pointer. */
export interface DragNote {
  readonly x: number;
  readonly y: number;
  readonly text: string;
}

/** Keys that are held during a gesture and change what it does. */
export interface HeldKeys {
  readonly isShift: boolean;
  readonly isAlt: boolean;
}

/** What gestures need to know and to show. */
export interface GestureStage {
  readonly bench: Bench;
  showNote(note: DragNote | null): void;
  showMarquee(marquee: Marquee | null): void;
}

/** Something that a pointer does from press to release. Until it ends it only shows what it would do. */
export interface Gesture {
  move(point: Point, held: HeldKeys): void;
  /** The pointer was let go: what is shown is done. */
  end(): void;
}
