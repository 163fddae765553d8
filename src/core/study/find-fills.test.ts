import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Meant, putOnSlots, wobble } from "../testing/put-on-slots.ts";

// Fills go over the drums: each has a hit or two, and all together say what the beat is on.

const BAR = 1920;
const DRUMS = ["kick", "snare", "tom-1", "tom-2", "tom-4", "tom-5"];

/** Time for four bars, of which the last beats are a fill; over and over. */
function part(
  rounds: number,
  fill: readonly Meant[],
  fillTicks: number,
  foot: readonly number[] = [],
): readonly Meant[] {
  const fillStart = 4 * BAR - fillTicks;
  return Array.from({ length: rounds }, (_, round) => {
    const time = [0, 1, 2, 3].flatMap((bar) => [
      ...[0, 240, 480, 720, 960, 1200, 1440, 1680].map((tick) => ({ tick: bar * BAR + tick, voiceId: "hat" })),
      ...[0, 600, 960, 1320].map((tick) => ({ tick: bar * BAR + tick, voiceId: "kick" })),
      ...[480, 840, 1440].map((tick) => ({ tick: bar * BAR + tick, voiceId: "snare" })),
    ]);
    const all = [
      ...time.filter(({ tick }) => tick < fillStart),
      ...fill.map(({ tick, voiceId }) => ({ tick: fillStart + tick, voiceId })),
      ...foot.map((tick) => ({ tick: fillStart + tick, voiceId: "hat-pedal" })),
    ];
    return all.map(({ tick, voiceId }) => ({ tick: round * 4 * BAR + tick, voiceId }));
  }).flat();
}

const sextuplets = (...drums: readonly string[]) => drums.map((voiceId, step) => ({ tick: step * 80, voiceId }));

describe("fills over the drums", () => {
  it("are sextuplets though each drum has two of them, hands and feet in turn, and the take is late", () => {
    const one = ["snare", "tom-2", "kick", "snare", "tom-2", "kick"];
    const fill = sextuplets(...one, "snare", "tom-4", "kick", "tom-5", "tom-5", "kick");
    const { wrong } = putOnSlots(part(4, fill, 960), 40, wobble(9));
    expect(wrong.map(({ meant, hit }) => `${hit.voiceId} at ${meant / 480}`)).toEqual([]);
  });

  it("leave a foot that goes on in eighths where it is", () => {
    const fill = sextuplets("snare", "snare", "tom-2", "tom-2", "tom-4", "tom-4");
    const { wrong, found } = putOnSlots(part(4, fill, 480, [0, 240]), 0, wobble(9));
    expect(wrong).toEqual([]);
    expect(found.get("hat-pedal")!.grid.family).toBe("straight");
  });

  it("are told however they are spread over the drums", () => {
    const anyFill = fc.array(fc.constantFrom(...DRUMS), { minLength: 12, maxLength: 12 });
    fc.assert(
      fc.property(anyFill, fc.integer({ min: -20, max: 40 }), (drums, lateMs) => {
        const { wrong } = putOnSlots(part(4, sextuplets(...drums), 960), lateMs, wobble(7));
        expect(wrong.map(({ meant, hit }) => `${hit.voiceId} at ${meant / 480}`)).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });

  it("take a foot along that plays sixteenths elsewhere, though it is a little early in them", () => {
    const one = ["snare", "tom-2", "kick", "snare", "tom-2", "kick"];
    const isInFill = (tick: number) => tick % (4 * BAR) >= 4 * BAR - 960;
    const foot = Array.from({ length: 6 * 16 }, (_, beat) => [beat * 480, beat * 480 + 360]).flat();
    const time = part(6, sextuplets(...one, ...one), 960).filter((hit) => hit.voiceId !== "kick" || isInFill(hit.tick));
    const all = [...time, ...foot.flatMap((tick) => (isInFill(tick) ? [] : [{ tick, voiceId: "kick" }]))];
    const early = all.map((hit) =>
      hit.voiceId === "kick" && isInFill(hit.tick) ? { ...hit, tick: hit.tick - 18 } : hit,
    );
    for (const ms of [11, 12, 13]) {
      const { found } = putOnSlots(early, 0, wobble(ms));
      const sixes = found.get("kick")!.stretches.filter(({ grid }) => grid.family === "triplet");
      // All twelve beats. By what the foot shows alone there would be none.
      expect(sixes.reduce((sum, { startTick, endTick }) => sum + (endTick - startTick) / 480, 0)).toBe(12);
    }
  });

  it("are none where hands hurry a straight one", () => {
    const straight = ["snare", "snare", "tom-2", "tom-2", "tom-4", "tom-4", "tom-5", "tom-5"];
    const fill = straight.map((voiceId, step) => ({ tick: step * 120 - step * 2, voiceId }));
    const { found } = putOnSlots(part(4, fill, 960), 0, wobble(9));
    for (const { grid, stretches } of found.values())
      for (const one of [grid, ...stretches.map((stretch) => stretch.grid)]) expect(one.family).toBe("straight");
  });
});
