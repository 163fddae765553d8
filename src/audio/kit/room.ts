/** A small room with hard walls: the first echoes tell its size, and what is left dies away quickly. */
const ROOM_S = 0.32;
const DECAY_S = 0.06;
/** When the walls answer, in ms, and how loud; one side a little later than the other. */
const ECHOES = [
  [7.1, 0.5],
  [11.3, 0.42],
  [16.9, 0.3],
  [23.7, 0.22],
] as const;
const SIDES_APART_MS = 1.3;
const DIFFUSE = 0.16;

/**
 * What a room answers to a click, for each ear; the same every time.
 * @returns two channels of samples
 */
export function roomAnswer(sampleRate: number): readonly [Float32Array, Float32Array] {
  return [earOf(0, sampleRate), earOf(1, sampleRate)];
}

function earOf(ear: 0 | 1, sampleRate: number): Float32Array {
  const samples = new Float32Array(Math.round(ROOM_S * sampleRate));
  for (const [ms, gain] of ECHOES) {
    const at = Math.round(((ms + ear * SIDES_APART_MS) / 1000) * sampleRate);
    samples[at] = gain;
  }
  // A walk of pseudo-random numbers, smoothed: walls swallow what is high.
  let state = 0x2545f491 + ear * 7919;
  let smooth = 0;
  for (let at = 0; at < samples.length; at++) {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    smooth += 0.45 * ((state | 0) / 0x8000_0000 - smooth);
    samples[at]! += DIFFUSE * smooth * Math.exp(-at / (DECAY_S * sampleRate));
  }
  return samples;
}
