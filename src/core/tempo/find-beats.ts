import type { Strokes } from "./strokes.ts";

/** Beats are sought on a raster of this; where they are exactly is found afterwards. */
const FRAME_MS = 10;
const SHORTEST_BEAT_MS = 265;
const LONGEST_BEAT_MS = 1150;
/** From one beat to the next, the tempo changes by no more than this. */
const MOST_CHANGE = 0.16;
/** What a change of tempo from beat to beat costs, by its share. */
const CHANGE_COST = 60;
/** A beat that nobody plays. */
const SILENT_BEAT_COST = 0.35;
/** People count best at about this beat, within some octaves of tempo. */
const USUAL_BEAT_MS = 560;
const OCTAVES = 0.75;

/** Where in a beat strokes are played, in shares of it, and how often; the rest is played by chance. */
const PLACES: readonly { readonly share: number; readonly often: number }[] = [
  { share: 0, often: 1 },
  { share: 1 / 2, often: 0.42 },
  { share: 1 / 4, often: 0.16 },
  { share: 3 / 4, often: 0.2 },
  { share: 1 / 3, often: 0.14 },
  { share: 2 / 3, often: 0.24 },
];
const CHANCE = 0.06;
/** How far from its place a stroke is played, in ms. */
const WIDTH_MS = 22;
const PHASES = 64;

/**
 * Finds the beats of strokes that were played to no click: the row of beats, slowly faster and slower, under which loud
 * strokes of kick and snare fall on beats and the others on even parts of them.
 * @param periodMs seek only beats about this far apart, as when somebody has tapped them; undefined for any
 * @returns the time of each beat, in ms, from before the first stroke to after the last; empty for fewer than four strokes
 * @source the best path through beats and tempos by dynamic programming (Viterbi)
 */
export function findBeats(strokes: Strokes, periodMs?: number): Float64Array {
  const { timesMs, weights } = strokes;
  if (timesMs.length < 4) return new Float64Array(0);
  const startMs = timesMs[0]! - LONGEST_BEAT_MS;
  const frames = Math.ceil((timesMs.at(-1)! + LONGEST_BEAT_MS - startMs) / FRAME_MS) + 1;
  const [shortest, longest] = periodMs ? [periodMs * 0.75, periodMs * 1.33] : [SHORTEST_BEAT_MS, LONGEST_BEAT_MS];
  const first = Math.round(shortest / FRAME_MS);
  const lengths = Array.from({ length: Math.round(longest / FRAME_MS) - first + 1 }, (_, index) => first + index);
  const strength = strengthOnFrames(strokes, startMs, frames);
  const places = Float64Array.from(timesMs, (ms) => (ms - startMs) / FRAME_MS);
  const curves = lengths.map((length) => phaseCurve(length * FRAME_MS));
  const prior = lengths.map((length) =>
    periodMs
      ? 0
      : (-0.5 * (Math.log2((length * FRAME_MS) / USUAL_BEAT_MS) / OCTAVES) ** 2 * 0.8 * (length * FRAME_MS)) /
        USUAL_BEAT_MS,
  );

  // best[i * frames + t]: the best way to a beat at frame t, from where the next beat is lengths[i] away.
  const count = lengths.length;
  const best = new Float32Array(count * frames).fill(Number.NEGATIVE_INFINITY);
  const before = new Int16Array(count * frames).fill(-1);
  const arrival = new Float64Array(count);
  let firstRow = 0;
  for (let frame = 0; frame < frames; frame++) {
    const onBeat = strength[frame]!;
    // Every path may begin before the first stroke.
    const isStart = frame * FRAME_MS < LONGEST_BEAT_MS + 2 * WIDTH_MS;
    let hasArrival = false;
    for (let i = 0; i < count; i++) {
      const from = frame - lengths[i]!;
      const value = from < 0 ? Number.NEGATIVE_INFINITY : best[i * frames + from]!;
      arrival[i] = value;
      if (value > Number.NEGATIVE_INFINITY) hasArrival = true;
    }
    while (firstRow < places.length && places[firstRow]! < frame) firstRow++;
    for (let j = 0; j < count; j++) {
      const length = lengths[j]!;
      let top = isStart ? 0 : Number.NEGATIVE_INFINITY;
      let topFrom = -1;
      if (hasArrival) {
        for (let i = 0; i < count; i++) {
          const change = Math.abs(length / lengths[i]! - 1);
          if (change > MOST_CHANGE) continue;
          const value = arrival[i]! - CHANGE_COST * change * change * 6 - change * 2;
          if (value > top) {
            top = value;
            topFrom = i;
          }
        }
      }
      if (top === Number.NEGATIVE_INFINITY) continue;
      // What is played in the beat that begins here.
      let inside = onBeat > 0 ? 0 : -SILENT_BEAT_COST;
      const curve = curves[j]!;
      for (let row = firstRow; row < places.length && places[row]! < frame + length; row++) {
        inside += weights[row]! * curve[Math.floor(((places[row]! - frame) / length) * PHASES)]!;
      }
      best[j * frames + frame] = top + inside + prior[j]!;
      before[j * frames + frame] = topFrom;
    }
  }
  return pathBack(best, before, lengths, frames, Math.ceil((timesMs.at(-1)! - startMs) / FRAME_MS), startMs);
}

