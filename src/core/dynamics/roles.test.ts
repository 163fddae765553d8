import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../../standin/random.ts";
import { roleOf } from "../document/index.ts";
import { USUAL_DYNAMICS } from "../document/treatment.ts";
import { patternOf } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import {
  barsThatDiffer,
  dynamicsSentence,
  findAlike,
  findRoleBorders,
  otherBorders,
  summarizeLoudness,
} from "./index.ts";

const around = (means: readonly number[], spread = 6) => {
  const random = createRandom(3);
  return means.flatMap((mean) =>
    Array.from({ length: 60 }, () => Math.max(1, Math.min(127, Math.round(mean + random.bell(spread))))),
  );
};

describe("roles", () => {
  it("are found where a voice has ghosts, strokes and accents", () => {
    const borders = findRoleBorders(around([32, 80, 115]));
    expect(roleOf(36, borders)).toBe("ghost");
    expect(roleOf(80, borders)).toBe("stroke");
    expect(roleOf(118, borders)).toBe("accent");
  });

  it("are ghosts and strokes, or strokes and accents, in a voice of two loudnesses", () => {
    const ghostly = findRoleBorders([30, 90, 30, 30, 90]);
    expect([30, 90].map((velocity) => roleOf(velocity, ghostly))).toEqual(["ghost", "stroke"]);
    const hardBackBeat = findRoleBorders([30, 116, 30, 30, 116]);
    expect([30, 116].map((velocity) => roleOf(velocity, hardBackBeat))).toEqual(["ghost", "accent"]);
    const strong = findRoleBorders([80, 118, 80, 80]);
    expect([80, 118].map((velocity) => roleOf(velocity, strong))).toEqual(["stroke", "accent"]);
    expect(findRoleBorders([80, 90, 80, 80])).toEqual({ ghostTop: 0, accentBottom: 128 });
  });

  it("of two loudnesses can be read as the other pair, and of one or three as no other", () => {
    expect(otherBorders({ ghostTop: 0, accentBottom: 91 })).toEqual({
      name: "Ghosts and normal",
      borders: { ghostTop: 90, accentBottom: 128 },
    });
    expect(otherBorders({ ghostTop: 60, accentBottom: 61 })?.borders).toEqual({ ghostTop: 60, accentBottom: 128 });
    const there = otherBorders({ ghostTop: 60, accentBottom: 128 })!.borders;
    expect(there).toEqual({ ghostTop: 0, accentBottom: 61 });
    expect(otherBorders(there)?.borders).toEqual({ ghostTop: 60, accentBottom: 128 });
    for (const [ghostTop, accentBottom] of [
      [0, 128],
      [0, 1],
      [127, 128],
      [50, 95],
    ] as const)
      expect(otherBorders({ ghostTop, accentBottom })).toBeNull();
  });

  it("are all strokes in a voice of one loudness", () => {
    expect(findRoleBorders(around([84], 7))).toEqual({ ghostTop: 0, accentBottom: 128 });
    expect(findRoleBorders([100, 100, 100])).toEqual({ ghostTop: 0, accentBottom: 128 });
    expect(findRoleBorders([])).toEqual({ ghostTop: 0, accentBottom: 128 });
  });

  it("are all accents in a voice that is always hit hard, and all ghosts in one that is always soft", () => {
    expect(findRoleBorders(around([112], 6))).toEqual({ ghostTop: 0, accentBottom: 1 });
    expect(findRoleBorders(around([28], 6))).toEqual({ ghostTop: 127, accentBottom: 128 });
    // A hand that plays so loud means it; a program that writes 100 throughout means nothing.
    expect(findRoleBorders(around([101], 6))).toEqual({ ghostTop: 0, accentBottom: 1 });
    expect(findRoleBorders(new Array(40).fill(100))).toEqual({ ghostTop: 0, accentBottom: 128 });
  });

  it("are told by places of the bar where their loudness alone does not tell", () => {
    const random = createRandom(5);
    const hit = (mean: number) => Math.round(mean + random.bell(9));
    // Sixteenths in one hand, none of which stands out from its neighbours: louder on beats, softer between eighths.
    const means = [101, 62, 84, 62];
    const velocities = Array.from({ length: 192 }, (_, index) => hit(means[index % 4]!));
    const places = velocities.map((_, index) => (index % 16) * 3);
    const { ghostTop, accentBottom } = findRoleBorders(velocities, places);
    expect(ghostTop).toBeGreaterThan(68);
    expect(ghostTop).toBeLessThan(78);
    expect(accentBottom).toBeGreaterThan(88);
    expect(accentBottom).toBeLessThan(98);
    // The same hits anywhere in the bar show nothing.
    const anywhere = velocities.map(() => Math.floor(random.uniform() * 16) * 3);
    expect(findRoleBorders(velocities, anywhere)).toEqual(findRoleBorders(velocities));
    // One loudness is one role on every place.
    expect(findRoleBorders(around([84, 84, 84], 9), places)).toEqual({ ghostTop: 0, accentBottom: 128 });
  });

  it("are told by places as well where a pad hears another drum there", () => {
    // A tom, accented on one and three, where it hears the kick.
    const loud = [
      83, 101, 72, 92, 86, 105, 109, 98, 86, 78, 91, 115, 108, 100, 117, 95, 89, 84, 92, 91, 96, 70, 103, 90,
    ];
    const heard = [13, 9, 14, 14, 16, 8, 16, 13, 16, 17, 13, 9, 15, 12, 14];
    const soft = [
      65, 67, 63, 67, 72, 67, 60, 59, 68, 76, 57, 56, 84, 65, 64, 74, 71, 80, 61, 66, 65, 80, 63, 61, 76, 72, 76, 77,
    ];
    const softer = [
      58, 74, 81, 67, 71, 70, 63, 72, 61, 55, 52, 51, 65, 82, 78, 66, 74, 84, 66, 69, 72, 54, 65, 70, 63, 61, 64, 77,
    ];
    const softest = [
      81, 55, 70, 64, 61, 59, 70, 74, 59, 56, 53, 61, 77, 60, 82, 55, 56, 65, 58, 67, 65, 52, 50, 53, 57, 54, 50,
    ];
    const beside = [...soft, ...softer, ...softest];
    const velocities = [...loud, ...heard, ...beside];
    const places = [
      ...loud.map((_, index) => 24 * (index % 2)),
      ...heard.map((_, index) => 24 * (index % 2)),
      ...beside.map((_, index) => [6, 9, 15, 18, 30, 33, 39, 42][index % 8]!),
    ];
    const { ghostTop, accentBottom } = findRoleBorders(velocities, places);
    expect(ghostTop).toBeGreaterThanOrEqual(17);
    expect(ghostTop).toBeLessThan(50);
    expect(accentBottom).toBeGreaterThan(74);
    expect(accentBottom).toBeLessThan(90);
  });

  it("are not told by a few soft hits that other drums have left", () => {
    const talk = Array.from({ length: 5 }, (_, index) => 12 + index);
    expect(roleOf(84, findRoleBorders([...talk, ...around([84], 7)]))).toBe("stroke");
  });

  it("are not moved by a pad that has triggered twice, or hears its neighbours", () => {
    const ghostsAndAccents = around([63, 109], 5);
    const borders = findRoleBorders([20, 24, ...ghostsAndAccents]);
    expect([24, 63, 109].map((velocity) => roleOf(velocity, borders))).toEqual(["ghost", "ghost", "accent"]);
    // Far too soft for a hand that plays the others: they do not make those accents.
    const talk = findRoleBorders([...around([11], 2).slice(0, 20), ...around([84], 7)]);
    expect(roleOf(84, talk)).toBe("stroke");
  });

  it("do not merge where two loudnesses lie near each other", () => {
    const { ghostTop, accentBottom } = findRoleBorders([...around([65], 7), ...around([93], 7)]);
    expect(ghostTop).toBe(0);
    expect(accentBottom).toBeGreaterThan(72);
    expect(accentBottom).toBeLessThan(86);
  });

  it("rise with velocity in any voice", () => {
    const order = { ghost: 0, stroke: 1, accent: 2 };
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 127 }), { minLength: 1, maxLength: 80 }), (velocities) => {
        const borders = findRoleBorders(velocities);
        for (let velocity = 2; velocity < 128; velocity++) {
          expect(order[roleOf(velocity, borders)]).toBeGreaterThanOrEqual(order[roleOf(velocity - 1, borders)]);
        }
      }),
    );
  });
});

