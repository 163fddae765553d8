import { type FoundTime, retime } from "../commands/index.ts";
import { type Edit, hitsByVoice, type Pattern } from "../document/index.ts";
import { studyVoices } from "../study/index.ts";
import {
  bpmAt,
  buildTempoMap,
  buildTimeMaps,
  type Meter,
  type MeterChange,
  type TempoChange,
  tickToMs,
} from "../time/index.ts";
import { chooseLevel, doubled } from "./choose-level.ts";
import { areBeatsOfThree, type BeatUnit, type FoundBars, findBars, leansOnThrees } from "./find-bars.ts";
import { findBeats } from "./find-beats.ts";
import { smoothBeats } from "./smooth-beats.ts";
import { type Strokes, strokesOf } from "./strokes.ts";

/** How beats are sought. */
export interface BeatWishes {
  /** About how far apart beats are, as they were tapped or counted twice as fast; left out, any. */
  readonly periodMs?: number;
  /** How much evenness counts against the strokes, 0 to 100. */
  readonly stiffness?: number;
}

/** What a person says of the beats that were found; what is left out stays as it was found. */
export interface BarWishes {
  readonly beatsPerBar?: number;
  readonly firstDownbeat?: number;
  readonly beatUnit?: BeatUnit;
  /** Beats that a person has put elsewhere, by number: how much later, in ms. */
  readonly shiftsMs?: Readonly<Record<number, number>>;
}

/** How a take follows the tempo of its file. */
export type TempoVerdict = "click" | "steady" | "free" | "none";

/** The beats and bars of a take, and what they say about its tempo. */
export interface TempoStudy extends FoundBars {
  /** Where beats are, in ms of the file. */
  readonly beatsMs: Float64Array;
  /** "click": the file's own beats; "steady": even, but not where the file has them; "free": to no click; "none": too little. */
  readonly verdict: TempoVerdict;
  /** Beats per minute over all of it, and at the slowest and the fastest bar. */
  readonly bpm: number;
  readonly slowestBpm: number;
  readonly fastestBpm: number;
}

export const USUAL_STIFFNESS = 55;
/** From bar to bar, a click keeps the tempo within this share. */
const STEADY_SHARE = 0.012;
/** So many of the hits must fit plain grids of the file's own count for it to be what they were played to. Of others hardly any do. */
const ON_COUNT_SHARE = 0.5;

/** Finds the beats and bars of a take that may have been played to no click. */
export function studyTempo(pattern: Pattern, { periodMs, stiffness = USUAL_STIFFNESS }: BeatWishes = {}): TempoStudy {
  const strokes = strokesOf(pattern);
  const first = findBeats(strokes, periodMs);
  const raw = periodMs === undefined ? asCounted(first, strokes) : first;
  const beatsMs = smoothBeats(raw, strokes, stiffness);
  const bars = findBars(beatsMs, strokes);
  const lengths = barLengths(beatsMs, bars);
  const meanMs = (beatsMs.at(-1)! - beatsMs[0]!) / (beatsMs.length - 1);
  const verdict = lengths.length === 0 ? "none" : verdictOf(pattern, strokes, lengths, meanMs);
  return { ...bars, beatsMs, verdict, ...temposOf(beatsMs, lengths) };
}

/** A study as a person wants its beats and bars; a beat is never moved past its neighbours. */
export function countedAs(study: TempoStudy, { shiftsMs = {}, ...bars }: BarWishes): TempoStudy {
  const beatsPerBar = bars.beatsPerBar ?? study.beatsPerBar;
  const firstDownbeat = (bars.firstDownbeat ?? study.firstDownbeat) % beatsPerBar;
  const beatsMs = study.beatsMs.map((ms, beat) => ms + (shiftsMs[beat] ?? 0));
  for (let beat = 1; beat < beatsMs.length; beat++) beatsMs[beat] = Math.max(beatsMs[beat]!, beatsMs[beat - 1]! + 1);
  const beatUnit = bars.beatUnit ?? study.beatUnit;
  const lengths = barLengths(beatsMs, { beatsPerBar, firstDownbeat });
  return { ...study, beatsMs, beatsPerBar, firstDownbeat, beatUnit, ...temposOf(beatsMs, lengths) };
}

function temposOf(
  beatsMs: Float64Array,
  lengths: readonly number[],
): Pick<TempoStudy, "bpm" | "slowestBpm" | "fastestBpm"> {
  if (lengths.length === 0) return { bpm: 0, slowestBpm: 0, fastestBpm: 0 };
  return {
    bpm: (60_000 * (beatsMs.length - 1)) / (beatsMs.at(-1)! - beatsMs[0]!),
    slowestBpm: 60_000 / lengths.reduce((most, ms) => Math.max(most, ms)),
    fastestBpm: 60_000 / lengths.reduce((least, ms) => Math.min(least, ms)),
  };
}

