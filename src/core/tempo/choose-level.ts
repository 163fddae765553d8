import { findBeats } from "./find-beats.ts";
import type { StrokeKind, Strokes } from "./strokes.ts";

// The same strokes can be counted twice as fast, half as fast, or from off-beat to off-beat. Which of these is meant is said by what
// drummers do: a loud snare on every second beat, a kick on beats, a pedal on beats, and more than one stroke of the hats a beat.

/** Counts of other speeds than twice and half, whose beats are others: threes that were heard as fours, and the other way round. */
const OTHER_SPEEDS = [4 / 3, 2 / 3] as const;
/** They are other beats, and must be sought: where a count fits so well, they are not. */
const GOOD_FIT = 0.8;
const SAME_SPEED = 0.05;
/** Of fewer nothing is known. */
const FEWEST_BEATS = 8;
/** Another count must fit better by this. */
const MARGIN = 0.12;
/** What is usual, and what a tempo says against a count by each octave (squared) that it is from it. */
const USUAL_BPM = 107;
const TEMPO_SAYS = 0.8;
const KICK_SAYS = 0.3;
const PEDAL_SAYS = 0.5;
/** Fewer strokes of the hats in a beat speak against it. */
const FEW_HATS = { below: 1.3, by: 0.3, says: 0.6 } as const;
/** Of so few nothing is known. */
const NO_HATS = 0.3;
/** Crashes that are struck as often keep time. */
const CRASHES_A_BEAT = 0.4;
/** With more, sixteenths of a slow beat are eighths of a fast one in half time, and beats stay as they were found. */
const MOST_TO_HALVE = 1.75;
/** A pedal that comes more rarely keeps no time. */
const PEDAL_A_BEAT = 0.2;
/** Fewer loud strokes of the snare a beat than this are no back-beat, and say less. */
const BACKBEAT_A_BEAT = 0.15;
const LOUD_WEIGHT = 0.5;
/** A stroke nearer to a beat than this is on it: a share of the beat, and at most so many ms. */
const ON_SHARE = 0.12;
const ON_MS = 45;

/**
 * Counts beats as a drummer would: as they were found, twice or half as fast, from off-beat to off-beat, or at a speed of their own.
 * @param beatsMs ascending, as `findBeats` gives them
 */
export function chooseLevel(beatsMs: Float64Array, strokes: Strokes): Float64Array {
  if (beatsMs.length < FEWEST_BEATS) return beatsMs;
  const periodMs = meanPeriod(beatsMs);
  let best = { beats: beatsMs, fit: fitOfCount(beatsMs, strokes) + MARGIN };
  const compare = (beats: Float64Array) => {
    const fit = beats.length < FEWEST_BEATS ? Number.NEGATIVE_INFINITY : fitOfCount(beats, strokes);
    if (fit > best.fit) best = { beats, fit };
  };
  compare(inBetween(beatsMs));
  compare(doubled(beatsMs));
  const hats = hatsABeat(beatsMs, strokes);
  if (hats > NO_HATS && hats < MOST_TO_HALVE) for (const first of [0, 1] as const) compare(everySecond(beatsMs, first));
  if (best.fit >= GOOD_FIT) return best.beats;
  for (const speed of OTHER_SPEEDS) {
    const beats = findBeats(strokes, periodMs / speed);
    // Beats that change between this speed and the one before are nobody's.
    if (beats.length > 1 && Math.abs((meanPeriod(beats) * speed) / periodMs - 1) < SAME_SPEED) compare(beats);
  }
  return best.beats;
}

const meanPeriod = (beatsMs: Float64Array) => (beatsMs.at(-1)! - beatsMs[0]!) / (beatsMs.length - 1);

/** The same beats and those between them. */
export function doubled(beatsMs: Float64Array): Float64Array {
  const all = new Float64Array(2 * beatsMs.length - 1);
  for (let beat = 0; beat < beatsMs.length; beat++) {
    all[2 * beat] = beatsMs[beat]!;
    if (beat > 0) all[2 * beat - 1] = (beatsMs[beat - 1]! + beatsMs[beat]!) / 2;
  }
  return all;
}

