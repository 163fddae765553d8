import { barAt, msToTick, type TempoMap, type TimeMaps, tickToMs } from "../time/index.ts";

/** A stretch that is played over again and again. */
export interface TickLoop {
  readonly startTick: number;
  readonly endTick: number;
}

/** Where recording begins, and how it goes on. */
export interface RecordingPlace {
  /** Where the first round begins, after the count-in. */
  readonly startTick: number;
  /** Null if it goes on and on. */
  readonly loop: TickLoop | null;
  /**
   * Strokes that come at most this much ahead of a beginning belong to it: half a slot of what is played. 0 for none, as where nothing
   * says which slots there are.
   */
  readonly earlyTicks: number;
}

/** Clocks are never surer than this: a stroke on a bar line may be told as coming so much before it. */
export const CLOCK_SLACK_MS = 1;

/** Where a stroke belongs. */
export interface PlacedStroke {
  /** A whole tick, 0 at the least. */
  readonly tick: number;
  /** The round of the loop that it belongs to, from 0. */
  readonly round: number;
}

/**
 * Where a stroke belongs: where the tempo map is at its time, in the round of the loop that runs then. What comes shortly before a round
 * is its first stroke, and what comes late at the end of one lies at the beginning of the next, as it would be heard.
 * @param elapsedMs since recording began, with everything taken off that the input is late by; negative during the count-in
 * @returns null if it was struck earlier than what belongs to the beginning
 */
export function placeStroke(
  { startTick, loop, earlyTicks }: RecordingPlace,
  tempoMap: TempoMap,
  elapsedMs: number,
): PlacedStroke | null {
  const startMs = tickToMs(tempoMap, startTick);
  if (elapsedMs < 0) {
    const early = startTick - msToTick(tempoMap, startMs + elapsedMs);
    const belongs = early <= earlyTicks || elapsedMs >= -CLOCK_SLACK_MS;
    return belongs ? { tick: whole(startTick - early), round: 0 } : null;
  }
  if (!loop) return { tick: whole(msToTick(tempoMap, startMs + elapsedMs)), round: 0 };
  const loopMs = tickToMs(tempoMap, loop.startTick);
  const lengthMs = tickToMs(tempoMap, loop.endTick) - loopMs;
  const sinceLoopMs = startMs - loopMs + elapsedMs;
  const round = Math.floor(sinceLoopMs / lengthMs);
  const inLoopMs = sinceLoopMs - round * lengthMs;
  const tick = msToTick(tempoMap, loopMs + inLoopMs);
  const early = loop.endTick - tick;
  if (early <= earlyTicks || lengthMs - inLoopMs <= CLOCK_SLACK_MS)
    return { tick: whole(loop.startTick - early), round: round + 1 };
  return { tick: whole(tick), round };
}

/** Before the first bar there is nothing. */
const whole = (tick: number) => Math.max(0, Math.round(tick));

/** How long a count-in takes, in ms: so many bars of the meter and at the tempo of the place that it leads to. */
export function countInMs(bars: number, { tempoMap, meterMap }: TimeMaps, startTick: number): number {
  const bar = barAt(meterMap, startTick);
  const msPerTick = tickToMs(tempoMap, startTick + 1) - tickToMs(tempoMap, startTick);
  return bars * (bar.endTick - bar.startTick) * msPerTick;
}
