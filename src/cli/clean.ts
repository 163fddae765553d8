import { leaveOut, mendLengths, withLatency } from "../core/commands/index.ts";
import {
  applyEdit,
  baseTick,
  baseVelocity,
  findVoice,
  hitsByVoice,
  type Lane,
  type Pattern,
  ROLES,
  type Role,
} from "../core/document/index.ts";
import { exportTake, findLengthFaults, importTake } from "../core/file/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { type TimingRecipe, withRecipe } from "../core/recipe.ts";
import { readMidiFile } from "../core/smf/index.ts";
import {
  type Fault,
  type FoundGrid,
  type FreeOpening,
  faultSentence,
  findLatency,
  studyVoices,
} from "../core/study/index.ts";
import { studyTempo, type TempoVerdict, takeTempo } from "../core/tempo/index.ts";
import {
  buildTimeMaps,
  formatBarBeat,
  formatGrid,
  type Grid,
  type GridPlan,
  type MeterMap,
} from "../core/time/index.ts";
import { AS_RECORDED } from "../core/timing/index.ts";
import { type CleanedHits, type SettledVoice, settle, treat } from "../core/treat.ts";
import { planOf, readPlans, readRecipe } from "./files.ts";
import { flagNames } from "./flag-names.ts";
import type { CleanSettings } from "./usage.ts";

/** A hit that looks as if nobody played it. */
interface ReportedFault {
  readonly id: string;
  readonly kind: Fault["kind"];
  readonly place: string;
  readonly reason: string;
  readonly isLeftOut: boolean;
}

/** What became of one hit, and why. */
interface ReportedHit {
  /** \`track:message\` of its note-on in the file. */
  readonly id: string;
  readonly note: number;
  readonly recordedTick: number;
  readonly cleanedTick: number;
  readonly recordedVelocity: number;
  readonly cleanedVelocity: number;
  /** Where it belongs; of a grace note, where its main hit does. */
  readonly slotTick: number;
  readonly slot: string;
  readonly driftMs: number;
  readonly role: Role;
  /** \`quantized\`, \`asRecorded\`, \`keepsDistance\` to the hit named, or \`muted\` as something that nobody played. */
  readonly why: "quantized" | "asRecorded" | "keepsDistance" | "muted";
  readonly keepsDistanceTo?: string;
}

interface FlaggedHit {
  readonly id: string;
  readonly voiceId: string;
  readonly place: string;
  readonly driftMs: number;
  /** Why it is worth a look. */
  readonly reasons: readonly string[];
}

/** As `public/clean-report.schema.json` describes it. */
export interface CleanReport {
  readonly format: "idle-marten-clean-report";
  readonly version: 1;
  readonly ppq: number;
  readonly hitCount: number;
  readonly movedHits: number;
  readonly flaggedHits: number;
  /** What was taken off every hit first. */
  readonly latencyMs: number;
  /** Hits whose note was given another length. */
  readonly mendedHits: number;
  /** What was found of its beats; null if they were not asked for. */
  readonly tempo: FoundTempo | null;
  /** Bars at its start that were played freely and were left so; null if there are none, or grids were asked for by name. */
  readonly opening: FreeOpening | null;
  readonly faults: readonly ReportedFault[];
  readonly lanes: readonly {
    voiceId: string;
    grid: string | null;
    swingPercent?: number;
    /** What its ghosts follow, if that is another one. */
    ghostGrid?: string;
    ghostSwingPercent?: number;
    /** Where the voice follows another grid. */
    stretches: readonly { from: string; to: string; grid: string; swingPercent?: number }[];
    hits: number;
    moved: number;
    flagged: readonly FlaggedHit[];
    every: readonly ReportedHit[];
  }[];
}

