import { readFileSync } from "node:fs";
import Ajv from "ajv";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { importUnplanned } from "../file/index.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { hitAt, patternOf } from "../testing/patterns.ts";
import {
  clashesOf,
  cutRhythm,
  factsOf,
  makeNew,
  type NewWish,
  NO_VARIATION,
  PIECE_SIZES,
  pathsOf,
  patternFile,
  patternToMidi,
  type Rhythm,
  rhythmOf,
  roomOf,
  throwOut,
  toggleKept,
  twinKey,
  USUAL_NEW,
  type Variation,
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

  it("keeps what is kept whatever the seed, and never adds again what is thrown out, nor anything in its stead", () => {
    fc.assert(
      fc.property(
        lines,
        fc.array(lines, { minLength: 1, maxLength: 3 }),
        fc.integer({ min: 1, max: 8 }),
        fc.nat(),
        fc.nat(),
        (line, rest, wish, seed, which) => {
          const [own, others] = [rhythm(line), rest.map((row) => rhythm(row))];
          const first: Variation = { ...NO_VARIATION, strokes: { snare: wish } };
          const addedBy = (variation: Variation) => varied(own, others, variation).filter(({ isAdded }) => isAdded);
          const added = addedBy(first);
          const one = added[which % Math.max(1, added.length)];
          if (!one) return;
          const kept = toggleKept(first, one.addedAt!);
          expect(addedBy({ ...kept, seed })).toContainEqual(one);
          expect(addedBy({ ...kept, seed, strokes: { snare: 1 } })).toEqual([one]);
          expect(toggleKept(kept, one.addedAt!)).toEqual(first);
          const thrown = throwOut({ ...kept, strokes: { snare: added.length } }, one);
          const left = addedBy(thrown);
          expect(left).toHaveLength(added.length - 1);
          for (const again of [left, addedBy({ ...thrown, seed, strokes: { snare: 40 } })])
            expect(again.map(({ addedAt }) => addedAt)).not.toContain(one.addedAt);
        },
      ),
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

describe("files of patterns", () => {
  const told = (name: string) => ({
    name,
    from: "a test",
    kind: "groove" as const,
    bpm: 120,
    facts: factsOf(GROOVE),
    rhythm: GROOVE,
  });

  it("are as their schema says, and hold every stroke", () => {
    const isFile = new Ajv({ allErrors: true }).compile(
      JSON.parse(readFileSync("public/patterns.schema.json", "utf8")),
    );
    const file = JSON.parse(JSON.stringify(patternFile([told("Quay walk")])));
    isFile(file);
    expect(isFile.errors).toBeNull();
    expect(file.patterns[0].strokes).toHaveLength(GROOVE.strokes.length);
  });

  it("have a place each, also two of one name, and names that no file can have", () => {
    expect(pathsOf([told("Quay"), told("quay"), told("Quay: 1/2"), told("?")])).toEqual([
      "grooves/Quay.mid",
      "grooves/quay 2.mid",
      "grooves/Quay  1 2.mid",
      "grooves/pattern.mid",
    ]);
  });

  it("are played again as they were", () => {
    const { pattern } = importUnplanned(patternToMidi("Quay walk", 97, GROOVE, GROOVE.strokes), GENERAL_MIDI);
    const again = rhythmOf(pattern);
    expect(again.strokes.map(({ quarters, velocity }) => [quarters, velocity])).toEqual(
      GROOVE.strokes.map(({ quarters, velocity }) => [quarters, velocity]),
    );
  });
});

describe("a new one like it", () => {
  it("is of strokes that the others or itself play, can be played, and is another one with another seed", () => {
    fc.assert(
      fc.property(
        fc.array(lines, { minLength: 2, maxLength: 4 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer(),
        fc.constantFrom(...PIECE_SIZES),
        fc.double({ min: -0.5, max: 0.5, noNaN: true }),
        (rows, likeness, seed, size, fuller) => {
          const own = GROOVE;
          const others = rows.map((row) => rhythm(row));
          const wish = { ...USUAL_NEW, likeness, seed, size, fuller };
          const made = makeNew(own, others, wish)!;
          expect(made.takenFrom.size + 1).toBeGreaterThan(0);
          expect(clashesOf(made.rhythm.strokes)).toBe(0);
          const places = (strokes: Rhythm["strokes"]) =>
            new Set(strokes.map(({ family, quarters }) => `${family} ${(quarters % 4).toFixed(3)}`));
          const known = places([own, ...others].flatMap(({ strokes }) => strokes));
          for (const place of places(made.rhythm.strokes)) expect(known).toContain(place);
          expect(makeNew(own, others, wish)).toEqual(made);
        },
      ),
    );
  });

  it("keeps all drums but one where it is to be most like it, and takes them from patterns in the same meter only", () => {
    const other = rhythm(
      "h---h---h---h---h---h---h---h---",
      "--s---s---s---s---s---s---s---s-",
      "--k---k---k---k---k---k---k---k-",
    );
    const made = makeNew(GROOVE, [other], { ...USUAL_NEW, likeness: 1, seed: 4 })!;
    expect(made.takenFrom.size).toBe(1);
    const waltz = rhythmOf(
      patternOf(
        GROOVE.strokes.map(({ hit }) => hit),
        { meters: [{ tick: 0, numerator: 3, denominator: 4 }] },
      ),
    );
    expect(makeNew(GROOVE, [waltz], { ...USUAL_NEW, likeness: 0, seed: 4 })).toBeNull();
    expect(makeNew(GROOVE, [waltz, other], { ...USUAL_NEW, likeness: 0, seed: 4 })!.takenFrom.get("kick")).toEqual(
      new Set([1]),
    );
  });
});

describe("a new one of chosen pieces", () => {
  const sparse = rhythm(
    "h---h---h---h---h---h---h---h---",
    "--s-------s-------s-------s-----",
    "k---------------k---------------",
  );
  const busy = rhythm(
    "hhhhhhhhhhhhhhhhhhhhhhhhhhhhhhhh",
    "----s---g---s-------s---g---sggg",
    "k-k---k-k-k---k-k-k---k-k-k---k-",
  );
  const make = (wish: Partial<NewWish>) => makeNew(GROOVE, [sparse, busy], { ...USUAL_NEW, ...wish })!;
  const of = ({ strokes }: Rhythm, family: string) =>
    strokes.filter((stroke) => stroke.family === family).map(({ quarters }) => quarters);

  it("has each drum of the one that was chosen for it, and its own where that is wished", () => {
    const made = make({ drumsOf: { kick: 1, hats: 0, snare: null } });
    expect(of(made.rhythm, "kick")).toEqual(of(busy, "kick"));
    expect(of(made.rhythm, "hats")).toEqual(of(sparse, "hats"));
    expect(of(made.rhythm, "snare")).toEqual(of(GROOVE, "snare"));
    expect(made.takenFrom).toEqual(
      new Map([
        ["kick", new Set([1])],
        ["hats", new Set([0])],
      ]),
    );
  });

  it("ends with the last bar of another", () => {
    const made = make({ drumsOf: { kick: null, hats: null, snare: null }, lastBarOf: 1 });
    const after = (rhythmic: Rhythm, from: number) =>
      rhythmic.strokes
        .filter(({ quarters }) => quarters >= from)
        .map(({ family, quarters }) => `${family} ${quarters}`);
    expect(after(made.rhythm, 4).toSorted()).toEqual(after(busy, 4).toSorted());
    expect(of(made.rhythm, "kick").filter((at) => at < 4)).toEqual(of(GROOVE, "kick").filter((at) => at < 4));
  });

  it("mixes bar by bar or beat by beat, and is fuller or sparser", () => {
    const bars = Array.from({ length: 30 }, (_, seed) => of(make({ size: "bar", likeness: 0.5, seed }).rhythm, "kick"));
    const first = (kicks: readonly number[]) => kicks.filter((at) => at < 4).join();
    const second = (kicks: readonly number[]) => kicks.flatMap((at) => (at >= 4 ? [at - 4] : [])).join();
    // Both bars of one drum may come from different patterns.
    expect(
      bars.some((kicks) => first(kicks) === first(of(busy, "kick")) && second(kicks) !== second(of(busy, "kick"))),
    ).toBe(true);
    const beats = new Set(
      Array.from({ length: 30 }, (_, seed) => of(make({ size: "beat", seed }).rhythm, "kick").join()),
    );
    expect(beats.size).toBeGreaterThan(new Set(bars.map(String)).size);
    const count = (fuller: number) =>
      make({ drumsOf: { kick: null, snare: null, hats: null }, fuller }).rhythm.strokes.length;
    expect(count(-0.4)).toBeLessThan(count(0));
    expect(count(0.4)).toBeGreaterThan(count(0));
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
