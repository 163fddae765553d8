import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Hit } from "../document/index.ts";
import { DEFAULT_TREATMENT, type DynamicsTreatment, type Treatment, USUAL_DYNAMICS } from "../document/treatment.ts";
import { hitAt, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";

const maps = buildTimeMaps(patternOf([]));
const LENGTH = 400_000;

function shape(hits: readonly Hit[], dynamics: Partial<DynamicsTreatment>, more: Partial<Treatment> = {}) {
  return treat(
    hits,
    { ...DEFAULT_TREATMENT, ...more, dynamics: { ...USUAL_DYNAMICS, isOn: true, ...dynamics } },
    maps,
    LENGTH,
  );
}
const velocitiesOf = (...given: Parameters<typeof shape>) => [...shape(...given).velocities];

/** Hits an eighth apart. */
const eighths = (velocities: readonly number[], more: Partial<Hit> = {}) =>
  velocities.map((recordedVelocity, index) => hitAt(index * 240, { id: `${index}`, recordedVelocity, ...more }));
const roles = { ghostTop: 50, accentBottom: 101 };

describe("shaping roles", () => {
  const hits = eighths([30, 80, 110, 40, 90, 120]);

  it("sets, adds, scales and limits one role and leaves the others", () => {
    const ghost = (own: object) => velocitiesOf(hits, { byRole: { ghost: own } }, { roles });
    expect(ghost({ setVelocity: 25 })).toEqual([25, 80, 110, 25, 90, 120]);
    expect(ghost({ addVelocity: 12 })).toEqual([42, 80, 110, 52, 90, 120]);
    expect(ghost({ scalePercent: 50 })).toEqual([15, 80, 110, 20, 90, 120]);
    expect(ghost({ lowestVelocity: 34, highestVelocity: 38 })).toEqual([34, 80, 110, 38, 90, 120]);
    expect(velocitiesOf(hits, { byRole: { accent: { addVelocity: -20 } } }, { roles })).toEqual([
      30, 80, 90, 40, 90, 100,
    ]);
  });

  it("evens a role out towards its own median", () => {
    const played = eighths([20, 30, 46, 90]);
    expect(velocitiesOf(played, { byRole: { ghost: { evenOutPercent: 50 } } }, { roles })).toEqual([25, 30, 38, 90]);
    expect(velocitiesOf(played, { byRole: { ghost: { evenOutPercent: 100 } } }, { roles })).toEqual([30, 30, 30, 90]);
  });

  it("follows what a hand has said of a hit, and leaves what a hand has made as loud", () => {
    const [first, second, ...rest] = hits as [Hit, Hit, ...Hit[]];
    const marked = [{ ...first, pinnedVelocity: 33 }, { ...second, role: "ghost" as const }, ...rest];
    expect(velocitiesOf(marked, { byRole: { ghost: { setVelocity: 10 } } }, { roles })).toEqual([
      33, 10, 110, 10, 90, 120,
    ]);
  });
});

describe("shaping a voice", () => {
  it("expands and compresses around its median, or around a middle that is set", () => {
    const hits = eighths([40, 60, 80]);
    expect(velocitiesOf(hits, { rangePercent: 150 })).toEqual([30, 60, 90]);
    expect(velocitiesOf(hits, { rangePercent: 50, middleVelocity: 80 })).toEqual([60, 70, 80]);
    expect(velocitiesOf(hits, { rangePercent: 0 })).toEqual([60, 60, 60]);
    expect(velocitiesOf(hits, { loudnessPercent: 50 })).toEqual([20, 30, 40]);
  });

  it("goes round in a cycle from each bar line on, by the step that a hit belongs to", () => {
    const cycle = { grid: { family: "straight", denominator: 8 }, percents: [100, 60, 80] } as const;
    // Eight eighths in a bar: the ninth is the first of the next bar again.
    expect(velocitiesOf(eighths(Array(10).fill(100)), { cycle })).toEqual([100, 60, 80, 100, 60, 80, 100, 60, 100, 60]);
    const late = [hitAt(30), hitAt(210)].map((hit) => ({ ...hit, recordedVelocity: 100 }));
    const timing = { ...DEFAULT_TREATMENT.timing, grid: cycle.grid };
    expect(velocitiesOf(late, { cycle }, { timing })).toEqual([100, 60]);
  });

  it("follows the meter: in 7/8 the cycle starts again after seven eighths", () => {
    const inSeven = buildTimeMaps(patternOf([], { meters: [{ tick: 0, numerator: 7, denominator: 8 }] }));
    const cycle = { grid: { family: "straight", denominator: 8 }, percents: [100, 50] } as const;
    const treatment = { ...DEFAULT_TREATMENT, dynamics: { ...USUAL_DYNAMICS, isOn: true, cycle } };
    const { velocities } = treat(eighths(Array(9).fill(100)), treatment, inSeven, LENGTH);
    expect([...velocities]).toEqual([100, 50, 100, 50, 100, 50, 100, 100, 50]);
  });

  it("leaves spared strokes alone, as open and foot hats", () => {
    const hits = eighths([80, 80, 80]).map((hit, index) => ({
      ...hit,
      articulationId: ["closed", "open", "foot"][index]!,
    }));
    const spared = { sparedArticulationIds: ["open", "foot"] };
    expect(velocitiesOf(hits, { loudnessPercent: 50, ...spared })).toEqual([40, 80, 80]);
  });

  it("can be otherwise in a stretch, or off", () => {
    const exceptions = [
      { startTick: 240, endTick: 480, loudnessPercent: 150 },
      { startTick: 480, endTick: 720, isOn: false },
    ];
    expect(velocitiesOf(eighths([80, 80, 80, 80]), { loudnessPercent: 50, exceptions })).toEqual([40, 120, 80, 40]);
  });

  it("says how many would be cut off, and fits them in with their shape when it is asked to", () => {
    const hits = eighths([60, 100, 110, 120]);
    const cut = shape(hits, { loudnessPercent: 130 });
    expect([...cut.velocities]).toEqual([78, 127, 127, 127]);
    expect(cut.clippedCount).toBe(3);
    const fitted = shape(hits, { loudnessPercent: 130, fitsIn: true }, { roles: { ghostTop: 0, accentBottom: 128 } });
    expect(fitted.clippedCount).toBe(0);
    expect([...fitted.velocities]).toEqual([64, 106, 116, 127]);
    const accents = shape(eighths([105, 110, 120]), { loudnessPercent: 140, fitsIn: true }, { roles });
    expect([...accents.velocities]).toEqual([111, 116, 127]);
    const soft = shape(eighths([10, 20, 30]), { rangePercent: 300, fitsIn: true }, { roles });
    expect([...soft.velocities]).toEqual([1, 26, 50]);
  });

  it("deviates by chance as its seed says, never twice, and never together with the timing", () => {
    const hits = eighths(Array(40).fill(80));
    const once = velocitiesOf(hits, { deviation: 10 });
    expect(velocitiesOf(hits, { deviation: 10 })).toEqual(once);
    expect(velocitiesOf(hits, { deviation: 10, deviationSeed: 2 })).not.toEqual(once);
    const far = once.map((velocity) => Math.abs(velocity - 80));
    expect(far.filter((one) => one <= 20).length).toBeGreaterThan(35);
    const even = velocitiesOf(hits, { deviation: 10, deviationShape: "even" });
    expect(Math.max(...even.map((velocity) => Math.abs(velocity - 80)))).toBeLessThanOrEqual(10);
  });

  it("is off until it is switched on", () => {
    const hits = eighths([30, 80]);
    expect([...treat(hits, DEFAULT_TREATMENT, maps, LENGTH).velocities]).toEqual([30, 80]);
    expect(velocitiesOf(hits, { isOn: false, loudnessPercent: 10 })).toEqual([30, 80]);
  });
});

describe("whatever is asked of it", () => {
  const anyShape = fc.record(
    {
      setVelocity: fc.integer({ min: 1, max: 127 }),
      evenOutPercent: fc.double({ min: 0, max: 100, noNaN: true }),
      scalePercent: fc.double({ min: 0, max: 400, noNaN: true }),
      addVelocity: fc.integer({ min: -126, max: 126 }),
    },
    { requiredKeys: [] },
  );
  const anything = fc.record({
    loudnessPercent: fc.double({ min: 0, max: 400, noNaN: true }),
    rangePercent: fc.double({ min: 0, max: 400, noNaN: true }),
    deviation: fc.double({ min: 0, max: 64, noNaN: true }),
    lowestVelocity: fc.integer({ min: 1, max: 127 }),
    highestVelocity: fc.integer({ min: 1, max: 127 }),
    byRole: fc.record({ ghost: anyShape, stroke: anyShape, accent: anyShape }),
    sparedArticulationIds: fc.constantFrom([], ["rim"]),
  });
  const someHits = fc
    .array(fc.record({ velocity: fc.integer({ min: 1, max: 127 }), isRim: fc.boolean(), isPinned: fc.boolean() }), {
      maxLength: 30,
    })
    .map((list) =>
      list.map(({ velocity, isRim, isPinned }, index) =>
        hitAt(index * 120, {
          id: `${index}`,
          recordedVelocity: velocity,
          articulationId: isRim ? "rim" : "centre",
          pinnedVelocity: isPinned ? 64 : null,
        }),
      ),
    );

  it("writes velocities of 1 to 127 only, and changes neither spared strokes nor what a hand has set", () => {
    fc.assert(
      fc.property(someHits, anything, fc.boolean(), (hits, dynamics, fits) => {
        const { velocities, ticks } = shape(hits, { ...dynamics, ...(fits ? { fitsIn: true } : {}) });
        for (const [row, hit] of hits.entries()) {
          const velocity = velocities[row]!;
          expect(velocity >= 1 && velocity <= 127).toBe(true);
          if (hit.pinnedVelocity !== null) expect(velocity).toBe(hit.pinnedVelocity);
          else if (dynamics.sparedArticulationIds.some((id) => id === hit.articulationId)) {
            expect(velocity).toBe(hit.recordedVelocity);
          }
        }
        expect([...ticks]).toEqual(hits.map((hit) => hit.recordedTick));
      }),
    );
  });

  it("gives a role its own share of the chance", () => {
    const hits = [20, 90, 20, 90].map((recordedVelocity, index) => hitAt(index * 120, { recordedVelocity }));
    const roles = { ghostTop: 40, accentBottom: 128 };
    const still = shape(hits, { isOn: true, deviation: 10, byRole: { ghost: { chancePercent: 0 } } }, { roles });
    expect([still.velocities[0], still.velocities[2]]).toEqual([20, 20]);
    expect([still.velocities[1], still.velocities[3]]).not.toEqual([90, 90]);
  });
});
