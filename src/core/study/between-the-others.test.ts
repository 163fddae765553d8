import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { hitAt } from "../testing/patterns.ts";
import { putOnSlots } from "../testing/put-on-slots.ts";
import { gridName } from "../time/index.ts";
import { stepOf } from "./onsets.ts";

// Drums that never play with the others, but between them, and recordings on so few ticks that most hits of a steady hand are on one.

const BAR = 1920;
const SIXTEENTH = 120;

/** Offs of a hand, each another one: the sum of three even draws is nearly a bell. @param spreadMs its standard deviation */
function offsOf(spreadMs: number, seed: number): readonly number[] {
  let state = seed;
  const draw = () => {
    state = (state * 48_271) % 2_147_483_647;
    return state / 2_147_483_647 - 0.5;
  };
  return Array.from({ length: 499 }, () => 2 * spreadMs * (draw() + draw() + draw()));
}

const bars = (count: number, ofBar: Readonly<Record<string, readonly number[]>>) =>
  Array.from({ length: count }, (_, bar) => (bar + 1) * BAR).flatMap((start) =>
    Object.entries(ofBar).flatMap(([voiceId, places]) =>
      places.map((place) => ({ tick: start + place * SIXTEENTH, voiceId })),
    ),
  );

const every = (from: number, step: number) =>
  Array.from({ length: (16 - from) / step }, (_, index) => from + index * step);
/** Kick and ride together, the snare between them. */
const BLAST = { kick: every(0, 2), ride: every(0, 2), snare: [1, 3, 5, 7, 9, 11, 13, 15] };

describe("a drum between the others throughout", () => {
  it("is on its sixteenths, and not early or late on the slots of the others", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 150, max: 226 }),
        fc.integer({ min: 8, max: 48 }),
        fc.constantFrom(3, 5, 7),
        fc.integer({ min: -60, max: 60 }),
        fc.integer({ min: 1, max: 1e6 }),
        (bpm, count, spreadMs, lateMs, seed) => {
          const { wrong, found } = putOnSlots(bars(count, BLAST), lateMs, offsOf(spreadMs, seed), {
            bpm,
            stepTicks: 1,
          });
          expect(wrong.map(({ meant, hit }) => `${hit.voiceId} at ${meant / 480}`)).toEqual([]);
          expect(gridName(found.get("snare")!.grid)).toBe("sixteenths");
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 25) },
    );
  });
});

describe("a steady hand in a coarse file", () => {
  /** The first and the last sixteenth of each beat, as surdos and sambas have it. */
  const SAMBA = { kick: [0, 3, 4, 7, 8, 11, 12, 15], hat: every(2, 4), snare: every(0, 1) };

  it("is as steady as it is, and on its slots", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(48, 96, 120),
        fc.integer({ min: 80, max: 140 }),
        fc.constantFrom(2, 3, 4),
        fc.integer({ min: 12, max: 48 }),
        fc.integer({ min: 1, max: 1e6 }),
        (ppq, bpm, spreadMs, count, seed) => {
          const coarse = { bpm, stepTicks: 480 / ppq };
          const { wrong, found } = putOnSlots(bars(count, SAMBA), 0, offsOf(spreadMs, seed), coarse);
          expect(wrong.map(({ meant, hit }) => `${hit.voiceId} at ${meant / 480}`)).toEqual([]);
          const { spreadMs: seenMs, isExact } = found.get("kick")!;
          const stepMs = 60_000 / bpm / ppq;
          expect(seenMs).toBeLessThan(1.5 * Math.hypot(spreadMs, stepMs / Math.sqrt(12)) + 1);
          // A hand steadier than that is on one tick throughout, as if it had been typed.
          if (spreadMs < 0.6 * stepMs) return;
          expect(seenMs).toBeGreaterThan(0.6 * spreadMs);
          expect(isExact).toBe(false);
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 25) },
    );
  });

  it("has a step that only the whole take shows: two strokes of one drum have a wider one by chance", () => {
    const recorded = (...ticks: readonly number[]) => ticks.map((tick) => hitAt(tick));
    const crash = recorded(1928, 5752);
    expect(stepOf([crash], 480)).toBe(8);
    expect(stepOf([crash, recorded(1924, 2048, 2164)], 480)).toBe(4);
    expect(stepOf([crash, recorded(1921)], 480)).toBe(1);
    // Nothing that was played is on steps as wide as those of a part that was typed in.
    expect(stepOf([recorded(0, 480, 960)], 480)).toBe(10);
    const byHand = { ...recorded(1921)[0]!, recordedTick: null };
    expect(stepOf([crash, [byHand]], 480)).toBe(8);
    expect(stepOf([[byHand]], 480)).toBe(0);
  });

  it("is exact where all are on their slots to the tick, also with strokes of other steps among them", () => {
    const typed = [...bars(16, SAMBA), ...bars(3, { kick: [4 / 3, 8 / 3] })];
    for (const ppq of [48, 96, 480]) {
      const { found } = putOnSlots(typed, 0, [0], { bpm: 120, stepTicks: 480 / ppq });
      expect([gridName(found.get("kick")!.grid), found.get("kick")!.isExact]).toEqual(["sixteenths", true]);
    }
  });
});
