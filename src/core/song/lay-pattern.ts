import { type Arrangement, cellOf, isHeardIn, type SongPattern, treatmentIn } from "../document/arrangement.ts";
import type { TimingTreatment, Treatment } from "../document/treatment.ts";
import { remembering } from "../remember.ts";
import { type Bar, type TimeMaps, tickToMs } from "../time/index.ts";
import { giveFeel, plainTicks, type SettledVoice } from "../treat.ts";
import type { SongVoice } from "./song-voices.ts";

/** One voice of a pattern, on its three sides. Entry i of every column is one hit of the pattern. */
export interface LaidVoice {
  readonly voiceId: string;
  /** The row of each hit in its lane; the same one more than once where a bar is played again. */
  readonly rows: Int32Array;
  /** Where each hit belongs, in ticks of the pattern. */
  readonly slotTicks: Float64Array;
  /** In ticks of the pattern: a hit ahead of its first bar line is below 0. */
  readonly cleaned: LaidSide;
  /** As cleaned, but without groove, push and chance. */
  readonly plain: LaidSide;
  readonly recorded: LaidSide;
  /** How far each hit is off its slot, late is positive. */
  readonly cleanedMs: Float64Array;
  readonly recordedMs: Float64Array;
  /** 1 for hits that are not heard: muted by a hand, or left out by the repair. */
  readonly isSilent: Uint8Array;
  /** 1 for hits that keep their distance to another and say nothing of where the voice sits: grace notes, rolls, collisions. */
  readonly isFollower: Uint8Array;
}

export interface LaidSide {
  readonly ticks: Float64Array;
  /** 1 to 127. */
  readonly velocities: Uint8Array;
}

/** A pattern with what its voices play. */
export interface LaidPattern {
  readonly id: string;
  readonly lengthTicks: number;
  readonly voices: readonly LaidVoice[];
}

/** Where the bars of a pattern begin, in its own ticks; one more for its end. */
export function barTicksOf({ bars }: Pick<SongPattern, "bars">, takeBars: readonly Bar[]): Float64Array {
  const starts = new Float64Array(bars.length + 1);
  for (const [index, bar] of bars.entries())
    starts[index + 1] = starts[index]! + lengthOfBar(takeBars, bars, index, bar);
  return starts;
}

/** A silent bar is as long as the one before it, and at the beginning as the first that is not silent. */
function lengthOfBar(takeBars: readonly Bar[], bars: SongPattern["bars"], index: number, bar: number | null): number {
  const like = bar ?? bars.slice(0, index).findLast((one) => one !== null) ?? bars.find((one) => one !== null) ?? 0;
  const { startTick, endTick } = takeBars[like] ?? takeBars.at(-1)!;
  return endTick - startTick;
}

/** Lays one pattern: every voice of the take, treated as the pattern says, at the places of the pattern. */
export function layPattern(
  arrangement: Arrangement,
  pattern: SongPattern,
  voices: readonly SongVoice[],
  takeBars: readonly Bar[],
  maps: TimeMaps,
): LaidPattern {
  const starts = barTicksOf(pattern, takeBars);
  const lengthTicks = starts.at(-1)!;
  const runs = placedRuns(pattern.bars, takeBars.length);
  const laid = voices.map((voice) =>
    layVoice(arrangement, pattern, voice, { runs, starts, takeBars, maps, lengthTicks }),
  );
  return { id: pattern.id, lengthTicks, voices: laid };
}

/** Bars that follow one another in the take as in the pattern. */
interface Run {
  /** In the pattern. */
  readonly index: number;
  /** In the take. */
  readonly firstBar: number;
  readonly count: number;
}

function placedRuns(bars: SongPattern["bars"], barCount: number): readonly Run[] {
  const runs: Run[] = [];
  for (const [index, bar] of bars.entries()) {
    // A take that was given another time can have fewer bars than before.
    if (bar === null || bar >= barCount) continue;
    const last = runs.at(-1);
    if (last && last.index + last.count === index && last.firstBar + last.count === bar)
      runs[runs.length - 1] = { ...last, count: last.count + 1 };
    else runs.push({ index, firstBar: bar, count: 1 });
  }
  return runs;
}

