import type { Clip } from "../../core/commands/index.ts";
import type { Pattern } from "../../core/document/index.ts";
import type { Rhythm } from "../../core/pattern/index.ts";
import { barAt, buildMeterMap } from "../../core/time/index.ts";
import { playStrokes } from "../../standin/player.ts";
import { createRandom } from "../../standin/random.ts";
import { heardBetween } from "../bench/bench-selectors.ts";
import type { LaneView } from "../bench/lane-view.ts";
import type { LoopRange } from "../playback/playing.ts";
import type { HeardStroke, KnockState } from "./knock-input.ts";

// Knocks that no hand has knocked.

/** Strokes that are asked with, and how they are counted. */
export interface Question {
  readonly strokes: readonly HeardStroke[];
  readonly counted: Partial<Pick<KnockState, "bars" | "bpm" | "barQuarters" | "hasClick">>;
}

/** What a take plays in a stretch of it, as it is heard. */
export function askWithStretch(take: Pattern, lanes: readonly LaneView[], { startTick, endTick }: LoopRange): Question {
  const bar = barAt(buildMeterMap(take.ppq, take.meters), startTick);
  const barTicks = bar.endTick - bar.startTick;
  const strokes = heardBetween(lanes, startTick, endTick)
    .map(({ voice: { family }, tick, velocity }) => ({ family, velocity, quarters: (tick - startTick) / take.ppq }))
    .sort((a, b) => a.quarters - b.quarters);
  const bars = Math.max(1, Math.round((endTick - startTick) / barTicks));
  return { strokes, counted: { bars, barQuarters: barTicks / take.ppq, hasClick: true } };
}

/** Hits that were copied on the Bench, counted from the bar line of the first. */
export function askWithCopied({ ppq, barTicks, strokes }: Clip): Question {
  const heard = strokes
    .filter(({ marks }) => !marks?.isMuted)
    .map(({ family, tick, velocity }) => ({ family, velocity, quarters: Math.max(0, tick / ppq) }))
    .sort((a, b) => a.quarters - b.quarters);
  const barQuarters = barTicks / ppq;
  const bars = Math.floor((heard.at(-1)?.quarters ?? 0) / barQuarters) + 1;
  return { strokes: heard, counted: { bars, barQuarters, hasClick: true } };
}

const SEED = 611;

/** The kick and snare of a pattern as the stand-in player knocks them: as loosely as people do. For trying out. */
export function knockLoosely({ bars, strokes }: Rhythm, bpm: number): Question {
  const msPerQuarter = 60_000 / bpm;
  const random = createRandom(SEED);
  const heard = strokes.flatMap(({ family, quarters, velocity, hit }): readonly HeardStroke[] => {
    if (family !== "kick" && family !== "snare") return [];
    const strike = { note: hit.note, channel: 9, pedal: null, velocity };
    return playStrokes([{ ms: quarters * msPerQuarter, strike }], "loose", random).map((played) => ({
      family,
      quarters: Math.max(0, played.ms / msPerQuarter),
      velocity: played.strike.velocity,
    }));
  });
  const barQuarters = bars[0]?.lengthQuarters ?? 4;
  return { strokes: heard, counted: { bars: bars.length, barQuarters, bpm, hasClick: true } };
}
