import { findVoice } from "../document/index.ts";
import { type Hit, hitsByVoice, type Pattern } from "../document/pattern.ts";
import type { Fault } from "../study/faults/fault.ts";
import type { FoundGrid } from "../study/find-grid.ts";
import { type Lateness, lateOf } from "../study/find-lateness.ts";
import type { FreeOpening } from "../study/find-opening.ts";
import { type GridFit, gridFits } from "../study/grid-fits.ts";
import { studyVoices } from "../study/study-voices.ts";
import { barAt, bpmAt, buildTimeMaps, type Meter, type TimeMaps } from "../time/index.ts";

/** What can be said of one lane as it was recorded. */
export interface LaneSummary {
  readonly voiceId: string;
  readonly name: string;
  /** The incoming notes that feed it, ascending. */
  readonly notes: readonly number[];
  readonly hitCount: number;
  /** Null for a lane without hits. */
  readonly found: FoundGrid | null;
  /** How well each grid that can be chosen fits. */
  readonly fits: readonly GridFit[];
  /** Hits of the lane that nobody played. */
  readonly faults: readonly Fault[];
}

/** A pattern in numbers, for the shelf and the command line. */
export interface PatternSummary {
  readonly bpm: number;
  readonly meter: Meter;
  readonly barCount: number;
  readonly hitCount: number;
  readonly voiceCount: number;
}

export function summarizePattern(pattern: Pattern): PatternSummary {
  const { meterMap, tempoMap } = buildTimeMaps(pattern);
  return {
    bpm: bpmAt(tempoMap, 0),
    meter: barAt(meterMap, 0).meter,
    barCount: barCountOf(pattern.lengthTicks, { meterMap, tempoMap }),
    hitCount: pattern.hits.length,
    voiceCount: pattern.lanes.length,
  };
}

export function barCountOf(lengthTicks: number, { meterMap }: TimeMaps): number {
  return barAt(meterMap, Math.max(0, lengthTicks - 1)).barIndex + 1;
}

/** How a take was played. */
export interface TakeSummary {
  readonly lanes: readonly LaneSummary[];
  /** How late it came in as its lanes have it, and what else it may be. */
  readonly lateness: Lateness;
  /** Bars at its start that were played freely, if there are any. */
  readonly opening: FreeOpening | null;
}

/** Finds the grid of every lane. The slow part of opening a take: shells run it off their main thread. */
export function summarizeTake(pattern: Pattern, onProgress?: (share: number) => void): TakeSummary {
  const maps = buildTimeMaps(pattern);
  const byVoice = hitsByVoice(pattern.hits);
  const { found, faults, lateness, opening } = studyVoices(
    byVoice,
    pattern.noteMap,
    maps,
    lateOf(pattern.lanes),
    onProgress,
  );
  const lanes = pattern.lanes.map(({ voiceId }) => {
    const hits: readonly Hit[] = byVoice.get(voiceId) ?? [];
    const own = found.get(voiceId) ?? null;
    return {
      voiceId,
      name: findVoice(pattern.noteMap, voiceId).name,
      notes: [...new Set(hits.map((hit) => hit.note))].sort((a, b) => a - b),
      hitCount: hits.length,
      found: own,
      fits: own ? gridFits(hits, own, maps) : [],
      faults: faults.filter((fault) => fault.voiceId === voiceId),
    };
  });
  return { lanes, lateness, opening };
}
