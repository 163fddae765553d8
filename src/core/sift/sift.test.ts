import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Hit, Pattern } from "../document/index.ts";
import type { TimingTreatment } from "../document/treatment.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { ordinal } from "../ordinal.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { barAt, buildMeterMap, buildTimeMaps, type MeterChange } from "../time/index.ts";
import {
  describeHits,
  isAtPlace,
  offBeatsOf,
  PLACES,
  type Place,
  placeInBar,
  type Sift,
  type SiftTest,
  siftHits,
  siftLanesOf,
  siftSentence,
} from "./index.ts";

const hat = (tick: number, more: Partial<Hit> = {}) =>
  hitAt(tick, { id: `h${tick}`, voiceId: "hat", articulationId: "closed", note: 42, ...more });
const idsOf = (pattern: Pattern, sift: Sift, among: ReadonlySet<string> | null = null) => {
  const maps = buildTimeMaps(pattern);
  return siftHits(sift, siftLanesOf(pattern, maps), maps, among).map(({ hit }) => hit.id);
};
const rule = (...tests: SiftTest[]): Sift => ({ clauses: tests.map((test) => ({ anyOf: [test] })) });
const onGrid = (voiceId: string, timing: Partial<TimingTreatment>) => laneOf(voiceId, timing);

describe("places in the bar", () => {
  /** Which eighths and sixteenths of a bar are at a place, counted from 1 in steps of a sixteenth. */
  const sixteenthsAt = (place: Place, numerator: number, denominator: number) => {
    const changes: MeterChange[] = [{ tick: 0, numerator, denominator }];
    const meterMap = buildMeterMap(480, changes);
    const bar = barAt(meterMap, 0);
    const found: number[] = [];
    for (let step = 0; step * 120 < bar.endTick; step++) {
      if (isAtPlace({ bar, inBarTicks: step * 120 }, place, 480)) found.push(step + 1);
    }
    return found;
  };

  it("are counted from the quarter in 4/4", () => {
    expect(sixteenthsAt("beats", 4, 4)).toEqual([1, 5, 9, 13]);
    expect(sixteenthsAt("offBeats", 4, 4)).toEqual([3, 7, 11, 15]);
    expect(sixteenthsAt("backBeats", 4, 4)).toEqual([5, 13]);
    expect(sixteenthsAt("downBeats", 4, 4)).toEqual([1]);
    expect(sixteenthsAt("betweens", 4, 4)).toEqual([2, 4, 6, 8, 10, 12, 14, 16]);
  });

  it("are counted from the dotted quarter in 6/8, where the off-beat is the last third", () => {
    expect(sixteenthsAt("beats", 6, 8)).toEqual([1, 7]);
    expect(sixteenthsAt("offBeats", 6, 8)).toEqual([5, 11]);
    expect(sixteenthsAt("backBeats", 6, 8)).toEqual([7]);
  });

  it("follow the groups of 7/8", () => {
    expect(sixteenthsAt("beats", 7, 8)).toEqual([1, 5, 9]);
    // Half-way in the groups of two, and the last third of the group of three.
    expect(sixteenthsAt("offBeats", 7, 8)).toEqual([3, 7, 13]);
  });

  it("find the triplets of a beat", () => {
    const bar = barAt(buildMeterMap(480, []), 0);
    expect([160, 320, 640].every((inBarTicks) => isAtPlace({ bar, inBarTicks }, "triplets", 480))).toBe(true);
    expect(isAtPlace({ bar, inBarTicks: 240 }, "triplets", 480)).toBe(false);
    expect(offBeatsOf(bar, 480)).toEqual([240, 720, 1200, 1680]);
  });

  it("of a swung grid are those of the straight one", () => {
    const meterMap = buildMeterMap(480, []);
    const grid = { family: "straight", denominator: 8, swingPercent: 60 } as const;
    expect(placeInBar(1920 + 288, { grid }, meterMap).inBarTicks).toBe(240);
    expect(placeInBar(1920 + 480, { grid }, meterMap).inBarTicks).toBe(480);
  });
});