/** Beats as a drummer would count them, in a compound meter or not. */
function asCounted(beatsMs: Float64Array, strokes: Strokes): Float64Array {
  const longer = beatsOfThree(beatsMs, strokes);
  // What is played in halves is in no compound meter, though its bars are in three.
  return longer && areBeatsOfThree(longer, strokes) ? longer : chooseLevel(longer ?? beatsMs, strokes);
}

/** Nobody counts slower beats. */
const SLOWEST_BPM = 53;

/** Where kick and snare lean on every third half of the beats, they are in a compound meter, and beats half as long again. */
function beatsOfThree(beatsMs: Float64Array, strokes: Strokes): Float64Array | null {
  if (beatsMs.length < 12 || !leansOnThrees(beatsMs, strokes)) return null;
  const periodMs = (1.5 * (beatsMs.at(-1)! - beatsMs[0]!)) / (beatsMs.length - 1);
  // Slower than anybody counts they would be: halves that go in threes are the beats of a fast waltz.
  const halves = doubled(beatsMs);
  if (60_000 / periodMs < SLOWEST_BPM && findBars(halves, strokes).beatsPerBar === 3) return halves;
  const longer = findBeats(strokes, periodMs);
  return longer.length >= 8 ? longer : null;
}

function verdictOf(pattern: Pattern, strokes: Strokes, lengths: readonly number[], meanMs: number): TempoVerdict {
  if (strokes.timesMs.length < 16) return "none";
  const sorted = lengths.toSorted((a, b) => a - b);
  const spread = sorted[Math.floor(sorted.length * 0.9)]! - sorted[Math.floor(sorted.length * 0.1)]!;
  const isSteady = spread <= STEADY_SHARE * meanMs;
  // A take on a time of its own fits that, and not the file's. Even beats that share nothing with the file's bars fit it by chance.
  const mayBeClick = !pattern.timeline && (!isSteady || sharesBars(pattern, meanMs));
  if (mayBeClick && fitOfCount(pattern) >= ON_COUNT_SHARE) return "click";
  return isSteady ? "steady" : "free";
}

/**
 * Whether beats are some of the file: a quarter, half or twice as long, or a bar is a whole number of them. Where the tempo changes,
 * beats have no one length.
 */
function sharesBars({ ppq, tempos, meters }: Pattern, meanMs: number): boolean {
  if (tempos.length > 1) return true;
  const { numerator, denominator } = meters[0] ?? { numerator: 4, denominator: 4 };
  const quarterMs = tickToMs(buildTempoMap(ppq, tempos), ppq);
  const inBar = (quarterMs * 4 * numerator) / denominator / meanMs;
  const counts = [inBar, 1 / inBar, ...[0.5, 1, 2].map((quarters) => (quarterMs * quarters) / meanMs)];
  return counts.some((count) => count > 0.99 && Math.abs(count - Math.round(count)) < SAME_BEAT_SHARE * count);
}

const SAME_BEAT_SHARE = 0.006;

/** Finer grids than these fit hits of any time. */
const FINEST_PLAIN = 16;
/** A voice that follows other grids in so many places for each of its hits follows none. */
const MOST_STRETCHES_A_HIT = 0.25;
/** Who is farther off a grid than this by chance does not play to it. */
const LOOSEST_MS = 26;

/** The share of hits that fit plain grids of their voices, as the pattern is counted now. */
function fitOfCount(pattern: Pattern): number {
  const byVoice = hitsByVoice(pattern.hits);
  const { found } = studyVoices(byVoice, pattern.noteMap, buildTimeMaps(pattern));
  let fitting = 0;
  let all = 0;
  for (const [voiceId, { grid, isPoor, shareExplained, spreadMs, stretches }] of found) {
    const count = byVoice.get(voiceId)?.length ?? 0;
    all += count;
    const isPlain = (grid.family === "straight" || grid.family === "triplet") && grid.denominator <= FINEST_PLAIN;
    if (isPoor || !isPlain || stretches.length > MOST_STRETCHES_A_HIT * count) continue;
    fitting += count * shareExplained * Math.min(1, LOOSEST_MS / spreadMs);
  }
  return fitting / Math.max(1, all);
}

const QUARTERS: Readonly<Record<BeatUnit, number>> = { eighth: 0.5, quarter: 1, dotted: 1.5 };
const METERS: Readonly<Record<BeatUnit, (beatsPerBar: number) => Meter>> = {
  eighth: (numerator) => ({ numerator, denominator: 8 }),
  quarter: (numerator) => ({ numerator, denominator: 4 }),
  dotted: (beats) => ({ numerator: 3 * beats, denominator: 8 }),
};

