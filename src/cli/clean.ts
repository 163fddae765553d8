import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { baseTick, exportTake, hitsByVoice, importTake, type Lane } from "../core/part/index.ts";
import { buildMeterMap, buildTimeMaps, formatBarBeat, formatGrid } from "../core/time/index.ts";
import { treat } from "../core/treat.ts";
import type { CleanSettings } from "./usage.ts";

interface FlaggedHit {
  readonly id: string;
  readonly voiceId: string;
  readonly place: string;
  readonly driftMs: number;
}

export interface CleanReport {
  readonly hitCount: number;
  readonly movedHits: number;
  readonly flaggedHits: number;
  readonly lanes: readonly {
    voiceId: string;
    grid: string | null;
    hits: number;
    moved: number;
    flagged: readonly FlaggedHit[];
  }[];
}

/** Cleans a take without the interface: the same chain, with the settings of the command line. */
export function cleanTake(bytes: Uint8Array, settings: CleanSettings): { cleaned: Uint8Array; report: CleanReport } {
  const { pattern } = importTake(bytes, GENERAL_MIDI);
  const treated = { ...pattern, lanes: pattern.lanes.map((lane) => treatedLane(lane, settings)) };
  const maps = buildTimeMaps(treated);
  const meterMap = buildMeterMap(treated.ppq, treated.meters);
  const byVoice = hitsByVoice(treated.hits);
  const lanes = treated.lanes.map(({ voiceId, treatment }) => {
    const hits = byVoice.get(voiceId) ?? [];
    const cleaned = treat(hits, treatment, maps, treated.lengthTicks);
    const flagged = hits.flatMap((hit, row): FlaggedHit[] =>
      treatment.timing.isOn && cleaned.flags[row] !== 0
        ? [{ id: hit.id, voiceId, place: formatBarBeat(meterMap, baseTick(hit)), driftMs: cleaned.driftsMs[row]! }]
        : [],
    );
    const moved = hits.filter((hit, row) => cleaned.ticks[row] !== baseTick(hit)).length;
    return {
      voiceId,
      grid: treatment.timing.isOn ? formatGrid(treatment.timing.grid) : null,
      hits: hits.length,
      moved,
      flagged,
    };
  });
  const report = {
    hitCount: treated.hits.length,
    movedHits: lanes.reduce((sum, lane) => sum + lane.moved, 0),
    flaggedHits: lanes.reduce((sum, lane) => sum + lane.flagged.length, 0),
    lanes,
  };
  return { cleaned: exportTake(bytes, treated), report };
}

function treatedLane(lane: Lane, { grid, strengthPercent }: CleanSettings): Lane {
  const own = lane.treatment.timing;
  const chosen = grid.kind === "auto" ? own.grid : grid.kind === "all" ? grid.grid : grid.grids.get(lane.voiceId);
  if (!chosen) return lane;
  return { ...lane, treatment: { ...lane.treatment, timing: { ...own, isOn: true, grid: chosen, strengthPercent } } };
}
