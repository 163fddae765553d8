import { importTake } from "../src/core/file/index.ts";
import { GENERAL_MIDI } from "../src/core/notemap/index.ts";
import { writeMidiFile } from "../src/core/smf/index.ts";
import { studyTempo } from "../src/core/tempo/index.ts";
import { withoutClick } from "../src/standin/free-time.ts";
import { perform } from "../src/standin/perform.ts";
import { createRandom } from "../src/standin/random.ts";
import type { Study } from "../src/standin/studies.ts";

/** How the beats of one take that was played to no click were found. */
export interface TempoScore {
  readonly style: string;
  readonly beats: number;
  /** Beats that one was found for within 20 ms of where it was felt. */
  readonly within: number;
  /** The same without what the whole take is late by: that nobody can hear. */
  readonly withinAlike: number;
  readonly bars: number;
  /** Bar lines that one was found for within 40 ms. */
  readonly barsFound: number;
  /** Whether a person had to tap the beat, as where a meter has none that is even. */
  readonly isTapped: boolean;
}

const NEAR_MS = 20;
const NEAR_BAR_MS = 40;
/** So far off, a beat is another one. */
const ANOTHER_MS = 60;
const SWAY_PERCENT = 4;

/** Plays each part to no click, and finds its beats. Parts whose tempo or meter changes have no beat to compare with. */
export function scoreTempos(studies: readonly { study: Study; seed: number }[]): readonly TempoScore[] {
  return studies.filter(({ study }) => !study.part.changes).map(({ study, seed }) => scoreTempo(study, seed));
}

function scoreTempo({ part, habits, style }: Study, seed: number): TempoScore {
  const { file } = perform(part, habits, createRandom(seed));
  const take = withoutClick(file, part, habits.ppq, createRandom(seed + 1), SWAY_PERCENT);
  const { pattern } = importTake(writeMidiFile(take.file), GENERAL_MIDI);
  const isUneven = part.denominator === 8 && part.numerator % 3 !== 0;
  const felt = isUneven ? withHalves(take.beatsMs) : take.beatsMs;
  const tapped = isUneven ? { periodMs: ((felt.at(-1)! - felt[0]!) / (felt.length - 1)) * 1.03 } : {};
  const study = studyTempo(pattern, tapped);
  const latencyMs = habits.latencyMs ?? 0;
  const offs = felt.map((ms) => nearest(study.beatsMs, ms + latencyMs) - ms - latencyMs);
  const own = offs.filter((ms) => Math.abs(ms) < ANOTHER_MS);
  const alike = own.reduce((sum, ms) => sum + ms, 0) / Math.max(1, own.length);
  const count = (within: number, aside: number) => offs.filter((ms) => Math.abs(ms - aside) <= within).length;
  const barBeats = isUneven ? part.numerator : part.denominator === 8 ? part.numerator / 3 : part.numerator;
  const lines = study.beatsMs.filter((_, beat) => beat % study.beatsPerBar === study.firstDownbeat);
  const bars = felt.filter((_, beat) => beat % barBeats === 0);
  return {
    style,
    beats: felt.length,
    within: count(NEAR_MS, 0),
    withinAlike: count(NEAR_MS, alike),
    bars: bars.length,
    barsFound: bars.filter((ms) => Math.abs(nearest(lines, ms + latencyMs) - ms - latencyMs) <= NEAR_BAR_MS).length,
    isTapped: isUneven,
  };
}

function withHalves(beatsMs: readonly number[]): readonly number[] {
  return beatsMs.slice(0, -1).flatMap((ms, beat) => [ms, (ms + beatsMs[beat + 1]!) / 2]);
}

function nearest(all: Float64Array, ms: number): number {
  return all.reduce((best, one) => (Math.abs(one - ms) < Math.abs(best - ms) ? one : best), Number.POSITIVE_INFINITY);
}
