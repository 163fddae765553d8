import type { Edit, TreatmentChange } from "../../core/document/index.ts";

/** An edit of nothing but settings. */
export type TreatmentEdit = Extract<Edit, { readonly kind: "setTreatments" }>;

type Listener = (changes: readonly TreatmentChange[] | null) => void;

/**
 * So often, at the most, the lanes themselves are treated anew while a setting is dragged: heard within a beat. A little less often
 * than what is said of them is read again (see `useSettled`), so that both fall into one frame.
 */
const SETTLE_MS = 420;

/**
 * A setting that is dragged. Treating thousands of hits on every frame, and telling all that shows or plays them, is more than a
 * frame has time for. So every change goes to those who treat for themselves, like the painter in its worker, and only now and
 * then to the lanes; without any of those, each change goes to the lanes.
 */
export class TreatmentDrag {
  readonly #listeners = new Set<Listener>();
  readonly #settle: (edit: TreatmentEdit) => void;
  #edit: TreatmentEdit | null = null;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #settledMs = Number.NEGATIVE_INFINITY;

  /** @param settle treats the lanes anew */
  constructor(settle: (edit: TreatmentEdit) => void) {
    this.#settle = settle;
  }

  /** @param listener called with every change of a drag, and with null when it is over. Returns what ends that. */
  listen(listener: Listener): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  show(edit: TreatmentEdit): void {
    this.#edit = edit;
    for (const listener of this.#listeners) listener(edit.changes);
    const waitMs = this.#listeners.size === 0 ? 0 : this.#settledMs + SETTLE_MS - performance.now();
    if (waitMs <= 0) this.#settleNow();
    else this.#timer ??= setTimeout(() => this.#settleNow(), waitMs);
  }

  /** What was dragged is done, or given up. */
  end(): void {
    if (!this.#edit) return;
    clearTimeout(this.#timer);
    this.#timer = undefined;
    this.#edit = null;
    this.#settledMs = Number.NEGATIVE_INFINITY;
    for (const listener of this.#listeners) listener(null);
  }

  #settleNow(): void {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    this.#settledMs = performance.now();
    if (this.#edit) this.#settle(this.#edit);
  }
}
