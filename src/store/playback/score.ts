import { matchingGain, type SoundEvent } from "../../audio/index.ts";
import type { Side } from "../../core/song/index.ts";
import { barAt, msToTick, type TimeMaps, tickToMs } from "../../core/time/index.ts";

/** What is played: a take, or a song that was made of it. */
export interface Score {
  readonly maps: TimeMaps;
  readonly lengthTicks: number;
  /**
   * In ms from its beginning; the end is not included.
   * @param round how often a loop has come round since it began to play: what is left to chance is drawn anew
   */
  eventsBetween(startMs: number, endMs: number, round: number): readonly SoundEvent[];
}

const levels = new WeakMap<object, Map<Side, number>>();

/**
 * How loud a side is played. Sides are compared equally loud, or the louder one would always seem the better; what goes out is heard as
 * it is.
 * @param of what is played: as long as it is the same, the levels are
 */
export function levelOf(of: object, side: Side, velocitiesOf: (side: Side) => readonly Uint8Array[]): number {
  if (side === "cleaned") return 1;
  const known = levels.get(of) ?? new Map<Side, number>();
  levels.set(of, known);
  const level = known.get(side) ?? matchingGain(velocitiesOf(side), velocitiesOf("cleaned"));
  known.set(side, level);
  return level;
}

const SHORTEST_CLICK_MS = 40;
const CLICK_VELOCITY = { bar: 100, beat: 72, offBeat: 44 } as const;

/** The click follows the pulses of the meter, with off-beats half-way, or on the last third of a compound pulse. */
export function clickEvents(
  click: { readonly isOn: boolean; readonly hasOffBeats: boolean },
  { maps, lengthTicks }: Score,
  startMs: number,
  endMs: number,
): SoundEvent[] {
  if (!click.isOn) return [];
  const events: SoundEvent[] = [];
  const add = (kind: keyof typeof CLICK_VELOCITY, tick: number) => {
    const ms = tickToMs(maps.tempoMap, tick);
    if (ms < startMs - 1e-6 || ms >= endMs - 1e-6) return;
    events.push({ key: `click ${tick}`, ms, voiceId: "click", articulationId: kind, velocity: CLICK_VELOCITY[kind] });
  };
  const endTick = Math.min(lengthTicks, msToTick(maps.tempoMap, endMs));
  let bar = barAt(maps.meterMap, Math.max(0, msToTick(maps.tempoMap, startMs)));
  while (bar.startTick < endTick) {
    const barMs = tickToMs(maps.tempoMap, bar.endTick) - tickToMs(maps.tempoMap, bar.startTick);
    // A tempo that nobody can count would ask for thousands of clicks at once.
    if (barMs / bar.pulseTicks.length < SHORTEST_CLICK_MS) return events;
    const isCompound = bar.meter.denominator >= 8 && bar.meter.numerator % 3 === 0 && bar.meter.numerator > 3;
    for (const [index, pulse] of bar.pulseTicks.entries()) {
      const pulseTick = bar.startTick + pulse;
      if (pulseTick >= bar.endTick) break;
      add(index === 0 ? "bar" : "beat", pulseTick);
      const nextTick = Math.min(bar.endTick, bar.startTick + (bar.pulseTicks[index + 1] ?? Number.POSITIVE_INFINITY));
      if (click.hasOffBeats) add("offBeat", pulseTick + (nextTick - pulseTick) * (isCompound ? 2 / 3 : 1 / 2));
    }
    bar = barAt(maps.meterMap, bar.endTick);
  }
  return events;
}

/** The beats of some bars that are counted before a place, at its meter and tempo; times count from the first. */
export function countInEvents(maps: TimeMaps, startTick: number, bars: number): SoundEvent[] {
  const bar = barAt(maps.meterMap, startTick);
  const msPerTick = tickToMs(maps.tempoMap, startTick + 1) - tickToMs(maps.tempoMap, startTick);
  return Array.from({ length: bars }, (_, round) =>
    bar.pulseTicks.map((pulse, index) => ({
      key: `count ${round} ${index}`,
      ms: (round * (bar.endTick - bar.startTick) + pulse) * msPerTick,
      voiceId: "click",
      articulationId: index === 0 ? "countBar" : "countBeat",
      velocity: index === 0 ? 110 : 92,
    })),
  ).flat();
}