/** How strongly something is played about each frame. */
function strengthOnFrames({ timesMs, weights }: Strokes, startMs: number, frames: number): Float32Array {
  const strength = new Float32Array(frames);
  const reach = Math.ceil((1.5 * WIDTH_MS) / FRAME_MS);
  for (let row = 0; row < timesMs.length; row++) {
    const middle = Math.round((timesMs[row]! - startMs) / FRAME_MS);
    for (let frame = Math.max(0, middle - reach); frame <= Math.min(frames - 1, middle + reach); frame++) {
      strength[frame] = Math.max(strength[frame]!, weights[row]!);
    }
  }
  return strength;
}

/** How much more likely a stroke is at each phase of a beat than by chance, as a logarithm. */
function phaseCurve(beatMs: number): Float64Array {
  const curve = new Float64Array(PHASES);
  const total = PLACES.reduce((sum, { often }) => sum + often, 0);
  for (let phase = 0; phase < PHASES; phase++) {
    const share = (phase + 0.5) / PHASES;
    let density = 0;
    for (const place of PLACES) {
      const away = Math.min(Math.abs(share - place.share), 1 - Math.abs(share - place.share)) * beatMs;
      density +=
        (place.often / total) *
        Math.exp(-0.5 * (away / WIDTH_MS) ** 2) *
        (beatMs / (WIDTH_MS * Math.sqrt(2 * Math.PI)));
    }
    curve[phase] = Math.log((1 - CHANCE) * density + CHANCE);
  }
  return curve;
}

/** Follows the best path from a beat behind the last stroke to the first. */
function pathBack(
  best: Float32Array,
  before: Int16Array,
  lengths: readonly number[],
  frames: number,
  lastFrame: number,
  startMs: number,
): Float64Array {
  let top = Number.NEGATIVE_INFINITY;
  let frame = -1;
  let i = -1;
  // A path is whole if its last beat reaches over the last stroke.
  for (let j = 0; j < lengths.length; j++) {
    for (let start = Math.max(0, lastFrame - lengths[j]! + 1); start <= lastFrame; start++) {
      const value = best[j * frames + start]!;
      if (value > top) {
        top = value;
        frame = start;
        i = j;
      }
    }
  }
  const beats: number[] = [];
  if (i === -1) return new Float64Array(0);
  beats.push(startMs + (frame + lengths[i]!) * FRAME_MS);
  while (i !== -1) {
    beats.push(startMs + frame * FRAME_MS);
    const from: number = before[i * frames + frame]!;
    if (from === -1) break;
    frame -= lengths[from]!;
    i = from;
  }
  return Float64Array.from(beats.reverse());
}
