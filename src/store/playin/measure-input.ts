import { MEASURED_STROKES, measureLatency } from "../../core/record/index.ts";
import type { Playback } from "../playback/playback.ts";
import type { PlayInStore } from "./play-in-state.ts";

/** How the click goes that strokes are measured by: two beats to listen, and some to spare. */
const CLICK_EVERY_MS = 600;
const CLICKS_TO_LISTEN = 2;
const CLICKS_TO_SPARE = 2;
const BEGINS_AFTER_MS = 300;
/** A stroke may be late by as much. */
const WAIT_MS = 300;

/** Measures how late an input is: a click sounds, and whoever plays strikes with it. */
export class InputMeasure {
  readonly #playback: Playback;
  readonly #state: PlayInStore;
  #strokes: { readonly audioMs: number; readonly input: string }[] = [];
  #timer: ReturnType<typeof setTimeout> | undefined;

  constructor(playback: Playback, state: PlayInStore) {
    this.#playback = playback;
    this.#state = state;
  }

  get isOn(): boolean {
    return this.#state.getState().measuring?.kind === "striking";
  }

  /** Begins the click. The result is in the state when it is over. */
  async start(): Promise<void> {
    const now = await this.#playback.prepareClock();
    this.#strokes = [];
    this.#state.setState({ measuring: { kind: "striking", strokes: 0 } });
    const clicks = Array.from(
      { length: CLICKS_TO_LISTEN + MEASURED_STROKES + CLICKS_TO_SPARE },
      (_, index) => now.audioMs + BEGINS_AFTER_MS + index * CLICK_EVERY_MS,
    );
    for (const [index, clickMs] of clicks.entries())
      this.#playback.strike("click", index < CLICKS_TO_LISTEN ? "countBeat" : "beat", 100, clickMs);
    const lastsMs = clicks.at(-1)! - now.audioMs + WAIT_MS;
    this.#timer = setTimeout(() => this.#finish(clicks), lastsMs);
  }

  /** @param audioMs when it was struck against what is heard, with nothing taken off */
  strike(audioMs: number, input: string): void {
    this.#strokes.push({ audioMs, input });
    this.#state.setState({ measuring: { kind: "striking", strokes: this.#strokes.length } });
  }

  cancel(): void {
    clearTimeout(this.#timer);
    this.#state.setState({ measuring: null });
  }

  #finish(clicks: readonly number[]): void {
    const input = this.#strokes.at(-1)?.input ?? "";
    const strokes = this.#strokes.flatMap((stroke) => (stroke.input === input ? [stroke.audioMs] : []));
    this.#state.setState({ measuring: { kind: "done", input, result: measureLatency(strokes, clicks) } });
  }
}
