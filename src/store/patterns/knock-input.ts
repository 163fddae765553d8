import { createStore } from "zustand/vanilla";
import type { Family } from "../../core/document/index.ts";
import { type Knock, weightOf } from "../../core/pattern/index.ts";
import { type ClockPair, fitClock } from "../../core/record/index.ts";
import type { Playback } from "../playback/playback.ts";

/** A stroke as it was heard, in quarters of the click from its first bar line. */
export interface HeardStroke {
  readonly family: Family;
  readonly quarters: number;
  /** 1 to 127. */
  readonly velocity: number;
}

export interface KnockState {
  readonly phase: "idle" | "countIn" | "listening";
  readonly strokes: readonly HeardStroke[];
  /** How many bars are listened to; 0 without a click, until nothing comes any more. */
  readonly bars: number;
  readonly bpm: number;
  readonly barQuarters: number;
  readonly hasClick: boolean;
  /** Whether all of it may be any drum: it was knocked on one. */
  readonly isAnyDrum: boolean;
}

const BEGINS_AFTER_MS = 250;
const SILENCE_MS = 2500;
/** Strokes so much ahead of the first bar line belong to it. */
const EARLY_QUARTERS = 0.25;
const MOST_HEARD = 400;

/** Listens to a knock: over a click, or free of tempo. */
export class KnockInput {
  readonly state;
  readonly #playback: Playback;
  #pair: ClockPair | null = null;
  #startMs: number | null = null;
  #timers: ReturnType<typeof setTimeout>[] = [];

  constructor(playback: Playback, bpm: number, barQuarters: number) {
    this.#playback = playback;
    this.state = createStore<KnockState>(() => ({
      phase: "idle",
      strokes: [],
      bars: 2,
      bpm,
      barQuarters,
      hasClick: true,
      isAnyDrum: false,
    }));
  }

  get isOn(): boolean {
    return this.state.getState().phase !== "idle";
  }

  /** Counts a bar in and listens for as many as are wished, or listens from the first stroke. */
  async start(): Promise<void> {
    this.stop();
    this.#playback.stop();
    const { bars, bpm, barQuarters, hasClick } = this.state.getState();
    this.#pair = await this.#playback.prepareClock();
    this.#startMs = null;
    this.state.setState({ phase: hasClick ? "countIn" : "listening", strokes: [] });
    if (!hasClick) return;
    const msPerQuarter = 60_000 / bpm;
    const startMs = this.#pair.audioMs + BEGINS_AFTER_MS + barQuarters * msPerQuarter;
    this.#startMs = startMs;
    const beats = Math.round((bars + 1) * barQuarters);
    for (let beat = 0; beat < beats; beat++) {
      const isLead = beat < barQuarters;
      const kind = beat % barQuarters === 0 ? (isLead ? "countBar" : "bar") : isLead ? "countBeat" : "beat";
      this.#playback.strike("click", kind, 100, startMs + (beat - barQuarters) * msPerQuarter);
    }
    const until = (audioMs: number, act: () => void) =>
      this.#timers.push(setTimeout(act, audioMs - this.#pair!.audioMs));
    until(startMs, () => this.state.setState({ phase: "listening" }));
    until(startMs + bars * barQuarters * msPerQuarter + msPerQuarter / 4, () => this.stop());
  }

  stop(): void {
    for (const timer of this.#timers.splice(0)) clearTimeout(timer);
    this.state.setState({ phase: "idle" });
  }

  clear(): void {
    this.stop();
    this.state.setState({ strokes: [], isAnyDrum: false });
  }

  /** Says for how long it listens, to which click, and what the knock stands for. */
  listenTo(change: Partial<Pick<KnockState, "bars" | "bpm" | "hasClick" | "isAnyDrum">>): void {
    this.state.setState(change);
  }

  /** Takes other strokes for what was heard. */
  change(strokes: readonly HeardStroke[]): void {
    this.state.setState({ strokes: strokes.toSorted((a, b) => a.quarters - b.quarters) });
  }

  /** Takes strokes that come from elsewhere than a hand: from the take, or from the stand-in player. */
  take(
    strokes: readonly HeardStroke[],
    change: Partial<Pick<KnockState, "bars" | "bpm" | "barQuarters" | "hasClick">>,
  ): void {
    this.stop();
    this.state.setState({ strokes: strokes.slice(0, MOST_HEARD), isAnyDrum: false, ...change });
  }

  /** A stroke of a pad, a key or a device. @param eventMs on the page's clock */
  strike(family: Family, velocity: number, eventMs: number): void {
    if (!this.isOn) return;
    const pair = this.#playback.readClocks() ?? this.#pair;
    if (!pair) return;
    const heardMs = fitClock([pair])(eventMs);
    const { hasClick, bpm, strokes, bars, barQuarters } = this.state.getState();
    this.#startMs ??= heardMs;
    const quarters = ((heardMs - this.#startMs) * bpm) / 60_000;
    if (quarters < -EARLY_QUARTERS || strokes.length >= MOST_HEARD) return;
    if (hasClick && quarters > bars * barQuarters) return;
    const stroke = { family, velocity, quarters: Math.max(0, quarters) };
    this.change([...strokes, stroke]);
    if (hasClick) return;
    for (const timer of this.#timers.splice(0)) clearTimeout(timer);
    this.#timers.push(setTimeout(() => this.stop(), SILENCE_MS));
  }
}

/** What was heard, as a question. */
export function questionOf({ strokes, bpm, hasClick, isAnyDrum }: KnockState): Knock {
  return {
    bpm,
    hasClick,
    strokes: strokes.map(({ family, quarters, velocity }) => ({
      family: isAnyDrum && (family === "kick" || family === "snare") ? null : family,
      quarters,
      weight: weightOf(velocity),
    })),
  };
}
