import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { addResonators, resonatorOf } from "./resonators.ts";

const RATE = 44_100;
const mode = fc.record({
  frequencyHz: fc.double({ min: 40, max: 15_000, noNaN: true }),
  gain: fc.double({ min: 0.1, max: 1, noNaN: true }),
  phase: fc.double({ min: 0, max: 6, noNaN: true }),
  decayS: fc.double({ min: 0.005, max: 0.05, noNaN: true }),
});

describe("resonators", () => {
  it("sound as sines that die away, however many ring together", () => {
    fc.assert(
      fc.property(fc.array(mode, { minLength: 1, maxLength: 9 }), (modes) => {
        const samples = new Float32Array(RATE / 100);
        addResonators(
          samples,
          modes.map(({ frequencyHz, gain, phase, decayS }) => resonatorOf([frequencyHz, gain, decayS], phase, RATE)),
        );
        for (const index of [0, 1, 100, samples.length - 1]) {
          const sum = modes.reduce((whole, { frequencyHz, gain, phase, decayS }) => {
            const s = index / RATE;
            return whole + gain * Math.exp(-s / decayS) * Math.sin(phase + 2 * Math.PI * frequencyHz * s);
          }, 0);
          // Each is left out once it is 50 dB below its beginning.
          expect(Math.abs(samples[index]! - sum)).toBeLessThan(0.0035 * modes.length);
        }
      }),
    );
  });

  it("ring until they are silent against the stroke that they are left of", () => {
    const struck = resonatorOf([200, 1, 0.1], 0, RATE);
    const halved = resonatorOf([200, 0.5, 0.1], 0, RATE, 1);
    expect(struck.length - halved.length).toBeCloseTo(Math.LN2 * 0.1 * RATE, -1);
  });
});
