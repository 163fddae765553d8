import { findVoice, GENERAL_MIDI } from "../core/notemap/index.ts";
import { baseTick, exportTake, hitsByVoice, importTake, type Lane, type Pattern } from "../core/part/index.ts";
import { buildTimeMaps, formatBarBeat, formatGrid, type MeterMap } from "../core/time/index.ts";
import { type Fault, faultSentence, studyVoices } from "../core/timing/index.ts";
import { treat } from "../core/treat.ts";
import type { CleanSettings } from "./usage.ts";

/** A hit that looks as if nobody played it. */
interface ReportedFault {
  readonly id: string;
  readonly kind: Fault["kind"];
  readonly place: string;
  readonly reason: string;
  readonly isLeftOut: boolean;
}

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
  readonly faults: readonly ReportedFault[];
  readonly lanes: readonly {
    voiceId: string;
    grid: string | null;
    /** Where the voice follows another grid. */
    stretches: readonly { from: string; to: string; grid: string }[];
    hits: number;
    moved: number;
    flagged: readonly FlaggedHit[];
  }[];
}

/** Cleans a take without the interface: the same chain, with the settings of the command line. */
export function cleanTake(bytes: Uint8Array, settings: CleanSettings): { cleaned: Uint8Array; report: CleanReport } {
  const { pattern } = importTake(bytes, GENERAL_MIDI);
  const maps = buildTimeMaps(pattern);
  const { meterMap } = maps;
  const { faults } = studyVoices(hitsByVoice(pattern.hits), maps);
  const faulty = new Set(faults.map(({ hitId }) => hitId));
  const treated: Pattern = {
    ...pattern,
    hits: settings.isRepairing
      ? pattern.hits.map((hit) => (faulty.has(hit.id) ? { ...hit, isMuted: true } : hit))
      : pattern.hits,
    lanes: pattern.lanes.map((lane) => treatedLane(lane, settings)),
  };
  const byVoice = hitsByVoice(treated.hits);
  const lanes = treated.lanes.map(({ voiceId, treatment }) => {
    const hits = byVoice.get(voiceId) ?? [];
    const cleaned = treat(hits, treatment, maps, treated.lengthTicks);
    const flagged = hits.flatMap((hit, row): FlaggedHit[] =>
      treatment.timing.isOn && cleaned.flags[row] !== 0 && !hit.isMuted
        ? [{ id: hit.id, voiceId, place: formatBarBeat(meterMap, baseTick(hit)), driftMs: cleaned.driftsMs[row]! }]
        : [],
    );
    const moved = hits.filter((hit, row) => cleaned.ticks[row] !== baseTick(hit)).length;
    return {
      voiceId,
      grid: treatment.timing.isOn ? formatGrid(treatment.timing.grid) : null,
      stretches: (treatment.timing.stretches ?? []).map(({ startTick, endTick, grid }) => ({
        from: formatBarBeat(meterMap, startTick),
        to: formatBarBeat(meterMap, endTick),
        grid: formatGrid(grid),
      })),
      hits: hits.length,
      moved,
      flagged,
    };
  });
  const report = {
    hitCount: treated.hits.length,
    movedHits: lanes.reduce((sum, lane) => sum + lane.moved, 0),
    flaggedHits: lanes.reduce((sum, lane) => sum + lane.flagged.length, 0),
    faults: faults.map((fault) => reported(fault, treated, meterMap, settings.isRepairing)),
    lanes,
  };
  return { cleaned: exportTake(bytes, treated), report };
}

function reported(fault: Fault, pattern: Pattern, meterMap: MeterMap, isLeftOut: boolean): ReportedFault {
  const { hitId, kind } = fault;
  const hit = pattern.hits.find(({ id }) => id === hitId);
  const reason = faultSentence(fault, (voiceId) => findVoice(pattern.noteMap, voiceId).name);
  return { id: hitId, kind, place: formatBarBeat(meterMap, hit ? baseTick(hit) : 0), reason, isLeftOut };
}

function treatedLane(lane: Lane, { grid, strengthPercent }: CleanSettings): Lane {
  const own = lane.treatment.timing;
  const chosen = grid.kind === "auto" ? own.grid : grid.kind === "all" ? grid.grid : grid.grids.get(lane.voiceId);
  if (!chosen) return lane;
  // A grid that was asked for is meant throughout.
  const stretches = grid.kind === "auto" ? own.stretches : undefined;
  const { stretches: _, ...rest } = own;
  const timing = { ...rest, isOn: true, grid: chosen, strengthPercent, ...(stretches ? { stretches } : {}) };
  return { ...lane, treatment: { ...lane.treatment, timing } };
}
