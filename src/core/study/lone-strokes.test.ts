import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Meant, putOnSlots, wobble } from "../testing/put-on-slots.ts";

const BAR = 1920;
const BARS = 12;

/** Time in eighths, and what is played besides. */
const timeAnd = (...others: readonly Meant[]): readonly Meant[] => [
  ...Array.from({ length: BARS }, (_, bar) => [
    ...[0, 240, 480, 720, 960, 1200, 1440, 1680].map((tick) => ({ tick: bar * BAR + tick, voiceId: "hat" })),
    ...[0, 960].map((tick) => ({ tick: bar * BAR + tick, voiceId: "kick" })),
    ...[480, 1440].map((tick) => ({ tick: bar * BAR + tick, voiceId: "snare" })),
  ]).flat(),
  ...others,
];
const wrongOf = (meant: readonly Meant[], lateMs: number, offMs: number) =>
  putOnSlots(meant, lateMs, wobble(offMs)).wrong.map(({ meant, hit }) => `${hit.voiceId} at ${meant / 480}`);

describe("a single stroke beside the steps of its voice", () => {
  it("is put where it was played, and not on the next step that the voice has", () => {
    const sixteenth = { tick: 3 * BAR + 1800, voiceId: "snare" };
    const { wrong, found } = putOnSlots(timeAnd(sixteenth), 0, wobble(6));
    expect(wrong).toEqual([]);
    const { grid, stretches } = found.get("snare")!;
    expect(grid.denominator).toBe(4);
    expect(stretches).toEqual([
      { startTick: 3 * BAR + 1440, endTick: 4 * BAR, grid: { family: "straight", denominator: 16 } },
    ]);
  });

  it("is put there though another stroke of its beat is off for its part, which says nothing of the grid", () => {
    const sixteenths = [3, 5, 8, 10].map((bar) => ({ tick: bar * BAR + 840, voiceId: "hat" }));
    const played = timeAnd(...sixteenths).map((hit) =>
      hit.voiceId === "hat" && hit.tick % BAR === 720 ? { ...hit, tick: hit.tick + 15 } : hit,
    );
    const wrong = putOnSlots(played, 0, wobble(6)).wrong.filter(({ meant }) => meant % BAR === 840);
    expect(wrong.map(({ meant }) => meant / 480)).toEqual([]);
  });

  it("is read with those of other drums in the same beat", () => {
    const triplets = [160, 320].map((tick, drum) => ({
      tick: 7 * BAR + 1440 + tick,
      voiceId: ["snare", "kick"][drum]!,
    }));
    expect(wrongOf(timeAnd(...triplets), 30, 6)).toEqual([]);
  });

  it("is on its sixteenth or triplet wherever that is, in a take that is late or early", () => {
    const anyPlace = fc
      .tuple(fc.integer({ min: 2, max: BARS - 2 }), fc.integer({ min: 0, max: 3 }), fc.constantFrom(120, 360, 160, 320))
      .map(([bar, beat, place]) => bar * BAR + beat * 480 + place);
    const anyStroke = fc.record({ tick: anyPlace, voiceId: fc.constantFrom("snare", "kick") });
    fc.assert(
      fc.property(anyStroke, fc.integer({ min: -40, max: 90 }), (stroke, lateMs) => {
        expect(wrongOf(timeAnd(stroke), lateMs, 6)).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });

  it("is where the take is, in a voice that has no more than it", () => {
    const tom = [9, 15, 17].map((quarter) => ({ tick: quarter * 480 + 360, voiceId: "tom-5" }));
    expect(wrongOf(timeAnd(...tom, { tick: 15 * 480 + 420, voiceId: "tom-5" }), 135, 6)).toEqual([]);
  });

  it("is none in a voice that is anywhere: that follows nothing, and is told so", () => {
    const anywhere = Array.from({ length: 40 }, (_, index) => ({
      tick: 960 + Math.round(index * 531.7 + ((index * 7919) % 193)),
      voiceId: "tom-5",
    }));
    const { isPoor, stretches } = putOnSlots(timeAnd(...anywhere), 0, wobble(6)).found.get("tom-5")!;
    expect(isPoor).toBe(true);
    expect(stretches.length).toBeLessThan(4);
  });

  it("stays on its step where it is only late", () => {
    const late = { tick: 3 * BAR + 960 + 32, voiceId: "snare" };
    const { found } = putOnSlots(timeAnd(late), 0, wobble(6));
    expect(found.get("snare")!.stretches).toEqual([]);
  });
});
