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
  /** Bars that were put in or taken out by hand, in the order in which that was done. Left out, there are none. */
  readonly barChanges?: readonly BarChange[];
}

/** A stretch that was put in at a tick, or taken out from there; in ticks of the pattern as it was before. */
export interface BarChange {
  readonly tick: number;
  /** Above 0 it was put in, below 0 taken out. */
  readonly ticks: number;
}

/** Where a tick is after bars were put in or taken out. What was in those that are gone is where they were. */
export function afterBarChange({ tick: at, ticks }: BarChange, tick: number): number {
  if (tick < at) return tick;
  return ticks > 0 ? tick + ticks : Math.max(at, tick + ticks);
}

/** Where a tick was before. What is in bars that were put in was where they begin. */
function beforeBarChange({ tick: at, ticks }: BarChange, tick: number): number {
  if (tick < at) return tick;
  return ticks > 0 ? Math.max(at, tick - ticks) : tick - ticks;
}

function afterAll(changes: readonly BarChange[], tick: number): number {
  return changes.reduce((place, change) => afterBarChange(change, place), tick);
}

function beforeAll({ timeline }: Pick<Pattern, "timeline">, tick: number): number {
  return (timeline?.barChanges ?? []).reduceRight((place, change) => beforeBarChange(change, place), tick);
}

/** A hit as it is in the file, in ticks of the pattern's resolution, where a timeline has put it elsewhere. */
export interface FilePlace {
  readonly tick: number;
  /**
   * After how many of the timeline's bar changes the tick is counted: what was played into a take with such bars is in no file. Left
   * out, before all of them.
   */
  readonly since?: number;
  readonly shutTicks: number | null;
  readonly chokedTicks: number | null;
}

type Timed = Pick<Pattern, "ppq" | "timeline">;

/** Where a tick of the file, scaled to the pattern's resolution, is in the pattern: a whole tick, 0 at the least. */
export function placeInPattern(timed: Timed): (fileTick: number) => number {
  const { timeline } = timed;
  if (!timeline) return (fileTick) => fileTick;
  const place = placeBeforeBarChanges(timed);
  const { barChanges = [] } = timeline;
  return (fileTick) => afterAll(barChanges, place(fileTick));
}

function placeBeforeBarChanges({ ppq, timeline }: Timed): (fileTick: number) => number {
  if (!timeline) return (fileTick) => fileTick;
  const file = buildTempoMap(ppq, timeline.fileTempos);
  const played = buildTempoMap(ppq, timeline.playedTempos);
  return (fileTick) => Math.max(0, Math.round(msToTick(played, tickToMs(file, fileTick) - timeline.startMs)));
}

/** Whether what the file has at a tick, scaled as above, is in bars that were taken out; null if there are none. */
export function isTakenOut(timed: Timed): ((fileTick: number) => boolean) | null {
  const changes = timed.timeline?.barChanges ?? [];
  if (changes.every(({ ticks }) => ticks > 0)) return null;
  const place = placeBeforeBarChanges(timed);
  return (fileTick) => {
    let tick = place(fileTick);
    for (const change of changes) {
      if (change.ticks < 0 && tick >= change.tick && tick < change.tick - change.ticks) return true;
      tick = afterBarChange(change, tick);
    }
    return false;
  };
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
  return (tick) => tickToMs(played, beforeAll({ timeline }, tick)) + timeline.startMs;
}

/** Hits at their places on a timeline, or where the file has them without one. What was recorded is kept beside. */
export function hitsOnTimeline(hits: readonly Hit[], timed: Timed): readonly Hit[] {
  const place = placeInPattern(timed);
  const { barChanges = [] } = timed.timeline ?? {};
  const placeOf = (tick: number, since: number | undefined) =>
    since === undefined ? place(tick) : afterAll(barChanges.slice(since), tick);
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
    const recordedTick = placeOf(file.tick, file.since);
    const length = (ticks: number | null) =>
      ticks === null ? null : Math.max(0, placeOf(file.tick + ticks, file.since) - recordedTick);
    return {
      ...rest,
      recordedTick,
      shutTicks: length(file.shutTicks),
      chokedTicks: length(file.chokedTicks),
      inFile: file,
    };
  });
}
