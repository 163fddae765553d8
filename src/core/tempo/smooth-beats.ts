import type { Strokes } from "./strokes.ts";

/** The parts of a beat that strokes are taken for: the finer, the longer the beat must be for them to be told apart. */
const PARTS: readonly { readonly shares: readonly number[]; readonly fromBeatMs: number }[] = [
  { shares: [0, 1], fromBeatMs: 0 },
  { shares: [1 / 2], fromBeatMs: 150 },
  { shares: [1 / 3, 2 / 3, 1 / 4, 3 / 4], fromBeatMs: 330 },
  { shares: [1 / 6, 5 / 6], fromBeatMs: 480 },
];
/** The beat for which a stiffness is meant; shorter ones are as stiff over the same time. */
const MEANT_BEAT_MS = 560;
/** A stroke farther from every part of the beat than this says nothing of where the beat is. */
const REACH_MS = 55;
const HUBER_MS = 18;
const ROUNDS = 4;

/**
 * Puts beats where the strokes around them say that they are, as far as a steady hand allows: each stroke pulls at the two
 * beats that it lies between, and every beat wants to be half-way between its neighbours.
 * @param beatsMs beats that are nearly right, ascending
 * @param stiffness how much evenness counts against the strokes: 0 follows every stroke, 100 keeps the tempo all but steady
 * @returns as many beats, moved
 * @source weighted least squares with a penalty on the second difference; strokes far off count less (Huber)
 */
export function smoothBeats(beatsMs: Float64Array, strokes: Strokes, stiffness: number): Float64Array {
  const count = beatsMs.length;
  if (count < 3) return beatsMs.slice();
  const { timesMs, weights, voices, kinds } = strokes;
  let beats: Float64Array = beatsMs.slice();
  const habits = new Float64Array(kinds.length);
  const beatMs = (beatsMs.at(-1)! - beatsMs[0]!) / (count - 1);
  const penalty = 0.02 * 10 ** (stiffness / 22) * (MEANT_BEAT_MS / beatMs) ** 3;
  const parts = PARTS.flatMap(({ shares, fromBeatMs }) => (beatMs >= fromBeatMs ? shares : []));
  for (let round = 0; round < ROUNDS; round++) {
    const rows: { row: number; beat: number; share: number; offMs: number }[] = [];
    let beat = 0;
    for (let row = 0; row < timesMs.length; row++) {
      const ms = timesMs[row]! - habits[voices[row]!]!;
      while (beat + 2 < count && ms >= beats[beat + 1]!) beat++;
      while (beat > 0 && ms < beats[beat]!) beat--;
      const length = beats[beat + 1]! - beats[beat]!;
      const at = (ms - beats[beat]!) / length;
      let share = 0;
      for (const part of parts) if (Math.abs(at - part) < Math.abs(at - share)) share = part;
      const offMs = (at - share) * length;
      if (Math.abs(offMs) <= REACH_MS) rows.push({ row, beat, share, offMs });
    }
    if (round > 0) learnHabits(habits, rows, voices, weights);
    // Normal equations with five diagonals: each stroke couples two beats, the penalty three.
    const diagonal = new Float64Array(count);
    const next = new Float64Array(count);
    const afterNext = new Float64Array(count);
    const right = new Float64Array(count);
    for (const { row, beat: k, share, offMs } of rows) {
      const ms = timesMs[row]! - habits[voices[row]!]!;
      const trust =
        weights[row]! * (share === 0 || share === 1 ? 1 : 0.6) * Math.min(1, HUBER_MS / Math.abs(offMs || 1));
      diagonal[k]! += trust * (1 - share) ** 2;
      diagonal[k + 1]! += trust * share ** 2;
      next[k]! += trust * share * (1 - share);
      right[k]! += trust * (1 - share) * ms;
      right[k + 1]! += trust * share * ms;
    }
    for (let k = 1; k + 1 < count; k++) {
      diagonal[k - 1]! += penalty;
      diagonal[k]! += 4 * penalty;
      diagonal[k + 1]! += penalty;
      next[k - 1]! -= 2 * penalty;
      next[k]! -= 2 * penalty;
      afterNext[k - 1]! += penalty;
    }
    for (let k = 0; k < count; k++) {
      diagonal[k]! += 1e-6;
      right[k]! += 1e-6 * beats[k]!;
    }
    const solved = solveBanded(diagonal, next, afterNext, right);
    if (!isAscending(solved)) break;
    beats = solved;
  }
  return beats;
}

/** How late each voice is by habit, so that a late snare does not pull the beats behind. All together they are 0. */
function learnHabits(
  habits: Float64Array,
  rows: readonly { readonly row: number; readonly offMs: number }[],
  voices: Uint8Array,
  weights: Float64Array,
): void {
  const sums = new Float64Array(habits.length);
  const totals = new Float64Array(habits.length);
  for (const { row, offMs } of rows) {
    sums[voices[row]!]! += weights[row]! * offMs;
    totals[voices[row]!]! += weights[row]!;
  }
  let all = 0;
  let allWeight = 0;
  for (let voice = 0; voice < habits.length; voice++) {
    if (totals[voice]! > 0) habits[voice]! += sums[voice]! / totals[voice]!;
    all += habits[voice]! * totals[voice]!;
    allWeight += totals[voice]!;
  }
  const mean = allWeight > 0 ? all / allWeight : 0;
  for (let voice = 0; voice < habits.length; voice++) habits[voice]! -= mean;
}

/** Solves a symmetric system with two diagonals on either side. @source Cholesky, LDLᵀ */
function solveBanded(
  diagonal: Float64Array,
  next: Float64Array,
  afterNext: Float64Array,
  right: Float64Array,
): Float64Array {
  const count = diagonal.length;
  const d = new Float64Array(count);
  const one = new Float64Array(count);
  const two = new Float64Array(count);
  const solved = right.slice();
  for (let k = 0; k < count; k++) {
    let pivot = diagonal[k]!;
    if (k >= 1) pivot -= one[k - 1]! ** 2 * d[k - 1]!;
    if (k >= 2) pivot -= two[k - 2]! ** 2 * d[k - 2]!;
    d[k] = pivot;
    one[k] = (next[k]! - (k >= 1 ? one[k - 1]! * two[k - 1]! * d[k - 1]! : 0)) / pivot;
    two[k] = afterNext[k]! / pivot;
  }
  for (let k = 0; k < count; k++) {
    if (k >= 1) solved[k]! -= one[k - 1]! * solved[k - 1]!;
    if (k >= 2) solved[k]! -= two[k - 2]! * solved[k - 2]!;
  }
  for (let k = 0; k < count; k++) solved[k]! /= d[k]!;
  for (let k = count - 1; k >= 0; k--) {
    if (k + 1 < count) solved[k]! -= one[k]! * solved[k + 1]!;
    if (k + 2 < count) solved[k]! -= two[k]! * solved[k + 2]!;
  }
  return solved;
}

function isAscending(values: Float64Array): boolean {
  for (let index = 1; index < values.length; index++) if (!(values[index]! > values[index - 1]!)) return false;
  return true;
}