interface Frame {
  readonly runs: readonly Run[];
  readonly starts: Float64Array;
  readonly takeBars: readonly Bar[];
  readonly maps: TimeMaps;
  readonly lengthTicks: number;
}

function layVoice(
  arrangement: Arrangement,
  pattern: SongPattern,
  { lane, voice, hits, barStarts, settledBy }: SongVoice,
  { runs: all, starts, takeBars, maps, lengthTicks }: Frame,
): LaidVoice {
  const runs = pattern.only?.every(({ voiceId }) => voiceId !== lane.voiceId) ? [] : all;
  const { settling, treatment } = treatmentIn(arrangement, pattern, lane);
  const settled = settledBy(settling);
  const { slotTicks, driftsMs, leaders } = settled.placed;
  const { velocities } = settled.shaped;
  const plainTicks = plainTicksOf(settled, maps);
  const isFelt = hasFeel(treatment);
  const count = runs.reduce((sum, run) => sum + barStarts[run.firstBar + run.count]! - barStarts[run.firstBar]!, 0);
  const laid = emptyVoice(lane.voiceId, count);
  let at = 0;
  for (const { index, firstBar, count: barCount } of runs) {
    const span = {
      firstRow: barStarts[firstBar]!,
      endRow: barStarts[firstBar + barCount]!,
      firstBar: firstBar - index,
    };
    if (span.firstRow === span.endRow) continue;
    // Hits keep within the take and not within the pattern: one ahead of the first bar line sounds before it.
    const felt = isFelt ? giveFeel(settled, treatment, maps, NO_END, voice.family, span) : null;
    const shift = starts[index]! - takeBars[firstBar]!.startTick;
    for (let row = span.firstRow; row < span.endRow; row++, at++) {
      const inSpan = row - span.firstRow;
      const hit = hits[row]!;
      const slotTick = slotTicks[row]!;
      const tick = felt ? felt.ticks[inSpan]! : plainTicks[row]!;
      laid.rows[at] = row;
      laid.slotTicks[at] = slotTick + shift;
      laid.cleaned.ticks[at] = tick + shift;
      laid.cleaned.velocities[at] = felt ? felt.velocities[inSpan]! : velocities[row]!;
      laid.plain.ticks[at] = plainTicks[row]! + shift;
      laid.plain.velocities[at] = velocities[row]!;
      laid.recorded.ticks[at] = (hit.recordedTick ?? hit.pinnedTick ?? 0) + shift;
      laid.recorded.velocities[at] = hit.recordedVelocity ?? hit.pinnedVelocity ?? 1;
      laid.recordedMs[at] = driftsMs[row]!;
      laid.cleanedMs[at] = tickToMs(maps.tempoMap, tick) - tickToMs(maps.tempoMap, slotTick);
      laid.isFollower[at] = leaders[row] === row ? 0 : 1;
      laid.isSilent[at] = hit.isMuted || settled.isLeftOut[row] === 1 || !isHeardIn(pattern, hit) ? 1 : 0;
    }
  }
  const { ownLengthTicks } = cellOf(arrangement, pattern, lane.voiceId);
  const whole = ownLengthTicks && ownLengthTicks < lengthTicks ? goingRound(laid, ownLengthTicks, lengthTicks) : laid;
  if (pattern.turnedTicks) turnRound(whole, pattern.turnedTicks, lengthTicks);
  return whole;
}

const NO_END = Number.MAX_SAFE_INTEGER;

/** A voice without feel is the same in every pattern that does not settle it otherwise. */
const rememberPlainTicks = remembering<SettledVoice, Float64Array>();

function plainTicksOf(settled: SettledVoice, maps: TimeMaps): Float64Array {
  return rememberPlainTicks(settled, [maps], () => plainTicks(settled, maps, NO_END));
}

function hasFeel({ feel, timing }: Treatment): boolean {
  return feel?.isOn === true || (timing.isOn && !isStill(timing));
}

