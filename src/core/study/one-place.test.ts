import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { putOnSlots, wobble } from "../testing/put-on-slots.ts";
import { gridName } from "../time/index.ts";

// Drums that play one place of the bar and nothing else, in a take of sixteenths: of them alone nothing could be told but that place.

const BAR = 1920;

/** A take in which the rack tom plays one sixteenth of each bar. */
function take(sixteenth: number, bars: number) {
  const ofBar = {
    hat: [0, 240, 480, 720, 960, 1200, 1440, 1680],
    kick: [0, 360, 960, 1320, 1800],
    snare: [480, 1440],
    "tom-2": [sixteenth * 120],
  };
  return Array.from({ length: bars }, (_, bar) => (bar + 1) * BAR).flatMap((start) =>
    Object.entries(ofBar).flatMap(([voiceId, places]) => places.map((place) => ({ tick: start + place, voiceId }))),
  );
}

describe("a drum of one place in the bar", () => {
  it("is on its sixteenth, whichever that is, however long it is played, and however late or early the take came in", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 15 }),
        fc.integer({ min: 4, max: 50 }),
        fc.integer({ min: -150, max: 150 }),
        (sixteenth, bars, lateMs) => {
          const { wrong, lateness } = putOnSlots(take(sixteenth, bars), lateMs, wobble(8));
          expect(Math.abs(lateness.lateMs - lateMs)).toBeLessThan(20);
          expect(wrong.map(({ meant, hit }) => `${hit.voiceId} at ${meant / 480}`)).toEqual([]);
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 25) },
    );
  });

  it("is called by the steps of the take, and not by dotted ones that happen to have its place", () => {
    for (const sixteenth of [3, 6, 9, 15]) {
      const { grid } = putOnSlots(take(sixteenth, 24), 0, wobble(8)).found.get("tom-2")!;
      expect([sixteenth, grid.family]).toEqual([sixteenth, "straight"]);
    }
  });

  it("leaves the others what they are: a back-beat in quarters", () => {
    const { found } = putOnSlots(take(1, 24), 0, wobble(8));
    expect(gridName(found.get("snare")!.grid)).toBe("quarters");
  });

  it("is in the bar that it was meant for where the take came in later than a step", () => {
    for (const lateMs of [-148, 148]) {
      const { found } = putOnSlots(take(15, 16), lateMs, wobble(8));
      const { grid, stretches, shareExplained } = found.get("kick")!;
      expect([gridName(grid), stretches.length, shareExplained]).toEqual(["sixteenths", 0, 1]);
    }
  });
});
