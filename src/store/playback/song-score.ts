import type { SoundEvent } from "../../audio/index.ts";
import type { HeardVoice, PlayableSong } from "../../core/song/index.ts";
import { buildTimeMaps, type TimeMaps, tickToMs } from "../../core/time/index.ts";
import { isAudible } from "../bench/bench-selectors.ts";
import type { LaneView } from "../bench/lane-view.ts";
import type { PlayedState } from "./playing.ts";
import { levelOf, type Score } from "./score.ts";

/** Nothing, where there is no song yet. */
const SILENCE: Score = {
  maps: buildTimeMaps({ ppq: 480, meters: [], tempos: [] }),
  lengthTicks: 1,
  eventsBetween: () => [],
};

/** A song as it is heard: its patterns at their places, on the side that is chosen. */
export function songScore(state: PlayedState, song: PlayableSong | null): Score {
  if (!song || song.time.lengthTicks === 0) return SILENCE;
  const { parts: voices, time } = song;
  const { maps, lengthTicks } = time;
  const lanes = new Map(state.lanes.map((lane) => [lane.voiceId, lane]));
  const gain = levelOf(voices, state.side, (side) => voices.map(({ sides }) => sides[side].velocities));
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
  { side }: PlayedState,
  { tempoMap }: TimeMaps,
  gain: number,
  [startMs, endMs]: readonly [startMs: number, endMs: number],
): SoundEvent[] {
  const { ticks, timesMs, velocities } = sides[side];
  const events: SoundEvent[] = [];
  for (let at = 0; at < timesMs.length; at++) {
    const ms = timesMs[at]!;
    if (ms < startMs || ms >= endMs) continue;
    const row = rows[at]!;
    const { articulationId, pedal } = lane.hits[row]!;
    // The same hit sounds more than once in a song; its place tells one time from another.
    const event = {
      key: `${voiceId} ${at}`,
      ms,
      voiceId,
      articulationId,
      velocity: velocities[at]!,
      gain,
      ...(pedal === null ? {} : { pedal }),
    };
    const ringTicks = lane.ringTicks[row]!;
    if (ringTicks === Number.POSITIVE_INFINITY) events.push(event);
    else events.push({ ...event, stopAfterMs: tickToMs(tempoMap, ticks[at]! + ringTicks) - ms });
  }
  return events;
}
