import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../../standin/random.ts";
import { bakeIn } from "../commands/index.ts";
import {
  applyEdit,
  type Groove,
  type GrooveLayer,
  type Hit,
  layerFor,
  type Pattern,
  slotCountOf,
} from "../document/index.ts";
import { DEFAULT_TREATMENT, type FeelTreatment, USUAL_DYNAMICS } from "../document/treatment.ts";
import { siftLanesOf } from "../sift/index.ts";
import { hitAt, laneOf, MS_PER_TICK, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps, type Grid } from "../time/index.ts";
import { treat } from "../treat.ts";
import {
  feelOf,
  GROOVES,
  type GrooveWish,
  grooveWords,
  makeLayer,
  mixGrooves,
  PLAIN_NUMBERS,
  takeGroove,
} from "./index.ts";

const SIXTEENTHS: Grid = { family: "straight", denominator: 16 };
const WISH: GrooveWish = { grid: SIXTEENTHS, lengthQuarters: 4, isByFamily: false, among: null, side: "recorded" };

/** A groove of one layer with these offsets, in steps, and accents. */
const grooveOf = (offsets: readonly number[], accents: readonly number[] = offsets.map(() => 1)): Groove => ({
  id: "g",
  name: "G",
  lengthQuarters: 4,
  grid: SIXTEENTHS,
  layers: [
    {
      family: null,
      slots: offsets.map((offset, slot) => ({ offset, accent: accents[slot]!, hitCount: 1, spread: 0 })),
    },
  ],
});

/** Sixteenths over some bars, each at its slot plus what is said of it, in ticks. */
function sixteenths(
  bars: number,
  offTicks: (slot: number, index: number) => number,
  velocityOf = (_slot: number) => 90,
) {
  return Array.from({ length: bars * 16 }, (_, index) =>
    hitAt(Math.max(0, Math.round(index * 120 + offTicks(index % 16, index))), {
      id: `${index}`,
      recordedVelocity: velocityOf(index % 16),
    }),
  );
}
const takeOf = (hits: readonly Hit[], lengthTicks = 32 * 1920): Pattern =>
  patternOf(hits, { lengthTicks, lanes: [laneOf("snare", { grid: SIXTEENTHS })] });
const taken = (pattern: Pattern, wish: Partial<GrooveWish> = {}) => {
  const maps = buildTimeMaps(pattern);
  return takeGroove(siftLanesOf(pattern, maps), { ...WISH, ...wish }, maps);
};
const offsetsOf = ([layer]: readonly GrooveLayer[]) => layer!.slots.map(({ offset }) => offset);

function lay(hits: readonly Hit[], groove: Groove, more: Partial<FeelTreatment> = {}, timing = {}) {
  const maps = buildTimeMaps(patternOf([]));
  const feel = { isOn: true, groove, timingPercent: 100, accentPercent: 100, ...more };
  const whole = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, grid: SIXTEENTHS, ...timing };
  return treat(hits, { timing: whole, feel }, maps, 32 * 1920, "snare");
}