describe("sifting", () => {
  const take = patternOf(
    [
      hat(0, { recordedVelocity: 100 }),
      hat(238, { recordedVelocity: 40 }),
      hat(484, { recordedVelocity: 100 }),
      hat(722, { recordedVelocity: 40, articulationId: "open" }),
      hat(1920, { recordedVelocity: 100, pinnedTick: 1920 }),
      hitAt(482, { id: "s1", recordedVelocity: 110 }),
      hitAt(950, { id: "g", recordedVelocity: 25 }),
      hitAt(1440, { id: "s2", recordedVelocity: 112, pinnedVelocity: 90 }),
    ],
    { lanes: [onGrid("hat", { grid: { family: "straight", denominator: 8 } }), onGrid("snare", {})] },
  );

  it("asks for voices, families, strokes, loudness, roles, places, bars, drift, company and pins", () => {
    expect(idsOf(take, rule({ kind: "voices", voiceIds: ["snare"] }))).toEqual(["s1", "g", "s2"]);
    expect(idsOf(take, rule({ kind: "families", families: ["hats"] }))).toHaveLength(5);
    expect(idsOf(take, rule({ kind: "stroke", voiceId: "hat", articulationId: "open" }))).toEqual(["h722"]);
    expect(idsOf(take, rule({ kind: "velocity", from: 30, to: 90 }))).toEqual(["h238", "h722", "s2"]);
    expect(idsOf(take, rule({ kind: "roles", roles: ["ghost"] }))).toContain("g");
    expect(idsOf(take, rule({ kind: "places", places: ["backBeats"] }))).toEqual(["s1", "h484", "s2"]);
    // What is played early counts for the beat that it is meant for.
    expect(idsOf(take, rule({ kind: "places", places: ["offBeats"] }))).toEqual(["h238", "h722"]);
    expect(idsOf(take, rule({ kind: "bars", from: 2, to: 2 }))).toEqual(["h1920"]);
    expect(idsOf(take, rule({ kind: "drift", fromMs: -20, toMs: -1 }))).toEqual(["h238", "g"]);
    expect(idsOf(take, rule({ kind: "company", company: "together" }))).toEqual(["s1", "h484"]);
    expect(idsOf(take, rule({ kind: "company", company: "alone" }))).toContain("g");
    expect(idsOf(take, rule({ kind: "pinned", what: "time" }))).toEqual(["h1920"]);
    expect(idsOf(take, rule({ kind: "pinned", what: "loudness" }))).toEqual(["s2"]);
    const steps = { kind: "steps", grid: { family: "straight", denominator: 8 }, steps: [2, 4] } as const;
    expect(idsOf(take, rule(steps))).toEqual(["h238", "h722"]);
  });

  it("joins tests by and, or and not", () => {
    const hats: SiftTest = { kind: "voices", voiceIds: ["hat"] };
    const loud: SiftTest = { kind: "velocity", from: 100, to: 127 };
    const open: SiftTest = { kind: "stroke", voiceId: "hat", articulationId: "open" };
    expect(idsOf(take, rule(hats, loud))).toEqual(["h0", "h484", "h1920"]);
    expect(idsOf(take, { clauses: [{ anyOf: [hats] }, { not: true, anyOf: [loud, open] }] })).toEqual(["h238"]);
    expect(idsOf(take, { clauses: [{ anyOf: [open, loud] }] })).toEqual(["h0", "s1", "h484", "h722", "h1920"]);
    expect(idsOf(take, { clauses: [{ anyOf: [] }] })).toEqual([]);
  });

  it("lets every nth of the rest through, counted on or from each bar line", () => {
    const clauses = rule({ kind: "voices", voiceIds: ["hat"] }).clauses;
    expect(idsOf(take, { clauses, nth: { every: 2, from: 2, perBar: false } })).toEqual(["h238", "h722"]);
    expect(idsOf(take, { clauses, nth: { every: 2, from: 1, perBar: true } })).toEqual(["h0", "h484", "h1920"]);
    expect(idsOf(take, { clauses, nth: { every: 3, from: 3, perBar: false } })).toEqual(["h484"]);
  });

  it("looks only among hits that it is told to, and at everything without a rule", () => {
    expect(idsOf(take, { clauses: [] })).toHaveLength(8);
    expect(idsOf(take, { clauses: [] }, new Set(["g", "h0"]))).toEqual(["h0", "g"]);
  });

  it("finds grace notes with their main hit", () => {
    const flam = patternOf([
      hitAt(455, { id: "grace", recordedVelocity: 30 }),
      hitAt(484, { id: "main", recordedVelocity: 110 }),
      hitAt(960, { id: "x" }),
    ]);
    expect(idsOf(flam, rule({ kind: "company", company: "flam" }))).toEqual(["grace", "main"]);
  });

  it("splits all hits in two by any test and its opposite", () => {
    const anyTest = fc.constantFrom<SiftTest>(
      ...PLACES.map((place): SiftTest => ({ kind: "places", places: [place] })),
      { kind: "roles", roles: ["ghost", "accent"] },
      { kind: "velocity", from: 40, to: 80 },
      { kind: "company", company: "together" },
      { kind: "bars", from: 1, to: 2 },
    );
    const ticks = fc.uniqueArray(fc.integer({ min: 0, max: 7679 }), { maxLength: 30 });
    fc.assert(
      fc.property(anyTest, ticks, (test, places) => {
        const pattern = patternOf(
          places.toSorted((a, b) => a - b).map((tick) => hitAt(tick, { recordedVelocity: 1 + (tick % 127) })),
        );
        const yes = idsOf(pattern, { clauses: [{ anyOf: [test] }] });
        const no = idsOf(pattern, { clauses: [{ not: true, anyOf: [test] }] });
        expect([...yes, ...no].sort()).toEqual(pattern.hits.map(({ id }) => id).sort());
      }),
    );
  });

  it("reads as a sentence", () => {
    const sift: Sift = {
      clauses: [
        { anyOf: [{ kind: "families", families: ["hats"] }] },
        {
          anyOf: [
            { kind: "places", places: ["offBeats"] },
            { kind: "velocity", from: 1, to: 60 },
          ],
        },
        { not: true, anyOf: [{ kind: "stroke", voiceId: "hat", articulationId: "open" }] },
        { anyOf: [{ kind: "bars", from: 5, to: 8 }] },
      ],
      nth: { every: 2, from: 2, perBar: true },
    };
    expect(siftSentence(sift, GENERAL_MIDI)).toBe(
      "Every 2nd hat in the bar on the off-beats or velocity 1 to 60 in bars 5 to 8, from the 2nd, except hi-hat, open",
    );
    expect(siftSentence({ clauses: [] }, GENERAL_MIDI)).toBe("All hits");
    expect(siftSentence(rule({ kind: "drift", fromMs: -12, toMs: 0 }), GENERAL_MIDI)).toBe(
      "All hits 12 ms early to on the slot",
    );
    const backBeats: Sift = {
      clauses: [
        { anyOf: [{ kind: "families", families: ["snare"] }] },
        { anyOf: [{ kind: "places", places: ["beats"] }] },
        {
          not: true,
          anyOf: [
            { kind: "places", places: ["downBeats"] },
            { kind: "roles", roles: ["ghost"] },
          ],
        },
      ],
    };
    expect(siftSentence(backBeats, GENERAL_MIDI)).toBe("Snare on the beats, except on beat 1 and ghosts");
    expect([1, 2, 3, 4, 11, 12, 13, 21, 22, 103, 111].map(ordinal)).toEqual([
      "1st",
      "2nd",
      "3rd",
      "4th",
      "11th",
      "12th",
      "13th",
      "21st",
      "22nd",
      "103rd",
      "111th",
    ]);
  });
});