/** A treatment without what gives it feel: no groove, no push, nothing left to chance. The same object if it has none of these. */
export function withoutFeel(treatment: Treatment): Treatment {
  return rememberPlain(treatment, [], () => {
    const { feel, timing, ...rest } = treatment;
    const still = stillTiming(timing);
    return !feel?.isOn && still === timing ? treatment : { ...rest, timing: still };
  });
}

const rememberPlain = remembering<Treatment, Treatment>();

function isStill({ pushMs, pushTicks, humanizeMs, exceptions }: TimingTreatment): boolean {
  const isQuiet = (exceptions ?? []).every((exception) => !exception.pushMs && !exception.humanizeMs);
  return pushMs === 0 && !pushTicks && humanizeMs === 0 && isQuiet;
}

function stillTiming(timing: TimingTreatment): TimingTreatment {
  if (isStill(timing)) return timing;
  const { pushTicks: _ticks, exceptions, ...others } = timing;
  const stillExceptions = exceptions?.map(({ pushMs: _push, humanizeMs: _humanize, ...exception }) => exception);
  return { ...others, pushMs: 0, humanizeMs: 0, ...(stillExceptions ? { exceptions: stillExceptions } : {}) };
}

/** The columns share two buffers: thousands of small ones of their own cost more than what is in them. */
function emptyVoice(voiceId: string, count: number): LaidVoice {
  const wide = new Float64Array(6 * count);
  const narrow = new Uint8Array(5 * count);
  const column = (index: number) => wide.subarray(index * count, (index + 1) * count);
  const bytes = (index: number) => narrow.subarray(index * count, (index + 1) * count);
  return {
    voiceId,
    rows: new Int32Array(count),
    slotTicks: column(0),
    cleaned: { ticks: column(1), velocities: bytes(0) },
    plain: { ticks: column(2), velocities: bytes(1) },
    recorded: { ticks: column(3), velocities: bytes(2) },
    cleanedMs: column(4),
    recordedMs: column(5),
    isSilent: bytes(3),
    isFollower: bytes(4),
  };
}

/** A voice with a length of its own plays what it has in that, over and over; the last time it is cut off where the pattern ends. */
function goingRound(laid: LaidVoice, ownTicks: number, lengthTicks: number): LaidVoice {
  const own = [...laid.slotTicks.keys()].filter((at) => laid.slotTicks[at]! < ownTicks);
  const rounds = Array.from({ length: Math.ceil(lengthTicks / ownTicks) }, (_, round) => round * ownTicks);
  const entries = rounds.flatMap((shift) =>
    own.flatMap((at) => (laid.slotTicks[at]! + shift < lengthTicks ? [{ at, shift }] : [])),
  );
  const whole = emptyVoice(laid.voiceId, entries.length);
  for (const [to, { at, shift }] of entries.entries()) {
    whole.rows[to] = laid.rows[at]!;
    whole.slotTicks[to] = laid.slotTicks[at]! + shift;
    for (const side of ["cleaned", "plain", "recorded"] as const) {
      whole[side].ticks[to] = laid[side].ticks[at]! + shift;
      whole[side].velocities[to] = laid[side].velocities[at]!;
    }
    whole.cleanedMs[to] = laid.cleanedMs[at]!;
    whole.recordedMs[to] = laid.recordedMs[at]!;
    whole.isSilent[to] = laid.isSilent[at]!;
    whole.isFollower[to] = laid.isFollower[at]!;
  }
  return whole;
}

/** Hits go with their slots: what is ahead of the first one stays ahead of it. */
function turnRound({ slotTicks, cleaned, plain, recorded }: LaidVoice, byTicks: number, lengthTicks: number): void {
  for (let at = 0; at < slotTicks.length; at++) {
    const slot = slotTicks[at]!;
    const shift = ((slot + byTicks) % lengthTicks) - slot;
    slotTicks[at] = slot + shift;
    for (const { ticks } of [cleaned, plain, recorded]) ticks[at]! += shift;
  }
}
