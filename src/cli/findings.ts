import { baseTick, baseVelocity, columnsOf, hitsByVoice, type Pattern, ROLES } from "../core/document/index.ts";
import { bordersOf, rolesOf } from "../core/dynamics/index.ts";
import { findDoubts, type Guess, guessNotes } from "../core/notemap/index.ts";
import { summarizeTake } from "../core/overview/index.ts";
import type { Notice } from "../core/smf/index.ts";
import { barsOf, findSections, songVoices } from "../core/song/index.ts";
import { type FoundGrid, findLatency } from "../core/study/index.ts";
import { studyTempo } from "../core/tempo/index.ts";
import { buildTimeMaps, formatBarBeat, formatGrid, type Grid, type TimeMaps } from "../core/time/index.ts";
import { quantize } from "../core/timing/index.ts";
import { flagNames } from "./flag-names.ts";

/** Everything that is found of a take, as `public/inspect.schema.json` describes it, so that others can measure it. */
export function findingsOf(pattern: Pattern, notices: readonly Notice[]) {
  const maps = buildTimeMaps(pattern);
  const { lanes, lateness, opening } = summarizeTake(pattern);
  const byVoice = hitsByVoice(pattern.hits);
  const faultyIds = new Set(lanes.flatMap(({ faults }) => faults.map(({ hitId }) => hitId)));
  const guesses = guessNotes(
    pattern.hits.filter(({ id }) => !faultyIds.has(id)),
    maps,
  );
  const latency = findLatency(lanes.map(({ found, hitCount }) => ({ found, hitCount })));
  return {
    format: "idle-marten-inspect",
    version: 1,
    ppq: pattern.ppq,
    lengthTicks: pattern.lengthTicks,
    meters: pattern.meters,
    tempos: pattern.tempos.map(({ tick, usPerQuarter }) => ({ tick, bpm: 60_000_000 / usPerQuarter })),
    streams: pattern.streams,
    notices,
    latencyMs: latency?.ms ?? null,
    isLatencyConstant: latency?.isConstant ?? false,
    lateness,
    opening,
    tempo: tempoOf(pattern),
    sections: sectionsOf(pattern, maps),
    guesses: guesses.map(guessWords),
    doubtfulNames: findDoubts(pattern.noteMap, pattern.hits, guesses).map(guessWords),
    lanes: lanes.map(({ voiceId, name, notes, hitCount, found, fits, faults }) => ({
      voiceId,
      name,
      notes,
      hits: hitCount,
      suggestedGrid: found && formatGrid(found.grid),
      suggestedSwingPercent: found?.grid.swingPercent ?? null,
      shareExplained: found?.shareExplained ?? null,
      meanDriftMs: found?.meanDriftMs ?? null,
      spreadMs: found?.spreadMs ?? null,
      isPoor: found?.isPoor ?? true,
      ghostGrid: found?.ghostGrid ? gridOf(found.ghostGrid) : null,
      runnerUp: found?.runnerUp ? gridOf(found.runnerUp) : null,
      confidence: found?.confidence ?? null,
      stretches: (found?.stretches ?? []).map(({ startTick, endTick, grid }) => ({
        startTick,
        endTick,
        from: formatBarBeat(maps.meterMap, startTick),
        to: formatBarBeat(maps.meterMap, endTick),
        ...gridOf(grid),
      })),
      fits: fits.map(({ grid, share }) => ({ ...gridOf(grid), share })),
      faults,
      ...hitsOf(pattern, voiceId, byVoice, found, maps),
    })),
  };
}

const gridOf = (grid: Grid) => ({ grid: formatGrid(grid), swingPercent: grid.swingPercent ?? null });

const guessWords = ({ note, meaning, otherMeaning, confidence, reason }: Guess) => ({
  note,
  ...meaning,
  other: otherMeaning,
  confidence,
  reason,
});

function tempoOf(pattern: Pattern) {
  const { verdict, bpm, slowestBpm, fastestBpm, beatsPerBar, firstDownbeat, beatUnit, beatsMs } = studyTempo(pattern);
  return { verdict, bpm, slowestBpm, fastestBpm, beatsPerBar, firstDownbeat, beatUnit, beatsMs: [...beatsMs] };
}

function sectionsOf(pattern: Pattern, maps: TimeMaps) {
  const bars = barsOf(pattern, maps);
  return findSections(songVoices(pattern, maps, bars), bars, pattern.ppq);
}

/** Each hit as it would be placed: its role, its slot, how far it is off, and why it is doubtful. */
function hitsOf(
  { lanes }: Pattern,
  voiceId: string,
  byVoice: ReturnType<typeof hitsByVoice>,
  found: FoundGrid | null,
  maps: TimeMaps,
) {
  const hits = byVoice.get(voiceId) ?? [];
  const lane = columnsOf(hits);
  const { ghostTop, accentBottom } = bordersOf(lane, maps.meterMap);
  const timing = lanes.find((one) => one.voiceId === voiceId)?.treatment.timing;
  const placed = found && timing ? quantize(lane, { ...timing, isOn: true, strengthPercent: 100 }, maps) : null;
  const roles = rolesOf(lane, maps.meterMap);
  return {
    roleBorders: { ghostTop, accentBottom },
    every: hits.map((hit, row) => ({
      id: hit.id,
      note: hit.note,
      tick: baseTick(hit),
      velocity: baseVelocity(hit),
      role: ROLES[roles[row]!],
      slotTick: placed ? Math.round(placed.slotTicks[row]!) : null,
      driftMs: placed?.driftsMs[row] ?? null,
      doubts: placed ? flagNames(placed.flags[row]!) : [],
    })),
  };
}