describe("taking a groove", () => {
  it("is as early and as late as it was played, also where each place was played twice", () => {
    const wholes = Array.from({ length: 20 }, (_, seed) => {
      const random = createRandom(seed);
      // Of each place one is early and the other late, by about 10 ticks.
      const offsets = offsetsOf(taken(takeOf(sixteenths(2, () => 24 + random.bell(10)))));
      return (120 * offsets.reduce((sum, offset) => sum + offset, 0)) / offsets.length;
    });
    expect(Math.abs(wholes.reduce((sum, whole) => sum + whole, 0) / wholes.length - 24)).toBeLessThan(1.5);
    for (const whole of wholes) expect(Math.abs(whole - 24)).toBeLessThan(6);
  });

  it("finds offsets and accents of each place, and how many hits they come from", () => {
    const off = [0, 14, -6, 20];
    const hits = sixteenths(
      4,
      (slot) => off[slot % 4]!,
      (slot) => [110, 60, 80, 70][slot % 4]!,
    );
    const [layer] = taken(takeOf(hits));
    expect(layer!.family).toBeNull();
    expect(layer!.slots).toHaveLength(16);
    for (const [slot, { offset, accent, hitCount }] of layer!.slots.entries()) {
      // The very first hit of a take cannot be early.
      expect(offset * 120).toBeCloseTo(off[slot % 4]!, 6);
      expect(accent).toBeCloseTo([110, 60, 80, 70][slot % 4]! / 80, 6);
      expect(hitCount).toBe(4);
    }
  });

  it("has none of the latency in it that is taken off the take, quantized or not", () => {
    const hits = sixteenths(4, () => 40 + 14);
    const late = { latencyMs: 40 * MS_PER_TICK, latencyStays: true } as const;
    const pattern = patternOf(hits, {
      lengthTicks: 32 * 1920,
      lanes: [laneOf("snare", { grid: SIXTEENTHS, ...late })],
    });
    for (const side of ["recorded", "cleaned"] as const)
      for (const offset of offsetsOf(taken(pattern, { side }))) expect(offset * 120).toBeCloseTo(14, 6);
  });

  it("leaves out what is far off, and bridges places that nobody played by the plain shape", () => {
    const hits = sixteenths(8, (slot, index) => (index === 37 ? 50 : slot % 2 === 1 ? 20 : 0)).filter(
      (_, index) => index % 16 !== 7,
    );
    const [layer] = taken(takeOf(hits));
    expect(layer!.slots[5]!.offset * 120).toBeCloseTo(20, 0);
    expect(layer!.slots[7]).toMatchObject({ hitCount: 0, accent: 1 });
    expect(layer!.slots[7]!.offset * 120).toBeCloseTo(20, 0);
  });

  it("has one layer for each family if it is asked to, from some hits if they are named, of one beat or two bars", () => {
    const kick = sixteenths(4, () => 12).map((hit) => ({
      ...hit,
      id: `k${hit.id}`,
      voiceId: "kick",
      articulationId: "main",
    }));
    const both = patternOf(
      [...sixteenths(4, () => 0), ...kick].toSorted((a, b) => a.recordedTick! - b.recordedTick!),
      {
        lengthTicks: 32 * 1920,
        lanes: [laneOf("snare", { grid: SIXTEENTHS }), laneOf("kick", { grid: SIXTEENTHS })],
      },
    );
    expect(taken(both, { isByFamily: true }).map(({ family }) => family)).toEqual(["snare", "kick"]);
    expect(offsetsOf(taken(both, { among: new Set(kick.map(({ id }) => id)) })).every((one) => one > 0.09)).toBe(true);
    expect(taken(both, { lengthQuarters: 1 })[0]!.slots).toHaveLength(4);
    const perBar = sixteenths(4, (_, index) => (Math.floor(index / 16) % 2 === 0 ? 0 : 24));
    const twoBars = offsetsOf(taken(takeOf(perBar), { lengthQuarters: 8 }));
    expect(twoBars[4]).toBeCloseTo(0, 1);
    expect(twoBars[20]).toBeCloseTo(0.2, 1);
  });

  it("says nothing without hits on its places", () => {
    expect(taken(takeOf([]))).toEqual([]);
    expect(taken(takeOf([hitAt(0)]))[0]!.slots[0]).toMatchObject({ hitCount: 1, accent: 1 });
  });

  it("is within 2 ms of what was meant, on average, after 8 bars of players with 10 ms of spread", () => {
    const errors = Array.from({ length: 24 }, (_, index) => index + 1).flatMap((seed) => {
      const random = createRandom(seed);
      const swing = 10 + 2 * (seed % 8);
      const hits = sixteenths(8, (slot) => 10 + (slot % 2 === 1 ? swing : 0) + random.bell(10) / MS_PER_TICK);
      // As it is found: a swung grid, and how far off it the voice sits.
      const grid = { ...SIXTEENTHS, swingPercent: 50 + (50 * swing) / 120 };
      const lanes = [laneOf("snare", { grid, pocketMs: 10 * MS_PER_TICK })];
      const found = offsetsOf(taken({ ...takeOf(hits), lanes }));
      return found.map((one, slot) => Math.abs(one * 120 - 10 - (slot % 2 === 1 ? swing : 0)) * MS_PER_TICK);
    });
    expect(errors.reduce((sum, one) => sum + one, 0) / errors.length).toBeLessThan(2);
  });
});

