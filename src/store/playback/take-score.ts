import type { SoundEvent } from "../../audio/index.ts";
import { playsThisTime } from "../../core/chance.ts";
import { tickToMs } from "../../core/time/index.ts";
import { fullnessOf, isAudible } from "../bench/bench-selectors.ts";
import { shownSide, sideOf } from "../bench/lane-view.ts";
import type { PlayedState } from "./playing.ts";
import { levelOf, type Score } from "./score.ts";

/** The take as it is: its lanes on the side that is heard, and whatever else of it is. */
export function takeScore(state: PlayedState): Score {
  return {
    maps: state.maps,
    lengthTicks: state.pattern.lengthTicks,
    eventsBetween: (startMs, endMs, round) => [
      ...hitEvents(state, startMs, endMs, round),
      ...toneEvents(state, startMs, endMs),
    ],
  };
}

function hitEvents(state: PlayedState, startMs: number, endMs: number, round: number): SoundEvent[] {
  const fullness = fullnessOf(state);
  const events: SoundEvent[] = [];
  const gain = levelOf(state.lanes, state.side, (side) => state.lanes.map((lane) => sideOf(lane, side).velocities));
  for (const lane of state.lanes) {
    if (!isAudible(state, lane.voiceId)) continue;
    const side = shownSide(state, lane);
    const { velocities, timesMs } = sideOf(lane, side);
    // A plain scan: 50,000 comparisons take well under a millisecond, and recorded times may be out of order.
    for (let row = 0; row < timesMs.length; row++) {
      if (timesMs[row]! < startMs || timesMs[row]! >= endMs) continue;
      const hit = lane.hits[row]!;
      const { id, voiceId, articulationId, isMuted, pedal } = hit;
      // What the repair leaves out, or chance, is still heard on the side that is as recorded.
      const isOut = lane.cleaned.isLeftOut[row] === 1 || !playsThisTime(hit, fullness, round);
      if (isMuted || (side !== "recorded" && isOut)) continue;
      const event = {
        key: id,
        ms: timesMs[row]!,
        voiceId,
        articulationId,
        velocity: velocities[row]!,
        gain,
        ...(pedal === null ? {} : { pedal }),
      };
      const ringTicks = lane.ringTicks[row]!;
      if (ringTicks === Number.POSITIVE_INFINITY) events.push(event);
      else events.push({ ...event, stopAfterMs: lengthMs(state, lane.recorded.ticks[row]!, ringTicks) });
    }
  }
  return events;
}

function lengthMs({ maps }: PlayedState, startTick: number, lengthTicks: number): number {
  return tickToMs(maps.tempoMap, startTick + lengthTicks) - tickToMs(maps.tempoMap, startTick);
}

/** Tracks that are not drums, where they are to be heard. They are never moved. */
function toneEvents(state: PlayedState, startMs: number, endMs: number): SoundEvent[] {
  const events: SoundEvent[] = [];
  for (const [streamIndex, tones] of state.heardTones) {
    for (const [index, { startTick, lengthTicks, note, velocity }] of tones.entries()) {
      const ms = tickToMs(state.maps.tempoMap, startTick);
      if (ms < startMs || ms >= endMs) continue;
      const stopAfterMs = lengthMs(state, startTick, lengthTicks);
      const key = `tone ${streamIndex} ${index}`;
      events.push({ key, ms, voiceId: "tone", articulationId: "tone", velocity, toneNote: note, stopAfterMs });
    }
  }
  return events;
}
