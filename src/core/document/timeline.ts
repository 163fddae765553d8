import { buildTempoMap, type MeterChange, msToTick, type TempoChange, tickToMs } from "../time/index.ts";
import type { Hit, Pattern } from "./pattern.ts";

/**
 * Where each moment of the file is in a pattern whose tempo was found, and not read from the file: as in a take that was
 * played to no click, where the ticks of the file are time and say nothing of beats.
 */
export interface Timeline {
  /** The tempos that the file was recorded under: they say when each of its ticks is. */
  readonly fileTempos: readonly TempoChange[];
  /** How the file counts its bars. */
  readonly fileMeters: readonly MeterChange[];
  /** The tempos at which it was played, from the pattern's first bar on. */
  readonly playedTempos: readonly TempoChange[];
  /** When the pattern's first bar begins, in ms of the file; negative if that is before the file does. */
  readonly startMs: number;
}

/** A hit as it is in the file, in ticks of the pattern's resolution, where a timeline has put it elsewhere. */
export interface FilePlace {
  readonly tick: number;
  readonly shutTicks: number | null;
  readonly chokedTicks: number | null;
}

type Timed = Pick<Pattern, "ppq" | "timeline">;

/** Where a tick of the file, scaled to the pattern's resolution, is in the pattern: a whole tick, 0 at the least. */
export function placeInPattern({ ppq, timeline }: Timed): (fileTick: number) => number {
  if (!timeline) return (fileTick) => fileTick;
  const file = buildTempoMap(ppq, timeline.fileTempos);
  const played = buildTempoMap(ppq, timeline.playedTempos);
  return (fileTick) => Math.max(0, Math.round(msToTick(played, tickToMs(file, fileTick) - timeline.startMs)));
}

/**
 * Where a tick of the pattern is in the file, scaled to the pattern's resolution: the inverse of `placeInPattern`.
 * @returns a whole tick, 0 at the least
 */
export function placeInFile(pattern: Timed & Pick<Pattern, "tempos">): (tick: number) => number {
  const { ppq, timeline } = pattern;
  if (!timeline) return (tick) => tick;
  const file = buildTempoMap(ppq, timeline.fileTempos);
  const played = whenPlayed(pattern);
  return (tick) => Math.max(0, Math.round(msToTick(file, played(tick))));
}

/** When a tick of the pattern was played, in ms of the file. */
export function whenPlayed({ ppq, tempos, timeline }: Timed & Pick<Pattern, "tempos">): (tick: number) => number {
  if (!timeline) {
    const file = buildTempoMap(ppq, tempos);
    return (tick) => tickToMs(file, tick);
  }
  const played = buildTempoMap(ppq, timeline.playedTempos);
  return (tick) => tickToMs(played, tick) + timeline.startMs;
}

/** Hits at their places on a timeline, or where the file has them without one. What was recorded is kept beside. */
export function hitsOnTimeline(hits: readonly Hit[], timed: Timed): readonly Hit[] {
  const place = placeInPattern(timed);
  return hits.map((hit) => {
    const { inFile, ...rest } = hit;
    if (hit.recordedTick === null) return hit;
    const file: FilePlace = inFile ?? {
      tick: hit.recordedTick,
      shutTicks: hit.shutTicks,
      chokedTicks: hit.chokedTicks,
    };
    if (!timed.timeline) {
      return { ...rest, recordedTick: file.tick, shutTicks: file.shutTicks, chokedTicks: file.chokedTicks };
    }
    const recordedTick = place(file.tick);
    const length = (ticks: number | null) =>
      ticks === null ? null : Math.max(0, place(file.tick + ticks) - recordedTick);
    return {
      ...rest,
      recordedTick,
      shutTicks: length(file.shutTicks),
      chokedTicks: length(file.chokedTicks),
      inFile: file,
    };
  });
}
