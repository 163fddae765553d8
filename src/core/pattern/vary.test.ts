import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { hitAt, patternOf } from "../testing/patterns.ts";
import {
  clashesOf,
  cutRhythm,
  factsOf,
  NO_VARIATION,
  type Rhythm,
  rhythmOf,
  roomOf,
  twinKey,
  varied,
} from "./index.ts";

const VOICES = {
  k: { voiceId: "kick", articulationId: "single" },
  s: { voiceId: "snare", articulationId: "centre" },
  g: { voiceId: "snare", articulationId: "centre" },
  h: { voiceId: "hat", articulationId: "closed" },
  o: { voiceId: "hat", articulationId: "open" },
} as const;

/** Rows of sixteenths, one for each hand and foot. */
function rhythm(...rows: readonly string[]): Rhythm {
  const hits = rows.flatMap((row, index) =>
    [...row].flatMap((sign, step) => {
      const voice = VOICES[sign as keyof typeof VOICES];
      return voice
        ? [hitAt(step * 120, { id: `${index} ${step}`, ...voice, recordedVelocity: sign === "g" ? 30 : 90 })]
        : [];
    }),
  );
  return rhythmOf(patternOf(hits, { lengthTicks: rows[0]!.length * 120 }));
}

const GROOVE = rhythm(
  "h-h-h-h-h-h-h-h-h-h-h-h-h-h-h-h-",
  "----s--g----s-------s--g-g--s---",
  "k-----k-k-------k-----k-k-----k-",
);
const lines = fc
  .array(fc.constantFrom("-", "k", "s", "g", "h", "o"), { minLength: 32, maxLength: 32 })
  .map((signs) => signs.join(""));

describe("a varied pattern", () => {
  it("is the pattern itself where nothing is wished", () => {
    expect(varied(GROOVE, [], NO_VARIATION).map(({ isAdded: _, ...stroke }) => stroke)).toEqual(GROOVE.strokes);
  });

  it("sparser, leaves out ghosts before strokes, and weak places before beats", () => {
    const left = varied(GROOVE, [], { ...NO_VARIATION, strokes: { snare: -3 } }).filter(
      ({ family }) => family === "snare",
    );
    expect(left.map(({ quarters }) => quarters)).toEqual([1, 3, 5, 7]);
    const kicks = varied(GROOVE, [], { ...NO_VARIATION, strokes: { kick: -4 } }).filter(
      ({ family }) => family === "kick",
    );
    expect(kicks.map(({ quarters }) => quarters)).toEqual(expect.arrayContaining([0, 4]));
  });

  it("fuller, plays what is played elsewhere, as it is played there, and marks it", () => {
    const added = varied(GROOVE, [], { ...NO_VARIATION, strokes: { snare: 1 } }).filter(({ isAdded }) => isAdded);
    // The ghost on the & of 2 that only the second bar has.
    expect(added.map(({ quarters, velocity }) => [quarters, velocity])).toEqual([[2.25, 30]]);
    expect(roomOf(GROOVE, [], "snare")).toEqual({ fewer: 7, more: 1 });
  });

  it("never asks for a third hand, for one drum twice, or for hats that are open and shut at once", () => {
    fc.assert(
      fc.property(
        fc.array(lines, { minLength: 2, maxLength: 4 }),
        fc.integer({ min: 0, max: 40 }),
        fc.integer(),
        (rows, more, seed) => {
          const [own, ...others] = rows.map((row) => rhythm(row));
          const before = clashesOf(own!.strokes);
          const families = ["kick", "snare", "hats"] as const;
          for (const family of families) {
            const fuller = varied(own!, others, { ...NO_VARIATION, seed, strokes: { [family]: more } });
            expect(clashesOf(fuller)).toBe(before);
            expect(fuller.length).toBeLessThanOrEqual(own!.strokes.length + more);
          }
        },
      ),
    );
  });

  it("fuller and then sparser by as much is the pattern again", () => {
    fc.assert(
      fc.property(lines, lines, fc.integer({ min: 0, max: 12 }), (line, other, wish) => {
        const own = rhythm(line);
        const fuller = varied(own, [rhythm(other)], { ...NO_VARIATION, strokes: { snare: wish } });
        const more = fuller.length - own.strokes.length;
        const added = new Set(fuller.filter(({ isAdded }) => isAdded));
        expect(added.size).toBe(more);
        expect(fuller.filter((stroke) => !added.has(stroke)).map(({ isAdded: _, ...stroke }) => stroke)).toEqual(
          own.strokes,
        );
      }),
    );
  });

  it("harder and softer, stays between 1 and 127", () => {
    const loud = varied(GROOVE, [], { ...NO_VARIATION, velocity: { snare: 60 } });
    expect(loud.filter(({ family }) => family === "snare").map(({ velocity }) => velocity)).toEqual([
      127, 90, 127, 127, 90, 90, 127,
    ]);
    expect(loud.filter(({ family }) => family === "hats").every(({ velocity }) => velocity === 90)).toBe(true);
  });
});

describe("what is told of a pattern", () => {
  it("is its meter, bars, fullness, loudness and how beats are divided", () => {
    const facts = factsOf(GROOVE);
    expect(facts).toMatchObject({ meter: "4/4", bars: 2, loudness: 90, grid: "straight" });
    expect(facts.families).toEqual(["hats", "snare", "kick"]);
    expect(facts.fullness).toBeGreaterThan(12);
    const swung = {
      ...GROOVE,
      strokes: GROOVE.strokes.map((stroke) =>
        stroke.quarters % 1 === 0.5 ? { ...stroke, quarters: stroke.quarters + 0.12 } : stroke,
      ),
    };
    expect(factsOf(swung).grid).toBe("swung 62 %");
  });

  it("is the same of twins, however they are played, and not of others", () => {
    const loose = {
      ...GROOVE,
      strokes: GROOVE.strokes.map((stroke, index) => ({
        ...stroke,
        quarters: stroke.quarters + ((index % 3) - 1) * 0.02,
        velocity: 60 + index,
      })),
    };
    expect(twinKey(loose)).toBe(twinKey(GROOVE));
    expect(twinKey(rhythm("k---"))).not.toBe(twinKey(GROOVE));
  });

  it("is of some bars of a take as of a pattern of its own", () => {
    const second = cutRhythm(GROOVE, 1, 2);
    expect(second.bars.map(({ startQuarters }) => startQuarters)).toEqual([0]);
    expect(second.strokes.filter(({ family }) => family === "kick").map(({ quarters }) => quarters)).toEqual([
      0, 1.5, 2, 3.5,
    ]);
  });
});