describe("laying a groove on", () => {
  const off = [0, 0.15, -0.05, 0.2];
  const groove = grooveOf(
    Array.from({ length: 16 }, (_, slot) => off[slot % 4]!),
    Array.from({ length: 16 }, (_, slot) => [1.2, 0.8, 1, 0.9][slot % 4]!),
  );
  const bar = sixteenths(1, () => 3);

  it("puts hits where the groove has them, as far as it is asked to, or away from it", () => {
    const ticksAt = (timingPercent: number) => [...lay(bar, groove, { timingPercent }).ticks].slice(4, 8);
    expect(ticksAt(100)).toEqual([480, 618, 714, 864]);
    expect(ticksAt(50)).toEqual([480, 609, 717, 852]);
    expect(ticksAt(0)).toEqual([480, 600, 720, 840]);
    expect(ticksAt(-100)).toEqual([480, 582, 726, 816]);
    expect(ticksAt(200)).toEqual([480, 636, 708, 888]);
  });

  it("gives hits the accents of their places, from 1 to 127, and leaves pinned ones alone", () => {
    const velocitiesAt = (accentPercent: number) => [...lay(bar, groove, { accentPercent }).velocities].slice(0, 4);
    expect(velocitiesAt(100)).toEqual([108, 72, 90, 81]);
    expect(velocitiesAt(50)).toEqual([99, 81, 90, 86]);
    expect(velocitiesAt(-100)).toEqual([72, 108, 90, 99]);
    const pinned = bar.map((hit, index) => (index === 1 ? { ...hit, pinnedTick: 130, pinnedVelocity: 33 } : hit));
    const { ticks, velocities, feelTicks } = lay(pinned, groove);
    expect([ticks[1], velocities[1], feelTicks![1]]).toEqual([130, 33, 0]);
  });

  it("says how far it has moved each hit, beside what the grid did", () => {
    const { feelTicks } = lay(bar, groove, {}, { strengthPercent: 50 });
    expect([...feelTicks!].slice(4, 8).map((ticks) => Math.round(ticks * 10) / 10)).toEqual([0, 18, -6, 24]);
    expect(treat(bar, DEFAULT_TREATMENT, buildTimeMaps(patternOf([])), 7680).feelTicks).toBeNull();
  });

  it("takes the place of the swing of the grid, and does not double it", () => {
    const swung = grooveOf(Array.from({ length: 16 }, (_, slot) => (slot % 2 === 1 ? 0.2 : 0)));
    const { ticks } = lay(bar, swung, {}, { grid: { ...SIXTEENTHS, swingPercent: 60 } });
    expect([...ticks].slice(0, 4)).toEqual([0, 144, 240, 384]);
  });

  it("begins anew with each bar of another meter, and asks between places for what lies between", () => {
    const maps = buildTimeMaps(patternOf([], { meters: [{ tick: 0, numerator: 3, denominator: 4 }] }));
    const hits = [hitAt(1440 + 120), hitAt(1440 + 60)].toSorted((a, b) => a.recordedTick! - b.recordedTick!);
    const feel = { isOn: true, groove, timingPercent: 100, accentPercent: 0 };
    const grid = { family: "straight", denominator: 32 } as const;
    const timing = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, grid };
    const { ticks } = treat(hits, { timing, feel }, maps, 7680, "snare");
    expect([...ticks]).toEqual([1440 + 69, 1440 + 138]);
  });

  it("keeps its places in the beat under any resolution, tempo and meter", () => {
    const anyTime = fc.record({
      ppq: fc.constantFrom(480, 768, 960, 1920),
      usPerQuarter: fc.integer({ min: 200_000, max: 1_500_000 }),
      numerator: fc.integer({ min: 1, max: 13 }),
      denominator: fc.constantFrom(4, 8),
      bar: fc.integer({ min: 0, max: 9 }),
    });
    fc.assert(
      fc.property(anyTime, ({ ppq, usPerQuarter, numerator, denominator, bar }) => {
        const maps = buildTimeMaps({
          ppq,
          tempos: [{ tick: 0, usPerQuarter }],
          meters: [{ tick: 0, numerator, denominator }],
        });
        const step = ppq / 4;
        const count = (numerator * 16) / denominator;
        const start = bar * count * step;
        const hits = Array.from({ length: count }, (_, slot) => hitAt(start + slot * step, { id: `${slot}` }));
        const feel = { isOn: true, groove, timingPercent: 100, accentPercent: 100 };
        const timing = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100 };
        const { ticks, velocities } = treat(hits, { timing, feel }, maps, start + count * step + ppq, "snare");
        for (let slot = 0; slot < count; slot++) {
          // Bars of which some make a whole groove are bars of it.
          const bars = 16 / count;
          const ahead = bars >= 2 && Number.isInteger(bars) ? (bar % bars) * count : 0;
          const { offset, accent } = groove.layers[0]!.slots[(ahead + slot) % 16]!;
          const wanted = Math.max(0, start + (slot + offset) * step);
          expect(Math.abs(ticks[slot]! - wanted)).toBeLessThanOrEqual(0.5);
          expect(velocities[slot]).toBe(Math.min(127, Math.round(90 * accent)));
        }
      }),
      { numRuns: 80 },
    );
  });

  it("lets families that it says nothing of alone", () => {
    const ofKick: Groove = { ...groove, layers: [{ ...groove.layers[0]!, family: "kick" }] };
    expect([...lay(bar, ofKick).ticks].slice(4, 8)).toEqual([480, 600, 720, 840]);
    expect(layerFor(ofKick, "kick")).toBe(ofKick.layers[0]);
    expect(layerFor(ofKick, "snare")).toBeNull();
  });

  it("is baked in with the rest", () => {
    const [lane] = takeOf(bar).lanes;
    const timing = { ...lane!.treatment.timing, isOn: true, strengthPercent: 100 };
    const feel = { isOn: true, groove, timingPercent: 100, accentPercent: 100 };
    const pattern = { ...takeOf(bar), lanes: [{ ...lane!, treatment: { timing, feel, dynamics: USUAL_DYNAMICS } }] };
    const baked = applyEdit(pattern, bakeIn(pattern, new Set(["snare"]), null));
    expect(baked.hits[5]).toMatchObject({ pinnedTick: 618, pinnedVelocity: 72 });
    expect(baked.lanes[0]!.treatment.feel?.isOn).toBe(false);
  });

  it("of full amount on a quantized part, taken again, is the same to a tick", () => {
    const someOffsets = fc.array(fc.double({ min: -0.3, max: 0.3, noNaN: true }), { minLength: 16, maxLength: 16 });
    fc.assert(
      fc.property(someOffsets, (offsets) => {
        // What would be before the pattern cannot be laid on its first hit.
        const whole = grooveOf(offsets.with(0, Math.abs(offsets[0]!)));
        const hits = sixteenths(2, () => 0);
        const { ticks } = lay(hits, whole);
        const played = hits.map((hit, row) => ({ ...hit, recordedTick: ticks[row]! }));
        // The slots are known, as those of a quantized part are.
        const maps = buildTimeMaps(patternOf([]));
        const cleaned = { ...lay(hits, grooveOf(offsets.map(() => 0))), ticks };
        const [snare] = siftLanesOf(takeOf(played), maps);
        const again = takeGroove([{ ...snare!, hits: played, cleaned }], WISH, maps);
        for (const [slot, offset] of offsetsOf(again).entries()) {
          expect(Math.abs(offset - whole.layers[0]!.slots[slot]!.offset) * 120).toBeLessThanOrEqual(1);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe("grooves made of numbers", () => {
  it("swing, are pushed, lay back and stray as their seed says", () => {
    const { slots } = makeLayer({
      ...PLAIN_NUMBERS,
      swingPercent: 60,
      pushPercent: 5,
      layBackPercent: 10,
      weakPercent: 20,
    });
    expect(slots.slice(0, 5).map(({ offset }) => Math.round(offset * 100))).toEqual([5, 25, 5, 25, 15]);
    expect(slots.slice(0, 2).map(({ accent }) => accent)).toEqual([1, 0.8]);
    const drunk = (seed: number) =>
      makeLayer({ ...PLAIN_NUMBERS, drunkPercent: 8, seed }).slots.map(({ offset }) => offset);
    expect(drunk(1)).toEqual(drunk(1));
    expect(drunk(1)).not.toEqual(drunk(2));
    expect(slotCountOf(4, { family: "triplet", denominator: 8 })).toBe(12);
  });

  it("are mixed place by place, whatever they are counted in", () => {
    const [a, b] = [grooveOf(Array(16).fill(0)), grooveOf(Array(16).fill(0.2))];
    expect(mixGrooves(a, b, 0.25)[0]!.slots[3]!.offset).toBeCloseTo(0.05, 9);
    const eighths: Groove = {
      ...a,
      grid: { family: "straight", denominator: 8 },
      layers: [makeLayer({ ...PLAIN_NUMBERS, grid: { family: "straight", denominator: 8 }, pushPercent: 10 })],
    };
    // A tenth of an eighth is a fifth of a sixteenth.
    expect(mixGrooves(a, eighths, 1)[0]!.slots[2]!.offset).toBeCloseTo(0.2, 9);
    expect(mixGrooves(a, eighths, 1)[0]!.slots[1]!.offset).toBe(0);
  });

  it("are named by their swing and their push", () => {
    const feel = feelOf(makeLayer({ ...PLAIN_NUMBERS, swingPercent: 57, pushPercent: 4 }), 125);
    expect(feel.swingPercent).toBeCloseTo(57, 9);
    expect(feel.pushMs).toBeCloseTo(5, 9);
    const groove: Groove = {
      ...grooveOf([]),
      layers: [
        makeLayer({ ...PLAIN_NUMBERS, swingPercent: 57 }),
        makeLayer({ ...PLAIN_NUMBERS, swingPercent: 57, pushPercent: 7.2 }, "snare"),
      ],
    };
    expect(grooveWords(groove, 120)).toBe("swung sixteenths, 57 %; snare 9 ms behind");
    expect(grooveWords({ ...groove, layers: [makeLayer(PLAIN_NUMBERS)] }, 120)).toBe("straight sixteenths");
  });

  it("come along with the application, each of its own", () => {
    expect(GROOVES.length).toBeGreaterThanOrEqual(10);
    expect(new Set(GROOVES.map(({ id }) => id)).size).toBe(GROOVES.length);
    for (const { layers, lengthQuarters, grid } of GROOVES) {
      for (const { slots } of layers) expect(slots).toHaveLength(slotCountOf(lengthQuarters, grid));
    }
  });
});
