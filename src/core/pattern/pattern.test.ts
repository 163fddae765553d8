import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { hitAt, patternOf } from "../testing/patterns.ts";
import {
  faultOfKnock,
  findPatterns,
  type IndexedRhythm,
  indexRhythm,
  knockOf,
  type Rhythm,
  rhythmOf,
} from "./index.ts";
import { countsOf } from "./knock.ts";
import { placeWords } from "./rhythm.ts";

/** Steps of a bar of sixteenths: `k` kick, `s` snare, `h` hats. */
function rhythm(line: string): Rhythm {
  const voices = { k: "kick", s: "snare", h: "hat" } as const;
  const hits = [...line].flatMap((sign, step) =>
    sign in voices ? [hitAt(step * 120, { id: `${step}`, voiceId: voices[sign as keyof typeof voices] })] : [],
  );
  return rhythmOf(patternOf(hits, { lengthTicks: line.length * 120 }));
}

const LINES = {
  rock: "k---s---k-k-s---",
  floor: "k---k---k---k---",
  off: "--k---s---k---s-",
  push: "k--ks-k--k--s--k",
  two: "k---s---k-k-s---k--ks---k-k-s-s-",
} as const;
const INDEXED: readonly IndexedRhythm[] = Object.entries(LINES).map(([id, line]) => indexRhythm(id, rhythm(line)));
const find = (line: string, hasClick = true) => findPatterns(INDEXED, knockOf(rhythm(line), 120, hasClick), 5);

describe("finding by a knock", () => {
  it("finds each pattern by itself, wholly like it, and says that all agrees", () => {
    for (const [id, line] of Object.entries(LINES)) {
      const [best] = find(line);
      expect(best).toMatchObject({ firstBar: 0, tempoFactor: 1, turnedQuarters: 0, differs: [] });
      // A part of a longer pattern may be just as like it.
      expect(best!.likeness).toBeCloseTo(1, 5);
      if (id !== "rock") expect(best!.id).toBe(id);
    }
  });

  it("forgives a stroke that is missing and one too many, and names both", () => {
    const [best] = find("k--ks-k-----sk-k");
    expect(best!.id).toBe("push");
    expect(best!.differs).toEqual(["kick 4 e is not in the pattern", "kick 3 e was not knocked"]);
    expect(best!.agrees).toContain("snare 4");
  });

  it("finds it at half and double time, and from another beat", () => {
    const slow = [...LINES.push].map((sign) => `${sign}-`).join("");
    expect(find(slow)[0]).toMatchObject({ id: "push", tempoFactor: 0.5, bars: 1 });
    const turned = LINES.push.slice(4) + LINES.push.slice(0, 4);
    expect(find(turned)[0]).toMatchObject({ id: "push", turnedQuarters: 1 });
  });

  it("repeats a pattern that is shorter than the knock, and finds a bar inside a longer one", () => {
    expect(find(LINES.push + LINES.push)[0]).toMatchObject({ id: "push", bars: 2, differs: [] });
    const [best] = find("k--ks---k-k-s-s-");
    expect(best).toMatchObject({ id: "two", firstBar: 1, bars: 1 });
  });

  it("needs no click: the tempo is found", () => {
    const { bars, strokes } = rhythm(LINES.push + LINES.push);
    for (const factor of [0.8, 1.13]) {
      const free = { bars, strokes: strokes.map((one) => ({ ...one, quarters: 0.3 + one.quarters * factor })) };
      expect(find("k", false)).toBeDefined();
      expect(findPatterns(INDEXED, knockOf(free, 120, false), 1)[0]!.id).toBe("push");
    }
  });

  it("is not led astray by loose playing", () => {
    fc.assert(
      fc.property(
        fc.constantFrom("floor", "off", "push", "two"),
        fc.infiniteStream(fc.integer({ min: -18, max: 18 })),
        (id, off) => {
          const { bars, strokes } = rhythm(LINES[id as keyof typeof LINES]);
          const offsets = off[Symbol.iterator]();
          const loose = strokes.map((one) => ({
            ...one,
            quarters: Math.max(0, one.quarters + offsets.next().value / 500),
          }));
          const [best] = findPatterns(INDEXED, knockOf({ bars, strokes: loose }, 120, true), 5);
          expect(best!.id).toBe(id);
          expect(best!.likeness).toBeGreaterThan(0.8);
        },
      ),
    );
  });

  it("compares a knock on one pad with kick and snare together", () => {
    const { bars, strokes } = rhythm(LINES.push);
    const onePad = { bars, strokes: strokes.map((one) => ({ ...one, family: "snare" as const })) };
    expect(findPatterns(INDEXED, knockOf(onePad, 120, true), 1)[0]).toMatchObject({ id: "push", differs: [] });
  });

  it("says what is no knock, and stays quick with one of hundreds of strokes", () => {
    expect(faultOfKnock(knockOf(rhythm("----------------"), 120, true))).toContain("Nothing was knocked");
    expect(faultOfKnock(knockOf(rhythm("k---------------"), 120, true))).toContain("no rhythm yet");
    expect(knockOf(rhythm("ks".repeat(200)), 120, true).strokes).toHaveLength(128);
    expect(findPatterns([], knockOf(rhythm(LINES.push), 120, true), 5)).toEqual([]);
  });
});

describe("a knock without a click", () => {
  it("is counted at the tempo that its strokes fit", () => {
    const { bars, strokes } = rhythm(LINES.two);
    const stretched = { bars, strokes: strokes.map((one) => ({ ...one, quarters: one.quarters * 1.2 + 0.05 })) };
    const [best] = countsOf(knockOf(stretched, 120, false));
    expect(best!.factor).toBeCloseTo(1 / 1.2, 2);
  });
});

describe("places in words", () => {
  it("are counted as players count", () => {
    const bar = rhythm("k---------------").bars[0]!;
    expect([0, 0.25, 1.5, 2.75, 3.98, 1 / 3].map((quarters) => placeWords(bar, quarters))).toEqual([
      "1",
      "1 e",
      "2 &",
      "3 a",
      "1",
      "1 trip",
    ]);
  });
});