/** Cleans a take without the interface: the same chain, with the settings of the command line. */
export function cleanTake(bytes: Uint8Array, settings: CleanSettings): { cleaned: Uint8Array; report: CleanReport } {
  const { pattern, tempo } = inItsTime(importTake(bytes, GENERAL_MIDI).pattern, settings);
  const maps = buildTimeMaps(pattern);
  const { meterMap } = maps;
  const played = hitsByVoice(pattern.hits);
  const { faults, found, ...study } = studyVoices(played, pattern.noteMap, maps);
  // What is asked for by name is meant throughout, and on a time of its own nothing is free any more.
  const isFound = settings.grid.kind === "auto" && !settings.planPath && !pattern.timeline;
  const opening = isFound ? study.opening : null;
  const asked: Asked = {
    plans: settings.planPath ? plansOf(settings.planPath, meterMap) : null,
    recipe: settings.recipe ? readRecipe(settings.recipe) : null,
    latencyMs: settings.latency === "auto" ? (latencyOf(played, found)?.ms ?? 0) : settings.latency,
    opening,
  };
  const mended = settings.isRepairing
    ? applyEdit(pattern, mendLengths(pattern, findLengthFaults(readMidiFile(bytes).file, pattern)))
    : pattern;
  const tightened: Pattern = { ...mended, lanes: pattern.lanes.map((lane) => treatedLane(lane, settings, asked)) };
  const treated = settings.isRepairing ? repaired(tightened, faults) : tightened;
  const byVoice = hitsByVoice(treated.hits);
  const lanes = treated.lanes.map(({ voiceId, treatment }) => {
    const hits = byVoice.get(voiceId) ?? [];
    const cleaned = treat(hits, treatment, maps, treated.lengthTicks, findVoice(treated.noteMap, voiceId).family);
    const flagged = hits.flatMap((hit, row): FlaggedHit[] =>
      treatment.timing.isOn && cleaned.flags[row] !== 0 && cleaned.isLeftOut[row] === 0
        ? [
            {
              id: hit.id,
              voiceId,
              place: formatBarBeat(meterMap, baseTick(hit)),
              driftMs: cleaned.driftsMs[row]!,
              reasons: flagNames(cleaned.flags[row]!),
            },
          ]
        : [],
    );
    const moved = hits.filter((hit, row) => cleaned.ticks[row] !== baseTick(hit)).length;
    return {
      voiceId,
      ...(treatment.timing.isOn ? gridWords(treatment.timing.grid) : { grid: null }),
      ...(treatment.timing.isOn && treatment.timing.ghostGrid ? ghostWords(treatment.timing.ghostGrid) : {}),
      stretches: (treatment.timing.stretches ?? []).map(({ startTick, endTick, grid }) => ({
        from: formatBarBeat(meterMap, startTick),
        to: formatBarBeat(meterMap, endTick),
        ...gridWords(grid),
      })),
      hits: hits.length,
      moved,
      flagged,
      every: everyHit(settle(hits, treatment, maps), cleaned, treatment.timing.isOn, meterMap),
    };
  });
  const report: CleanReport = {
    format: "idle-marten-clean-report",
    version: 1,
    ppq: treated.ppq,
    hitCount: treated.hits.length,
    movedHits: lanes.reduce((sum, lane) => sum + lane.moved, 0),
    flaggedHits: lanes.reduce((sum, lane) => sum + lane.flagged.length, 0),
    latencyMs: asked.latencyMs,
    mendedHits: treated.hits.filter((hit) => hit.lengthTicks !== undefined).length,
    tempo,
    opening,
    faults: faults.map((fault) => reported(fault, treated, meterMap, settings.isRepairing)),
    lanes,
  };
  return { cleaned: exportTake(bytes, treated), report };
}

/** What became of each hit of a voice. */
function everyHit(
  { hits, placed, roles }: SettledVoice,
  cleaned: CleanedHits,
  isQuantized: boolean,
  meterMap: MeterMap,
): readonly ReportedHit[] {
  const ofRoles = roles();
  return hits.map((hit, row): ReportedHit => {
    const leader = placed.leaders[row]!;
    const placing = !isQuantized ? "asRecorded" : leader !== row ? "keepsDistance" : "quantized";
    const why = cleaned.isLeftOut[row] === 1 ? "muted" : placing;
    const slotTick = Math.round(cleaned.slotTicks[row]!);
    return {
      id: hit.id,
      note: hit.note,
      recordedTick: baseTick(hit),
      cleanedTick: cleaned.ticks[row]!,
      recordedVelocity: baseVelocity(hit),
      cleanedVelocity: cleaned.velocities[row]!,
      slotTick,
      slot: formatBarBeat(meterMap, slotTick),
      driftMs: cleaned.driftsMs[row]!,
      role: ROLES[ofRoles[row]!]!,
      why,
      ...(why === "keepsDistance" ? { keepsDistanceTo: hits[leader]!.id } : {}),
    };
  });
}

/** The take with the repair of every lane on. */
function repaired(pattern: Pattern, faults: readonly Fault[]): Pattern {
  const edits = pattern.lanes.map(({ voiceId }) =>
    leaveOut(
      pattern,
      voiceId,
      faults.filter((fault) => fault.voiceId === voiceId).map(({ hitId }) => hitId),
    ),
  );
  return applyEdit(pattern, { kind: "together", edits });
}

interface FoundTempo {
  /** With `click` nothing was retimed, unless it was asked for. */
  readonly verdict: TempoVerdict;
  readonly bpm: number;
  readonly slowestBpm: number;
  readonly fastestBpm: number;
  readonly beatsPerBar: number;
}

