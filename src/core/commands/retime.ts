import type { Edit, HitMove, TimeFrame } from "../document/index.ts";
import { applyEdit, frameOf } from "../document/index.ts";
import { hitsByVoice, type Pattern, voicesOfFile } from "../document/pattern.ts";
import { hitsOnTimeline, type Timeline, whenPlayed } from "../document/timeline.ts";
import { studyVoices } from "../study/study-voices.ts";
import type { MeterChange, TempoChange } from "../time/index.ts";
import { buildMeterMap, buildTempoMap, buildTimeMaps, msToTick, nextBarLine } from "../time/index.ts";
import { onFoundGrid } from "./plan-lanes.ts";

/** A time that was found for a take. */
export interface FoundTime {
  readonly playedTempos: readonly TempoChange[];
  readonly startMs: number;
  readonly meters: readonly MeterChange[];
}

/**
 * The edit that puts a take on a time that was found for it. Every hit stays at the moment at which it was played, and so
 * does whatever else the file holds; grids and pockets are found again, since they were sought on the wrong time.
 * @param steadyBpm given to straighten the take: what was played on the found time is heard at this tempo throughout
 */
export function retime(pattern: Pattern, found: FoundTime, steadyBpm: number | null): Edit {
  const { fileTempos, fileMeters } = pattern.timeline ?? { fileTempos: pattern.tempos, fileMeters: pattern.meters };
  const { playedTempos, startMs } = found;
  const timeline: Timeline = { fileTempos, fileMeters, playedTempos, startMs };
  const tempos =
    steadyBpm === null ? found.playedTempos : [{ tick: 0, usPerQuarter: Math.round(60_000_000 / steadyBpm) }];
  return retimeTo(pattern, timeline, { meters: found.meters, tempos });
}

/** The edit that gives a take the time of its file back; null if it has it. */
export function backToFileTime(pattern: Pattern): Edit | null {
  const { timeline } = pattern;
  return timeline ? retimeTo(pattern, null, { meters: timeline.fileMeters, tempos: timeline.fileTempos }) : null;
}

function retimeTo(
  pattern: Pattern,
  timeline: Timeline | null,
  times: { readonly meters: readonly MeterChange[]; readonly tempos: readonly TempoChange[] },
): Edit {
  const { ppq } = pattern;
  const timed = { ppq, tempos: times.tempos, ...(timeline ? { timeline } : {}) };
  const msOf = whenPlayed(pattern);
  const playedMap = buildTempoMap(ppq, timeline ? timeline.playedTempos : times.tempos);
  const startMs = timeline?.startMs ?? 0;
  const moved = (tick: number) => Math.max(0, Math.round(msToTick(playedMap, msOf(tick) - startMs)));
  const meterMap = buildMeterMap(ppq, times.meters);
  const hits = hitsOnTimeline(pattern.hits, timed);
  const lastHit = hits.reduce((last, hit) => Math.max(last, hit.recordedTick ?? moved(hit.pinnedTick ?? 0)), 0);
  // Other tracks may go on after the drums.
  const isAlone = pattern.streams.every(({ isDrums }) => isDrums);
  const lengthTicks = nextBarLine(meterMap, Math.max(lastHit, isAlone ? 0 : moved(pattern.lengthTicks) - ppq) + 1);
  const limited = (tick: number) => Math.min(lengthTicks - 1, moved(tick));
  const moves = pattern.hits.flatMap(({ id, pinnedTick }): HitMove[] =>
    pinnedTick === null ? [] : [{ hitId: id, fromTick: pinnedTick, toTick: limited(pinnedTick) }],
  );
  const to: TimeFrame = { timeline, ...times, lengthTicks };
  const edit: Edit = { kind: "retime", from: frameOf(pattern), to, moves };
  const changes = movedMessages(pattern, moved);
  const messages: Edit[] = changes.length > 0 ? [{ kind: "changeMessages", changes, times: null }] : [];
  const retimed = applyEdit(pattern, edit);
  return { kind: "together", edits: [edit, ...messages, treatmentsOnNewGrids(retimed)] };
}

/** Messages that a hand has changed are at ticks of the pattern, and go along. */
function movedMessages(
  { changedMessages }: Pattern,
  moved: (tick: number) => number,
): Extract<Edit, { kind: "changeMessages" }>["changes"] {
  return Object.entries(changedMessages).flatMap(([messageId, from]) =>
    from === null ? [] : [{ messageId, from, to: { ...from, tick: moved(from.tick) } }],
  );
}

/** Each voice on the grid that it was played on under the new time; what a person has set about it otherwise stays. */
function treatmentsOnNewGrids(pattern: Pattern): Edit {
  const { found } = studyVoices(hitsByVoice(pattern.hits), pattern.noteMap, buildTimeMaps(pattern));
  const late = voicesOfFile(pattern);
  const changes = pattern.lanes.flatMap(({ voiceId, treatment }) => {
    const own = found.get(voiceId);
    if (!own) return [];
    // Exceptions were made for places of the old time.
    const { exceptions: _exceptions, ...timing } = treatment.timing;
    return [{ voiceId, from: treatment, to: onFoundGrid({ ...treatment, timing }, own, late.has(voiceId)) }];
  });
  return { kind: "setTreatments", changes };
}
