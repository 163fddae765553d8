import type { Recorder, TickLoop } from "../../core/record/index.ts";
import { barAt, msToTick, type TimeMaps, tickToMs } from "../../core/time/index.ts";

/** Where a recording runs, and since when. */
export interface Session {
  readonly recorder: Recorder;
  readonly startTick: number;
  readonly loop: TickLoop | null;
  readonly maps: TimeMaps;
  /** When the first round begins, on the audio clock. */
  readonly startMs: number;
  readonly firstPass: number;
  /** The take's length before, which it goes back to where nothing was played. */
  readonly lengthTicks: number;
}

/** How long a round of the loop takes; without a loop there is one that never ends. */
export function roundMs({ loop, maps }: Pick<Session, "loop" | "maps">): number {
  if (!loop) return Number.POSITIVE_INFINITY;
  return tickToMs(maps.tempoMap, loop.endTick) - tickToMs(maps.tempoMap, loop.startTick);
}

/** Where the playhead is, so long after the start. */
export function tickAt(session: Session, elapsedMs: number): number {
  const { maps, startTick } = session;
  const sinceRound = session.loop ? Math.max(0, elapsedMs) % roundMs(session) : Math.max(0, elapsedMs);
  return msToTick(maps.tempoMap, tickToMs(maps.tempoMap, startTick) + sinceRound);
}

/** How long after the start a tick sounds in a round. */
export function elapsedAt(session: Session, tick: number, round: number): number {
  const { maps, startTick, loop } = session;
  const inRound = tickToMs(maps.tempoMap, tick) - tickToMs(maps.tempoMap, startTick);
  return inRound + (loop ? round * roundMs(session) : 0);
}

/** So many bars before a tick, at most to the start of the take. */
export function barsBefore({ meterMap }: TimeMaps, startTick: number, bars: number): number {
  let tick = startTick;
  for (let bar = 0; bar < bars && tick > 0; bar++) tick = barAt(meterMap, tick - 1).startTick;
  return tick;
}
