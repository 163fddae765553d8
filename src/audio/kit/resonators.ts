import type { Mode } from "./recipes.ts";

/** What is below this share of the peak is left out: 50 dB. */
export const SILENCE = 0.003;

/** A mode of steady pitch as a two-pole resonator. @source y[n] = 2 r cos(w) y[n−1] − r² y[n−2] */
export interface Resonator {
  readonly recall: number;
  readonly forget: number;
  /** y[−1] and y[0]. */
  readonly before: number;
  readonly now: number;
  /** In samples, until it is silent. */
  readonly length: number;
}
const SILENT: Resonator = { recall: 0, forget: 0, before: 0, now: 0, length: 0 };

/** By how much what dies away is less from one sample to the next. @param timeS in which it falls to 1 / e */
export const fallOf = (timeS: number, sampleRate: number): number => Math.exp(-1 / (timeS * sampleRate));

/**
 * A mode that rings on from here.
 * @param phase in radians
 * @param firstGain how loud it was when it was struck, if that was before: it rings until it is silent against that
 */
export function resonatorOf(
  [frequencyHz, gain, decayS]: Mode,
  phase: number,
  sampleRate: number,
  firstGain = gain,
): Resonator {
  const turn = (2 * Math.PI * frequencyHz) / sampleRate;
  const decay = fallOf(decayS, sampleRate);
  return {
    recall: 2 * decay * Math.cos(turn),
    forget: -decay * decay,
    before: (gain * Math.sin(phase - turn)) / decay,
    now: gain * Math.sin(phase),
    length: Math.ceil(decayS * Math.log(gain / (SILENCE * firstGain)) * sampleRate),
  };
}

/**
 * Adds what resonators sound to samples, as far as there are any. Cymbals have 42 of seconds each, and sines made opening a project wait
 * for them. A resonator waits for its own last value: four side by side, the longest first so that they end together, keep a processor busy.
 */
export function addResonators(samples: Float32Array, resonators: readonly Resonator[]): void {
  const sorted = resonators.toSorted((a, b) => b.length - a.length);
  for (let first = 0; first < sorted.length; first += 4) {
    const [a = SILENT, b = SILENT, c = SILENT, d = SILENT] = sorted.slice(first, first + 4);
    addFour(samples.subarray(0, a.length), a, b, c, d);
  }
}

function addFour(samples: Float32Array, a: Resonator, b: Resonator, c: Resonator, d: Resonator): void {
  const { recall: aRecall, forget: aForget } = a;
  const { recall: bRecall, forget: bForget } = b;
  const { recall: cRecall, forget: cForget } = c;
  const { recall: dRecall, forget: dForget } = d;
  let a1 = a.before;
  let b1 = b.before;
  let c1 = c.before;
  let d1 = d.before;
  let a0 = a.now;
  let b0 = b.now;
  let c0 = c.now;
  let d0 = d.now;
  for (let index = 0; index < samples.length; index++) {
    samples[index]! += a0 + b0 + (c0 + d0);
    const a2 = aRecall * a0 + aForget * a1;
    const b2 = bRecall * b0 + bForget * b1;
    const c2 = cRecall * c0 + cForget * c1;
    const d2 = dRecall * d0 + dForget * d1;
    a1 = a0;
    b1 = b0;
    c1 = c0;
    d1 = d0;
    a0 = a2;
    b0 = b2;
    c0 = c2;
    d0 = d2;
  }
}
