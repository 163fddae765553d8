import { type Held, type LiveStrike, repeatsBetween, type Turn } from "../../core/record/index.ts";
import { STRAIGHT_PERCENT, withSwing } from "../../core/time/index.ts";
import type { PlayInSettings } from "./play-in-state.ts";
import { elapsedAt, roundMs, type Session, tickAt } from "./session.ts";

/** A ramp of a repeat grows to this, over so many quarters. */
const RAMP_TO = 120;
const RAMP_QUARTERS = 4;
/** Nearer to the press than this a slot is the press itself. */
const SHORTEST_REPEAT_MS = 30;

interface HeldPad extends Held {
  readonly strike: LiveStrike;
  /** Since the recording began. */
  readonly sinceMs: number;
}

/** A stroke that a held pad makes by itself, so long after the recording began. */
export interface RepeatedStrike {
  readonly strike: LiveStrike;
  readonly elapsedMs: number;
}

/** The pads that are held down, and what they strike meanwhile. */
export class HeldPads {
  #held = new Map<number, HeldPad>();
  /** Up to where strokes are made. */
  #madeMs = 0;

  get strikes(): readonly LiveStrike[] {
    return [...this.#held.values()].map(({ strike }) => strike);
  }

  /** @param isLatched whether a second press lets it go */
  press(strike: LiveStrike, session: Session, elapsedMs: number, isLatched: boolean): void {
    if (isLatched && this.#held.delete(strike.note)) return;
    const { velocity } = strike;
    this.#held.set(strike.note, {
      strike,
      velocity,
      sinceTick: tickAt(session, elapsedMs),
      pressure: null,
      sinceMs: elapsedMs,
    });
  }

  pressHarder(note: number, value: number): void {
    const held = this.#held.get(note);
    if (held) this.#held.set(note, { ...held, pressure: value });
  }

  release(note: number): void {
    this.#held.delete(note);
  }

  clear(): void {
    this.#held.clear();
    this.#madeMs = 0;
  }

  /** What held pads strike up to a moment, from where the last call ended. */
  strikesUntil(session: Session, untilMs: number, settings: PlayInSettings): readonly RepeatedStrike[] {
    const fromMs = this.#madeMs;
    if (untilMs <= fromMs) return [];
    this.#madeMs = untilMs;
    if (!settings.repeats || this.#held.size === 0) return [];
    const lengthMs = roundMs(session);
    const strikes: RepeatedStrike[] = [];
    for (let atMs = Math.max(0, fromMs); atMs < untilMs; ) {
      const round = session.loop ? Math.floor(atMs / lengthMs + 1e-9) : 0;
      const roundStartMs = session.loop ? round * lengthMs : 0;
      const endMs = Math.min(untilMs, roundStartMs + lengthMs);
      const all = [...this.#held.values()];
      for (const [index, held] of all.entries()) {
        const turn = settings.takesTurns && all.length > 1 ? { count: all.length, index } : null;
        strikes.push(...strikesOf(held, session, settings, round, [atMs - roundStartMs, endMs - roundStartMs], turn));
      }
      atMs = endMs;
    }
    return strikes;
  }
}

/** @param inRoundMs from when to when, since the round began */
function strikesOf(
  held: HeldPad,
  session: Session,
  { repeatGrid, repeatSwingPercent = STRAIGHT_PERCENT, repeatLoudness: loudness }: PlayInSettings,
  round: number,
  inRoundMs: readonly [fromMs: number, toMs: number],
  turn: Turn | null,
): readonly RepeatedStrike[] {
  const { maps, startTick, loop } = session;
  const { ppq } = maps.meterMap;
  const [from, to] = inRoundMs.map((ms) => tickAt({ ...session, loop: null }, ms));
  // Pressed in an earlier round it has been held since before this one began.
  const rounds = loop ? round - Math.floor(held.sinceMs / roundMs(session)) : 0;
  const loopTicks = loop ? loop.endTick - loop.startTick : 0;
  const sinceTick = Math.max(held.sinceTick - rounds * loopTicks, startTick - RAMP_QUARTERS * ppq * 2);
  const grid = withSwing(repeatGrid, repeatSwingPercent);
  const repeat = { grid, loudness, rampTo: RAMP_TO, rampQuarters: RAMP_QUARTERS };
  return repeatsBetween(repeat, { ...held, sinceTick }, maps.meterMap, from!, to!, turn).flatMap(
    ({ tick, velocity }) => {
      const elapsedMs = elapsedAt(session, tick, round);
      return elapsedMs > held.sinceMs + SHORTEST_REPEAT_MS ? [{ strike: { ...held.strike, velocity }, elapsedMs }] : [];
    },
  );
}
