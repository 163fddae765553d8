import type { SoundEvent } from "../../audio/index.ts";
import { endOf, type Rhythm, type RhythmStroke } from "../../core/pattern/index.ts";
import { buildTimeMaps } from "../../core/time/index.ts";
import type { Score } from "../playback/score.ts";

const PPQ = 480;
/** Patterns are compared by what they play, and not by how loud somebody played them. */
const LEVEL_VELOCITY = 84;
/** What is chosen while something plays is heard from a bar line so far ahead at the least. */
const AHEAD_MS = 220;
const LENGTH_TICKS = 500_000_000;

/** A pattern as it is heard, over and over. */
interface Heard {
  readonly id: string;
  /** From when on it plays. */
  readonly fromMs: number;
  readonly lengthMs: number;
  readonly barMs: number;
  readonly events: readonly SoundEvent[];
}

/** Plays patterns one after the other at one tempo: the next one begins on a bar line of the one before. */
export class PatternScore {
  #heard: readonly Heard[] = [];
  readonly #bpm: number;

  constructor(bpm: number) {
    this.#bpm = bpm;
  }

  /**
   * Hears a pattern from the next bar line on, or from the beginning where nothing plays.
   * @param nowMs where it plays now; null if it does not
   * @param around what is played before and after it, as loud as it is; the pattern is made as loud as that
   */
  choose(
    id: string,
    { bars }: Pick<Rhythm, "bars">,
    strokes: readonly RhythmStroke[],
    nowMs: number | null,
    around: readonly RhythmStroke[] = [],
  ): void {
    const msPerQuarter = 60_000 / this.#bpm;
    const level = around.length > 0 ? middleOf(around) : LEVEL_VELOCITY;
    const gain = Math.min(2, level / Math.max(20, middleOf(strokes)));
    const eventOf = ({ hit, quarters, velocity }: RhythmStroke, key: string, own: number): SoundEvent => ({
      key: `${id} ${key}`,
      ms: Math.max(0, quarters * msPerQuarter),
      voiceId: hit.voiceId,
      articulationId: hit.articulationId,
      velocity,
      gain: own,
    });
    const lengthMs = endOf(bars) * msPerQuarter;
    const heard: Omit<Heard, "fromMs"> = {
      id,
      lengthMs,
      barMs: (bars[0]?.lengthQuarters ?? 4) * msPerQuarter,
      events: [
        ...strokes.map((stroke, index) => eventOf(stroke, `${index}`, gain)),
        ...around.map((stroke, index) => eventOf(stroke, `around ${index}`, 1)),
      ],
    };
    const now = this.#heard.at(-1);
    if (nowMs === null || !now) {
      this.#heard = [{ ...heard, fromMs: 0 }];
      return;
    }
    const soonest = Math.max(nowMs + AHEAD_MS, now.fromMs);
    const isSame = now.id === id;
    const fromMs = isSame ? now.fromMs : now.fromMs + Math.ceil((soonest - now.fromMs) / now.barMs) * now.barMs;
    this.#heard = [...this.#heard.filter((one) => one.fromMs < fromMs), { ...heard, fromMs }];
  }

  score(): Score {
    const usPerQuarter = Math.round(60_000_000 / this.#bpm);
    return {
      maps: buildTimeMaps({ ppq: PPQ, meters: [], tempos: [{ tick: 0, usPerQuarter }] }),
      lengthTicks: LENGTH_TICKS,
      eventsBetween: (startMs, endMs) =>
        this.#heard.flatMap((one, index) => {
          const untilMs = this.#heard[index + 1]?.fromMs ?? Number.POSITIVE_INFINITY;
          return eventsOf(one, Math.max(startMs, one.fromMs), Math.min(endMs, untilMs));
        }),
    };
  }
}

/** How loud strokes are in the middle. */
function middleOf(strokes: readonly RhythmStroke[]): number {
  const velocities = strokes.map(({ velocity }) => velocity).sort((a, b) => a - b);
  return velocities[velocities.length >> 1] ?? LEVEL_VELOCITY;
}

function eventsOf({ fromMs, lengthMs, events }: Heard, startMs: number, endMs: number): readonly SoundEvent[] {
  if (endMs <= startMs || lengthMs <= 0) return [];
  const found: SoundEvent[] = [];
  for (let round = Math.floor((startMs - fromMs) / lengthMs); fromMs + round * lengthMs < endMs; round++) {
    for (const event of events) {
      const ms = fromMs + round * lengthMs + event.ms;
      if (ms >= startMs && ms < endMs) found.push({ ...event, ms, key: `${round} ${event.key}` });
    }
  }
  return found;
}
