import { buildMeterMap, type MeterChange, type MeterMap } from "./meter-map.ts";
import { buildTempoMap, type TempoChange, type TempoMap } from "./tempo-map.ts";

/** Both maps of one pattern: where its bars and pulses are, and when its ticks sound. */
export interface TimeMaps {
  readonly meterMap: MeterMap;
  readonly tempoMap: TempoMap;
}

export interface TimedPart {
  readonly ppq: number;
  readonly meters: readonly MeterChange[];
  readonly tempos: readonly TempoChange[];
}

export function buildTimeMaps(part: TimedPart): TimeMaps {
  return { meterMap: buildMeterMap(part.ppq, part.meters), tempoMap: buildTempoMap(part.ppq, part.tempos) };
}