describe("from hits to a rule", () => {
  const take = patternOf(
    Array.from({ length: 32 }, (_, index) =>
      hat(index * 240, { recordedVelocity: index % 2 === 0 ? 100 : 40 + index }),
    ),
    { lanes: [onGrid("hat", { grid: { family: "straight", denominator: 8 } })] },
  );
  const maps = buildTimeMaps(take);
  const lanes = siftLanesOf(take, maps);
  const ruleFor = (ids: readonly string[]) => describeHits(new Set(ids), lanes, maps);

  it("says the plainest that picks the same", () => {
    const all = take.hits.map(({ id }) => id);
    expect(ruleFor(all)).toEqual(rule({ kind: "voices", voiceIds: ["hat"] }));
    const offBeats = idsOf(take, rule({ kind: "places", places: ["offBeats"] }));
    const found = ruleFor(offBeats)!;
    expect(idsOf(take, found)).toEqual(offBeats);
    const soft = take.hits.filter(({ recordedVelocity }) => recordedVelocity! < 50).map(({ id }) => id);
    expect(ruleFor(soft)).toEqual(rule({ kind: "voices", voiceIds: ["hat"] }, { kind: "velocity", from: 1, to: 49 }));
    const everyThird = all.filter((_, index) => index % 3 === 1);
    expect(ruleFor(everyThird)?.nth).toEqual({ every: 3, from: 2, perBar: false });
    const bar2 = all.slice(8, 16);
    expect(idsOf(take, ruleFor(bar2)!)).toEqual(bar2);
  });

  it("says that there is none where there is none", () => {
    expect(ruleFor(["h240", "h960", "h3600", "h5040"])).toBeNull();
    expect(ruleFor([])).toBeNull();
  });
});
