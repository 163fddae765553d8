import { describe, expect, it } from "vitest";
import { makeStudies } from "../src/standin/studies.ts";
import { scoreStudies, sumScores } from "./scoring.ts";

// Takes from a seed that nothing was built on: every style once in every tightness. `npm run score` measures more of them.
const scores = scoreStudies(makeStudies(4711, 1));
const of = (tightness: string) => sumScores(scores.filter((one) => one.tightness === tightness));

describe("takes whose truth is known, cleaned without a hint", () => {
  it("have nearly all hits on the slot that was meant, more than on any one grid", () => {
    const least = { tight: 0.997, normal: 0.99, loose: 0.96 };
    for (const [tightness, share] of Object.entries(least)) {
      const { hits, onSlot, sixteenths, bestSingle } = of(tightness);
      expect(onSlot / hits).toBeGreaterThanOrEqual(share);
      expect(onSlot).toBeGreaterThan(sixteenths);
      expect(onSlot).toBeGreaterThanOrEqual(bestSingle);
    }
    const all = sumScores(scores);
    expect(all.onSlot).toBeGreaterThan(all.bestSingle);
  });

  it("keep their grace notes, and lose hardly a stroke to what is taken for a fault", () => {
    const all = sumScores(scores);
    expect(all.graceKept / all.graces).toBeGreaterThanOrEqual(0.99);
    expect(all.doublesRight / all.doublesFound).toBeGreaterThanOrEqual(0.98);
    expect(all.doublesRight / all.doubles).toBeGreaterThanOrEqual(0.97);
    expect(all.talksRight / all.talksFound).toBeGreaterThanOrEqual(0.98);
    expect(all.talksRight / all.talks).toBeGreaterThanOrEqual(0.9);
    expect(all.realLost).toBeLessThanOrEqual(2);
  });
});