/** Where the off-beats are, and one before and after, so that no stroke is left outside. */
function inBetween(beatsMs: Float64Array): Float64Array {
  const half = meanPeriod(beatsMs) / 2;
  const middles = doubled(beatsMs).filter((_, index) => index % 2 === 1);
  return Float64Array.from([beatsMs[0]! - half, ...middles, beatsMs.at(-1)! + half]);
}

function everySecond(beatsMs: Float64Array, first: 0 | 1): Float64Array {
  const kept = [...beatsMs].filter((_, beat) => beat % 2 === first);
  const twice = 2 * meanPeriod(beatsMs);
  if (first === 1) kept.unshift(kept[0]! - twice);
  if (kept.at(-1)! < beatsMs.at(-1)!) kept.push(kept.at(-1)! + twice);
  return Float64Array.from(kept);
}

/** How well a count fits what drummers do; more is better. */
function fitOfCount(beatsMs: Float64Array, strokes: Strokes): number {
  const { timesMs, weights, voices, kinds, isByPedal } = strokes;
  const periodMs = meanPeriod(beatsMs);
  const tolerance = Math.min(ON_SHARE, ON_MS / periodMs);
  const snare = { all: 0, count: 0, ofTwo: [0, 0], ofFour: [0, 0, 0, 0] };
  const kick = { all: 0, on: 0 };
  const pedal = { all: 0, on: 0 };
  let beat = 0;
  for (let row = 0; row < timesMs.length; row++) {
    while (beat + 2 < beatsMs.length && timesMs[row]! >= beatsMs[beat + 1]!) beat++;
    const place = beat + (timesMs[row]! - beatsMs[beat]!) / (beatsMs[beat + 1]! - beatsMs[beat]!);
    const nearest = Math.round(place);
    const isOn = nearest >= 0 && Math.abs(place - nearest) < tolerance;
    const weight = weights[row]!;
    const kind = kinds[voices[row]!];
    if (isByPedal[row] === 1) {
      pedal.all++;
      if (isOn) pedal.on++;
    } else if (kind === "kick") {
      kick.all += weight;
      if (isOn) kick.on += weight;
    } else if (kind === "snare" && weight > LOUD_WEIGHT) {
      snare.count++;
      snare.all += weight;
      if (!isOn) continue;
      snare.ofTwo[nearest % 2]! += weight;
      snare.ofFour[nearest % 4]! += weight;
    }
  }
  const beats = beatsMs.length - 1;
  let fit = -TEMPO_SAYS * Math.log2(60_000 / periodMs / USUAL_BPM) ** 2;
  // On two and four there is one beat of two that has them, and two of four: on every beat, or on every fourth, there is less between.
  const backbeat = snare.all === 0 ? 0 : (2 * (Math.max(...snare.ofTwo) - Math.max(...snare.ofFour))) / snare.all;
  fit += backbeat * Math.min(1, snare.count / beats / BACKBEAT_A_BEAT);
  if (kick.all > 0) fit += (KICK_SAYS * kick.on) / kick.all;
  if (pedal.all > PEDAL_A_BEAT * beats) fit += (PEDAL_SAYS * pedal.on) / pedal.all;
  const hats = hatsABeat(beatsMs, strokes);
  const isThin = hats > NO_HATS && hats < FEW_HATS.below;
  return isThin ? fit - FEW_HATS.says * Math.min(1, (FEW_HATS.below - hats) / FEW_HATS.by) : fit;
}

/** Strokes of what keeps time in a beat, without those of the pedal: of hats and rides, and of crashes that are struck as often as those. */
function hatsABeat(beatsMs: Float64Array, { voices, kinds, isByPedal }: Strokes): number {
  const beats = beatsMs.length - 1;
  const ofVoice = kinds.map(() => 0);
  for (let row = 0; row < voices.length; row++) if (isByPedal[row] === 0) ofVoice[voices[row]!]!++;
  const keepsTime = (kind: StrokeKind, count: number) =>
    kind === "hats" || (kind === "cymbal" && count >= CRASHES_A_BEAT * beats);
  return kinds.reduce((sum, kind, voice) => sum + (keepsTime(kind, ofVoice[voice]!) ? ofVoice[voice]! : 0), 0) / beats;
}