describe("the dynamics step as a sentence", () => {
  it("says what is set and nothing else", () => {
    expect(dynamicsSentence(USUAL_DYNAMICS)).toBe("As loud as it was played.");
    const cycle = { grid: { family: "straight", denominator: 8 }, percents: [100, 65] } as const;
    const byRole = { ghost: { addVelocity: -8 }, accent: { scalePercent: 110, highestVelocity: 120 } };
    expect(dynamicsSentence({ ...USUAL_DYNAMICS, byRole, rangePercent: 80, cycle, deviation: 3 })).toBe(
      "Ghosts 8 softer, accents at 110 % and not above 120, 80 % as dynamic, in eighths 100 65, ± 3 by chance.",
    );
    const exceptions = [{ startTick: 0, endTick: 1920, isOn: false }];
    expect(dynamicsSentence({ ...USUAL_DYNAMICS, loudnessPercent: 90, lowestVelocity: 5, exceptions })).toBe(
      "All at 90 %, never below 5, otherwise in 1 place.",
    );
  });
});

describe("loudness in numbers", () => {
  it("has mean, spread and crest of each role that is played", () => {
    const [ghosts, accents] = summarizeLoudness([20, 40, 100], Uint8Array.of(0, 0, 2));
    expect(ghosts).toMatchObject({ role: "ghost", count: 2, mean: 30, spread: 10 });
    expect(ghosts!.crest).toBeCloseTo(40 / Math.sqrt(1000), 9);
    expect(accents).toEqual({ role: "accent", count: 1, mean: 100, spread: 0, crest: 1 });
    expect(summarizeLoudness([], new Uint8Array())).toEqual([]);
  });

  it("names the bars that differ most, the most different first", () => {
    const { meterMap } = buildTimeMaps(patternOf([]));
    const ticks = [0, 480, 1920, 3840];
    const bars = barsThatDiffer([50, 50, 50, 50], [50, 54, 30, 50], ticks, meterMap, 5);
    expect(bars.map(({ barIndex, meanChange }) => [barIndex, meanChange])).toEqual([
      [1, -20],
      [0, 2],
    ]);
    expect(barsThatDiffer([50], [50], [0], meterMap, 5)).toEqual([]);
  });

  it("finds hits in a row that are exactly alike, and no others", () => {
    const every = (stepMs: number, count: number) => Array.from({ length: count }, (_, at) => at * stepMs);
    expect(findAlike([80, 80, 80, 80, 60], every(100, 5))).toEqual([0, 1, 2, 3]);
    expect(findAlike([80, 80, 80, 60, 80], every(100, 5))).toEqual([]);
    expect(findAlike([80, 80, 80, 80], every(500, 4))).toEqual([]);
  });
});