/** A take on the time that was asked for. One in which no beat is heard, or that fits its click, stays on that of its file. */
function inItsTime(
  pattern: Pattern,
  { tempo, retimesClick }: CleanSettings,
): { pattern: Pattern; tempo: FoundTempo | null } {
  if (tempo === "file") return { pattern, tempo: null };
  const study = studyTempo(pattern);
  const { verdict, bpm, slowestBpm, fastestBpm, beatsPerBar } = study;
  const found = { verdict, bpm, slowestBpm, fastestBpm, beatsPerBar };
  if (verdict === "none" || (verdict === "click" && !retimesClick)) return { pattern, tempo: found };
  return { pattern: applyEdit(pattern, takeTempo(pattern, study, tempo === "follow" ? null : tempo)), tempo: found };
}

function plansOf(path: string, meterMap: MeterMap): ReadonlyMap<string, GridPlan | null> {
  return new Map([...readPlans(path)].map(([voiceId, voice]) => [voiceId, planOf(voice, meterMap)]));
}

function latencyOf(byVoice: ReturnType<typeof hitsByVoice>, found: ReadonlyMap<string, FoundGrid>) {
  return findLatency([...found].map(([voiceId, one]) => ({ found: one, hitCount: byVoice.get(voiceId)?.length ?? 0 })));
}

function reported(fault: Fault, pattern: Pattern, meterMap: MeterMap, isLeftOut: boolean): ReportedFault {
  const { hitId, kind } = fault;
  const hit = pattern.hits.find(({ id }) => id === hitId);
  const reason = faultSentence(fault, (voiceId) => findVoice(pattern.noteMap, voiceId).name);
  return { id: hitId, kind, place: formatBarBeat(meterMap, hit ? baseTick(hit) : 0), reason, isLeftOut };
}

/** A lane as the command line wants it treated; one that nothing is said of stays as recorded, but for the latency of the take. */
function treatedLane(lane: Lane, settings: CleanSettings, asked: Asked): Lane {
  const plan = chosenPlan(lane, settings, asked);
  const { latencyMs, opening, recipe } = asked;
  if (!plan)
    return { ...lane, treatment: { ...lane.treatment, timing: withLatency(lane.treatment.timing, latencyMs) } };
  const { stretches: _stretches, ghostGrid: _ghosts, ...own } = lane.treatment.timing;
  const placed = {
    ...own,
    grid: plan.grid,
    ...(plan.ghostGrid ? { ghostGrid: plan.ghostGrid } : {}),
    ...(plan.stretches?.length ? { stretches: plan.stretches } : {}),
  };
  const based = recipe ? withRecipe(placed, recipe) : { ...placed, isOn: true, strengthPercent: FULL_PERCENT };
  const timing = {
    ...withLatency(based, latencyMs),
    ...(settings.strengthPercent === undefined ? {} : { strengthPercent: settings.strengthPercent }),
    ...(opening ? { exceptions: [{ ...AS_RECORDED, startTick: 0, endTick: opening.endTick }] } : {}),
  };
  return { ...lane, treatment: { ...lane.treatment, timing } };
}

const FULL_PERCENT = 100;

/** What is read from files, or found, before lanes are treated. */
interface Asked {
  readonly plans: ReadonlyMap<string, GridPlan | null> | null;
  readonly recipe: TimingRecipe | null;
  readonly latencyMs: number;
  /** Bars at the start that were played freely, and stay as they are. */
  readonly opening: FreeOpening | null;
}

/** The grid plan of a lane: what was asked for, else what was found; null to leave it as recorded. */
function chosenPlan({ voiceId, treatment }: Lane, { grid }: CleanSettings, { plans }: Asked): GridPlan | null {
  if (plans) return plans.get(voiceId) ?? null;
  if (grid.kind === "auto") return treatment.timing;
  const chosen = grid.kind === "all" ? grid.grid : grid.grids.get(voiceId);
  // A grid that was asked for is meant throughout.
  return chosen ? { grid: chosen } : null;
}

/** A grid as a report writes it; that it is straight is not said. */
function gridWords(grid: Grid): { readonly grid: string; readonly swingPercent?: number } {
  const { swingPercent } = grid;
  return { grid: formatGrid(grid), ...(swingPercent === undefined ? {} : { swingPercent }) };
}

function ghostWords(ghostGrid: Grid): { readonly ghostGrid: string; readonly ghostSwingPercent?: number } {
  const { grid, swingPercent } = gridWords(ghostGrid);
  return { ghostGrid: grid, ...(swingPercent === undefined ? {} : { ghostSwingPercent: swingPercent }) };
}