/** The mean beat of each whole bar, in ms. */
export function barLengths(
  beatsMs: Float64Array,
  { beatsPerBar, firstDownbeat }: Pick<FoundBars, "beatsPerBar" | "firstDownbeat">,
): readonly number[] {
  const lengths: number[] = [];
  for (let beat = firstDownbeat; beat + beatsPerBar < beatsMs.length; beat += beatsPerBar) {
    lengths.push((beatsMs[beat + beatsPerBar]! - beatsMs[beat]!) / beatsPerBar);
  }
  return lengths;
}

/**
 * The time of a take from its beats: one tempo for each bar, beginning with the last bar line before anything is played.
 * @param steady one tempo for all of it, as for a take that was played to a click which the file does not know
 */
export function timeOfBeats(study: TempoStudy, ppq: number, firstStrokeMs: number, steady = false): FoundTime {
  const { beatsMs, beatsPerBar, firstDownbeat, beatUnit } = study;
  const barTicks = Math.round(beatsPerBar * QUARTERS[beatUnit] * ppq);
  const lines: number[] = [];
  for (let beat = firstDownbeat; beat < beatsMs.length; beat += beatsPerBar) lines.push(beatsMs[beat]!);
  const usual = ((beatsMs.at(-1)! - beatsMs[0]!) / (beatsMs.length - 1)) * beatsPerBar;
  if (lines.length < 2) lines.push(...(lines.length === 1 ? [lines[0]! + usual] : [beatsMs[0]!, beatsMs[0]! + usual]));
  if (steady) straighten(lines);
  // Nothing may lie before the first bar. What is only a little ahead of it was played for it, and begins it.
  const aheadMs = lines[0]! - firstStrokeMs;
  if (aheadMs > 0 && aheadMs <= AHEAD_MS) lines[0] = firstStrokeMs;
  while (lines[0]! > firstStrokeMs) lines.unshift(lines[0]! - (lines[1]! - lines[0]!));
  while (lines.length > 2 && lines[1]! <= firstStrokeMs) lines.shift();
  const meters: MeterChange[] = [{ tick: 0, ...METERS[beatUnit](beatsPerBar) }];
  const tempos: TempoChange[] = [];
  // What rounding to whole microseconds leaves over goes into the next bar, so that it never adds up.
  let atMs = lines[0]!;
  for (let bar = 0; bar + 1 < lines.length; bar++) {
    // On one steady tempo there is nothing to make up for: half a microsecond a quarter is not heard.
    const barMs = steady && bar > 0 ? lines.at(-1)! - lines.at(-2)! : lines[bar + 1]! - atMs;
    const usPerQuarter = Math.max(1, Math.round((barMs * 1000 * ppq) / barTicks));
    atMs += (usPerQuarter * barTicks) / (1000 * ppq);
    if (tempos.at(-1)?.usPerQuarter !== usPerQuarter) tempos.push({ tick: bar * barTicks, usPerQuarter });
  }
  return { playedTempos: tempos, startMs: lines[0]!, meters };
}

/** So little ahead of the first bar line a stroke is meant for it. */
const AHEAD_MS = 80;

/**
 * The edit that puts a take on the time that was found for it.
 * @param steadyBpm given to straighten it to one tempo; null to follow it as it was played
 */
export function takeTempo(pattern: Pattern, study: TempoStudy, steadyBpm: number | null): Edit {
  const firstMs = strokesOf(pattern).timesMs[0] ?? 0;
  return retime(pattern, timeOfBeats(study, pattern.ppq, firstMs, study.verdict === "steady"), steadyBpm);
}

/** Puts bar lines on the one steady tempo that fits them best. @source least squares */
function straighten(lines: number[]): void {
  const count = lines.length;
  const middle = (count - 1) / 2;
  const mean = lines.reduce((sum, ms) => sum + ms, 0) / count;
  let over = 0;
  let under = 0;
  for (let bar = 0; bar < count; bar++) {
    over += (bar - middle) * (lines[bar]! - mean);
    under += (bar - middle) ** 2;
  }
  const step = under === 0 ? 0 : over / under;
  for (let bar = 0; bar < count; bar++) lines[bar] = mean + (bar - middle) * step;
}

/** The period of taps, in ms: the middle distance between them; undefined for fewer than three. */
export function periodOfTaps(tapsMs: readonly number[]): number | undefined {
  if (tapsMs.length < 3) return undefined;
  const apart = tapsMs.slice(1).map((ms, index) => ms - tapsMs[index]!);
  return apart.toSorted((a, b) => a - b)[apart.length >> 1];
}

/** Quarter notes per minute in the first bar of a pattern, for comparison. */
export function fileBpm({ ppq, tempos, timeline }: Pattern): number {
  return bpmAt(buildTempoMap(ppq, timeline?.fileTempos ?? tempos), 0);
}
