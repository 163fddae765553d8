import { matchingGain, type SoundEvent } from "../audio/index.ts";
import type { HeardVoice, PlayableSong, Side } from "../core/song/index.ts";
import { buildTimeMaps, type TimeMaps } from "../core/time/index.ts";
import { isAudible } from "./bench-selectors.ts";
import type { BenchState } from "./bench-state.ts";
import type { LaneView } from "./lane-view.ts";
import type { Score } from "./score.ts";

/** Nothing, where there is no song yet. */
const SILENCE: Score = {
  maps: buildTimeMaps({ ppq: 480, meters: [], tempos: [] }),
  lengthTicks: 1,
  eventsBetween: () => [],
};

/** A song as it is heard: its patterns at their places, on the side that is chosen. */
export function songScore(state: BenchState, song: PlayableSong | null): Score {
  if (!song || song.time.lengthTicks === 0) return SILENCE;
  const { parts: voices, time } = song;
  const { maps, lengthTicks } = time;
  const lanes = new Map(state.lanes.map((lane) => [lane.voiceId, lane]));
  const gain = levelOf(voices, state);
  return {
    maps,
    lengthTicks,
    eventsBetween: (startMs, endMs) =>
      voices.flatMap((part) => {
        const lane = lanes.get(part.voiceId);
        return lane && isAudible(state, part.voiceId) ? eventsOf(part, lane, state, maps, gain, [startMs, endMs]) : [];
      }),
  };
}

function eventsOf(
  { voiceId, rows, sides }: HeardVoice,
  lane: LaneView,
  { side }: BenchState,
  { tempoMap }: TimeMaps,
  gain: number,
  [startMs, endMs]: readonly [startMs: number, endMs: number],
): SoundEvent[] {
  const { timesMs, velocities } = sides[side];
  const events: SoundEvent[] = [];
  for (let at = 0; at < timesMs.length; at++) {
    const ms = timesMs[at]!;
    if (ms < startMs || ms >= endMs) continue;
    const row = rows[at]!;
    const { articulationId } = lane.hits[row]!;
    // The same hit sounds more than once in a song; its place tells one time from another.
    const event = { key: `${voiceId} ${at}`, ms, voiceId, articulationId, velocity: velocities[at]!, gain };
    const ringTicks = lane.ringTicks[row]!;
    const stopAfterMs = ringTicks * (tempoMap.msPerTick[0] ?? 1);
    events.push(ringTicks === Number.POSITIVE_INFINITY ? event : { ...event, stopAfterMs });
  }
  return events;
}

const levels = new WeakMap<readonly HeardVoice[], Map<string, number>>();

function levelOf(parts: readonly HeardVoice[], { side }: BenchState): number {
  if (side === "cleaned") return 1;
  const known = levels.get(parts) ?? new Map<string, number>();
  levels.set(parts, known);
  const all = (one: Side) => parts.map(({ sides }) => sides[one].velocities);
  const level = known.get(side) ?? matchingGain(all(side), all("cleaned"));
  known.set(side, level);
  return level;
}
