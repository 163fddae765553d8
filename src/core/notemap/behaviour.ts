import type { Hit } from "../document/pattern.ts";
import { barAt, type TimeMaps, tickToMs } from "../time/index.ts";

// How notes are played, whatever they are called: where in the bar, how often, how loud, how evenly, and with what.

/** A stroke on the count is at most this far from its pulse. */
const ON_PULSE_MS = 50;
/** Strokes at most this far apart are struck together. */
const TOGETHER_MS = 35;

/** How one note behaves in a take. All shares are 0 to 1. */
export interface Behaviour {
  readonly note: number;
  readonly timesMs: Float64Array;
  readonly perBar: number;
  /** Share of the bars in which it plays at all. */
  readonly coverage: number;
  /** For each pulse of the bar, the share of the bars that it plays in where it is struck there. */
  readonly pulses: readonly number[];
  /** Share of its strokes on the first pulse of a bar. */
  readonly downShare: number;
  readonly offShare: number;
  /** Mean velocity against the mean of the take; 1 is the same. */
  readonly loudness: number;
  /** Mean of the loudest fifth, against the mean of the take. */
  readonly peakLoudness: number;
  /** Share of the gaps between strokes that are the usual gap or twice that. */
  readonly evenness: number;
}

/**
 * How each note of a take behaves.
 * @param hits all hits of a take, sorted by time
 * @param lateMs how late the take came in
 */
export function describeNotes(
  hits: readonly Hit[],
  { meterMap, tempoMap }: TimeMaps,
  lateMs: number,
): readonly Behaviour[] {
  const byNote = new Map<number, Hit[]>();
  let velocitySum = 0;
  let lastTick = 0;
  for (const hit of hits) {
    if (hit.recordedTick === null || hit.recordedVelocity === null) continue;
    const own = byNote.get(hit.note);
    if (own) own.push(hit);
    else byNote.set(hit.note, [hit]);
    velocitySum += hit.recordedVelocity;
    lastTick = Math.max(lastTick, hit.recordedTick);
  }
  const barCount = barAt(meterMap, lastTick).barIndex + 1;
  const meanVelocity = velocitySum / Math.max(1, hits.length);
  return [...byNote].map(([note, own]): Behaviour => {
    const timesMs = new Float64Array(own.length);
    const bars = new Set<number>();
    const pulseBars: Set<number>[] = [];
    let off = 0;
    for (const [index, hit] of own.entries()) {
      const tick = hit.recordedTick! - lateMs * ticksPerMs(tempoMap, hit.recordedTick!);
      timesMs[index] = tickToMs(tempoMap, tick);
      // A stroke just before a bar line is played for the bar after it.
      const earlyTick = tick + (ON_PULSE_MS / 2) * ticksPerMs(tempoMap, tick);
      const bar = barAt(meterMap, earlyTick);
      bars.add(bar.barIndex);
      const pulse = bar.pulseTicks.findIndex(
        (pulseTick) => Math.abs(tickToMs(tempoMap, bar.startTick + pulseTick) - timesMs[index]!) <= ON_PULSE_MS,
      );
      if (pulse === -1) off++;
      else {
        pulseBars[pulse] ??= new Set();
        pulseBars[pulse].add(bar.barIndex);
      }
    }
    const velocities = own.map((hit) => hit.recordedVelocity!).sort((a, b) => b - a);
    const fifth = velocities.slice(0, Math.max(1, Math.ceil(velocities.length / 5)));
    const mean = (list: readonly number[]) => list.reduce((sum, velocity) => sum + velocity, 0) / list.length;
    const pulseCount = barAt(meterMap, 0).pulseTicks.length;
    return {
      note,
      timesMs,
      perBar: own.length / bars.size,
      coverage: bars.size / barCount,
      pulses: Array.from({ length: pulseCount }, (_, pulse) => (pulseBars[pulse]?.size ?? 0) / bars.size),
      downShare: (pulseBars[0]?.size ?? 0) / own.length,
      offShare: off / own.length,
      loudness: mean(velocities) / meanVelocity,
      peakLoudness: mean(fifth) / meanVelocity,
      evenness: evennessOf(timesMs),
    };
  });
}

function ticksPerMs(tempoMap: TimeMaps["tempoMap"], tick: number): number {
  return 1 / Math.max(1e-9, tickToMs(tempoMap, tick + 1) - tickToMs(tempoMap, tick));
}

function evennessOf(timesMs: Float64Array): number {
  if (timesMs.length < 4) return 0;
  const gaps = Float64Array.from({ length: timesMs.length - 1 }, (_, index) => timesMs[index + 1]! - timesMs[index]!);
  const usual = [...gaps].sort((a, b) => a - b)[gaps.length >> 1]!;
  const isUsual = (gap: number) =>
    Math.abs(gap - usual) < 0.22 * usual ||
    Math.abs(gap - 2 * usual) < 0.22 * usual ||
    Math.abs(gap - usual / 2) < 0.11 * usual;
  return gaps.filter(isUsual).length / gaps.length;
}

/** The share of the strokes of `one` that are struck together with the other. */
export function togetherShare(one: Behaviour, other: Behaviour): number {
  return shareWithin(one.timesMs, other.timesMs, TOGETHER_MS);
}

/** The share of the strokes of `one` around which the other plays, a beat or so away. */
export function nearShare(one: Behaviour, other: Behaviour): number {
  return shareWithin(one.timesMs, other.timesMs, 700);
}

function shareWithin(times: Float64Array, others: Float64Array, reachMs: number): number {
  let within = 0;
  let at = 0;
  for (const ms of times) {
    while (at < others.length && others[at]! < ms - reachMs) at++;
    if (at < others.length && others[at]! <= ms + reachMs) within++;
  }
  return within / Math.max(1, times.length);
}
