import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Hit, hitsByVoice, NOISE_SHAPES } from "./document/index.ts";
import { DEFAULT_TREATMENT, type TimingTreatment } from "./document/treatment.ts";
import { noiseOf } from "./humanize.ts";
import { hitAt, MS_PER_TICK, patternOf } from "./testing/patterns.ts";
import { buildTimeMaps, GRID_CHOICES, tickToMs } from "./time/index.ts";
import { FLAG } from "./timing/index.ts";
import { treat } from "./treat.ts";

const maps = buildTimeMaps(patternOf([]));
const LENGTH = 7680;

function clean(hits: readonly Hit[], timing: Partial<TimingTreatment> = {}) {
  const treatment = { timing: { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, ...timing } };
  return treat(hits, treatment, maps, LENGTH);
}
const ticksOf = (hits: readonly Hit[], timing: Partial<TimingTreatment> = {}) => [...clean(hits, timing).ticks];

describe("quantize", () => {
  it("pulls hits by its strength: t2 = t1 + strength · (slot − t1)", () => {
    expect(ticksOf([hitAt(130), hitAt(230)])).toEqual([120, 240]);
    expect(ticksOf([hitAt(130), hitAt(230)], { strengthPercent: 50 })).toEqual([125, 235]);
    expect(ticksOf([hitAt(130), hitAt(230)], { strengthPercent: 0 })).toEqual([130, 230]);
  });

  it("leaves everything as recorded while it is off", () => {
    expect(ticksOf([hitAt(130)], { isOn: false })).toEqual([130]);
  });

  it("leaves hits that are close enough, measured in ms", () => {
    // 10 ticks at 120 bpm are 10.4 ms.
    expect(ticksOf([hitAt(130)], { leaveWithinMs: 10 })).toEqual([120]);
    expect(ticksOf([hitAt(130)], { leaveWithinMs: 11 })).toEqual([130]);
  });

  it("leaves hits beyond its reach, measured in steps", () => {
    // 24 ticks are a fifth of a sixteenth.
    expect(ticksOf([hitAt(144)], { reachPercent: 19 })).toEqual([144]);
    expect(ticksOf([hitAt(144)], { reachPercent: 20 })).toEqual([120]);
  });

  it("leaves pinned hits, and lets nobody pass them", () => {
    const loud = hitAt(100, { recordedVelocity: 110 });
    expect(ticksOf([loud, hitAt(110, { pinnedTick: 104 }), hitAt(170, { pinnedTick: 170 })])).toEqual([103, 104, 170]);
  });

  it("looks for slots where the voice sits, so that a late voice is not pushed on", () => {
    const late = Math.round(65 / MS_PER_TICK);
    const hits = [hitAt(120 + late), hitAt(240 + late)];
    expect(ticksOf(hits)).toEqual([240, 360]);
    expect(ticksOf(hits, { pocketMs: 65 })).toEqual([120, 240]);
  });

  it("gives a slot to the loudest hit, and keeps the distance of the others", () => {
    const hits = [hitAt(118, { recordedVelocity: 40 }), hitAt(135, { recordedVelocity: 100 })];
    const cleaned = clean(hits, { keepsGraceNotes: false });
    expect([...cleaned.ticks]).toEqual([103, 120]);
    expect([...cleaned.flags]).toEqual([FLAG.collision, 0]);
  });

  it("gives a slot to the nearer of two that do not belong together, however loud the other is", () => {
    const hits = [hitAt(242, { recordedVelocity: 70 }), hitAt(350, { recordedVelocity: 100 })];
    expect(ticksOf(hits, { grid: { family: "straight", denominator: 8 } })).toEqual([240, 348]);
  });

  it("keeps a flam at its distance in ms", () => {
    const grace = hitAt(455, { recordedVelocity: 30 });
    const main = hitAt(484, { recordedVelocity: 110 });
    expect(ticksOf([grace, main])).toEqual([451, 480]);
    expect([...clean([grace, main]).flags]).toEqual([0, 0]);
  });

  it("takes a weak hit on its own slot for no grace note", () => {
    const ghost = hitAt(362, { recordedVelocity: 30 });
    const backBeat = hitAt(484, { recordedVelocity: 110 });
    expect(ticksOf([ghost, backBeat])).toEqual([360, 480]);
  });

  it("keeps a roll that is faster than the grid even inside, and takes it where its first stroke goes", () => {
    // Thirty-seconds on a grid of eighths: 60 ticks apart, from 8 ticks after the beat.
    const roll = Array.from({ length: 6 }, (_, step) => hitAt(488 + step * 60));
    const { ticks, flags } = clean([hitAt(10), ...roll, hitAt(970)], { grid: { family: "straight", denominator: 8 } });
    expect([...ticks]).toEqual([0, 480, 540, 600, 660, 720, 780, 960]);
    expect(new Set(flags)).toEqual(new Set([0]));
    // A drag after a ghost is near enough, and none: its stroke goes to its own slot.
    const drag = [410, 440, 470, 497].map((tick, index) =>
      hitAt(tick, { recordedVelocity: [30, 34, 36, 115][index]! }),
    );
    expect(ticksOf(drag, { grid: { family: "straight", denominator: 8 } }).at(-1)).toBe(480);
    // A voice that goes on like this is no roll, but on a grid that is too coarse for it.
    const hats = Array.from({ length: 64 }, (_, step) => hitAt(step * 60 + 4));
    const coarse = clean(hats, { grid: { family: "straight", denominator: 8 } });
    expect(coarse.flags.some((bits) => (bits & FLAG.collision) !== 0)).toBe(true);
  });

  it("pulls ghosts to a grid of their own where they have one", () => {
    const hits = Array.from({ length: 16 }, (_, step) =>
      hitAt(step * 120 + 5, { id: `${step}`, recordedVelocity: step % 4 === 0 ? 110 : 30 }),
    );
    const grid = { family: "straight", denominator: 4 } as const;
    const ghostGrid = { family: "straight", denominator: 16 } as const;
    expect(ticksOf(hits, { grid, ghostGrid })).toEqual(hits.map((_, step) => step * 120));
    // Swung by themselves, while the strokes stay straight.
    const swung = ticksOf(hits, { grid, ghostGrid: { ...ghostGrid, swingPercent: 60 } });
    expect(swung.slice(0, 4)).toEqual([0, 144, 240, 384]);
    expect(ticksOf(hits, { grid })).not.toEqual(hits.map((_, step) => step * 120));
  });

  it("says the drift in ms, late positive", () => {
    const { driftsMs } = clean([hitAt(132), hitAt(228)]);
    expect(driftsMs[0]).toBeCloseTo(12.5, 6);
    expect(driftsMs[1]).toBeCloseTo(-12.5, 6);
  });
});

describe("any treatment", () => {
  const lane = fc
    .array(
      fc.record({
        tick: fc.integer({ min: 0, max: LENGTH - 1 }),
        velocity: fc.integer({ min: 1, max: 127 }),
        isPinned: fc.integer({ min: 0, max: 9 }).map((dice) => dice === 0),
      }),
      { maxLength: 50 },
    )
    .map((list) => {
      const hits = list.map(({ tick, velocity, isPinned }, index) =>
        hitAt(tick, { id: `${index}`, recordedVelocity: velocity, pinnedTick: isPinned ? tick : null }),
      );
      return hitsByVoice(hits).get("snare") ?? [];
    });
  const timing = fc.record({
    isOn: fc.boolean(),
    grid: fc
      .tuple(fc.constantFrom(...GRID_CHOICES), fc.integer({ min: 50, max: 75 }))
      .map(([grid, swingPercent]) => ({ ...grid, swingPercent })),
    ghostGrid: fc.constantFrom(...GRID_CHOICES),
    strengthPercent: fc.integer({ min: 0, max: 100 }),
    leaveWithinMs: fc.integer({ min: 0, max: 40 }),
    reachPercent: fc.integer({ min: 0, max: 50 }),
    pocketMs: fc.integer({ min: -60, max: 60 }),
    keepsGraceNotes: fc.boolean(),
    latencyMs: fc.integer({ min: -60, max: 60 }),
    pushMs: fc.integer({ min: -40, max: 40 }),
    pushTicks: fc.integer({ min: -60, max: 60 }),
    pushEvery: fc.integer({ min: 1, max: 4 }),
    pushFrom: fc.integer({ min: 1, max: 4 }),
    humanizeMs: fc.integer({ min: 0, max: 30 }),
    humanizeShape: fc.constantFrom(...NOISE_SHAPES),
    humanizeSeed: fc.integer({ min: 0, max: 1000 }),
  });

  it("keeps the order of hits, loses none, and leaves none outside the pattern", () => {
    fc.assert(
      fc.property(lane, timing, (hits, settings) => {
        const { ticks, velocities } = treat(hits, { timing: settings }, maps, LENGTH);
        expect(ticks.length).toBe(hits.length);
        for (let row = 0; row < ticks.length; row++) {
          expect(Number.isInteger(ticks[row])).toBe(true);
          expect(ticks[row]).toBeGreaterThanOrEqual(row === 0 ? 0 : ticks[row - 1]!);
          expect(ticks[row]).toBeLessThan(LENGTH);
          expect(velocities[row]).toBe(hits[row]!.recordedVelocity);
          if (hits[row]!.pinnedTick !== null) expect(ticks[row]).toBe(hits[row]!.pinnedTick);
        }
      }),
      { numRuns: 400 },
    );
  });

  it("comes to the same whatever was asked of the same hits before", () => {
    fc.assert(
      fc.property(lane, timing, timing, fc.boolean(), (hits, earlier, later, isNear) => {
        treat(hits, { timing: earlier }, maps, LENGTH);
        // As in a drag: one number differs, and the rest is the very same value.
        const asked = isNear ? { ...earlier, strengthPercent: later.strengthPercent } : later;
        const fresh = treat([...hits], { timing: asked }, maps, LENGTH);
        expect(treat(hits, { timing: asked }, maps, LENGTH)).toEqual(fresh);
      }),
      { numRuns: 300 },
    );
  });

  it("changes nothing the second time at full strength", () => {
    fc.assert(
      fc.property(lane, fc.constantFrom(...GRID_CHOICES), (hits, grid) => {
        const full = { grid, keepsGraceNotes: false, pocketMs: 0 };
        const once = clean(hits, full);
        const alone = [...once.flags].every((flags) => (flags & FLAG.collision) === 0);
        // Four strokes that end up near one another are a roll from then on, and keep their distances; four that were are one no longer.
        const isRollOf = (ticks: ArrayLike<number>) => {
          const isNear = (row: number) => (ticks[row]! - ticks[row - 1]!) * MS_PER_TICK <= 100;
          return hits.some((_, row) => row >= 3 && isNear(row) && isNear(row - 1) && isNear(row - 2));
        };
        fc.pre(alone && !isRollOf(once.ticks) && !isRollOf(hits.map(({ recordedTick }) => recordedTick!)));
        const again = hits.map((hit, row) => ({ ...hit, recordedTick: once.ticks[row]! }));
        expect([...clean(again, full).ticks]).toEqual([...once.ticks]);
      }),
    );
  });

  it("takes latency off before it looks for slots, and off hits that stay where they are as well", () => {
    // 125 ticks late is nearest to the next sixteenth; 100 of them are the module's.
    const late = [hitAt(1065, { id: "a" }), hitAt(1305, { id: "b" })];
    const latencyMs = 100 * MS_PER_TICK;
    expect([...clean(late, { latencyMs }).ticks]).toEqual([960, 1200]);
    expect([...clean(late, { latencyMs, strengthPercent: 0 }).ticks]).toEqual([965, 1205]);
    // Without the rest it is as recorded, unless it is the latency of the whole take.
    expect([...clean(late, { latencyMs, isOn: false }).ticks]).toEqual([1065, 1305]);
    expect([...clean(late, { latencyMs, isOn: false, latencyStays: true }).ticks]).toEqual([965, 1205]);
    const pinned = [hitAt(1065, { id: "a", pinnedTick: 1065 })];
    expect([...clean(pinned, { latencyMs }).ticks]).toEqual([1065]);
    // What was played in here came without it.
    const playedIn = [hitAt(970, { id: "a", pass: 1 }), hitAt(1305, { id: "b" })];
    expect([...clean(playedIn, { latencyMs, strengthPercent: 0 }).ticks]).toEqual([970, 1205]);
  });

  it("swings every second slot of each pair, from each bar line", () => {
    const hits = [0, 240, 480, 720, 1680, 1920, 2160].map((tick) => hitAt(tick));
    const grid = { family: "straight", denominator: 8, swingPercent: 66 } as const;
    expect([...clean(hits, { grid, pocketMs: 0 }).ticks]).toEqual([0, 317, 480, 797, 1757, 1920, 2237]);
    const { ticks } = clean(hits, { grid: { ...grid, swingPercent: 50 }, pocketMs: 0 });
    expect([...ticks]).toEqual([0, 240, 480, 720, 1680, 1920, 2160]);
  });

  it("pushes after quantizing, all hits or every nth from one on", () => {
    const hits = [3, 118, 243, 361].map((tick) => hitAt(tick));
    const pushMs = 24 * MS_PER_TICK;
    expect([...clean(hits, { pushMs, pocketMs: 0 }).ticks]).toEqual([24, 144, 264, 384]);
    expect([...clean(hits, { pushMs, pocketMs: 0, pushEvery: 2, pushFrom: 2 }).ticks]).toEqual([0, 144, 240, 384]);
  });

  it("pushes in ticks as far at any tempo", () => {
    const slow = buildTimeMaps(patternOf([], { tempos: [{ tick: 0, usPerQuarter: 1_200_000 }] }));
    for (const time of [maps, slow]) {
      const timing = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, pushTicks: 20 };
      expect([...treat([hitAt(0), hitAt(490)], { timing }, time, LENGTH).ticks]).toEqual([20, 500]);
    }
  });

  it("leaves to chance the same for the same seed, whatever else changes, and something else for another", () => {
    const hits = Array.from({ length: 60 }, (_, index) => hitAt(index * 120 + 3));
    const roll = (more: object, from = hits) =>
      clean(from, { pocketMs: 0, humanizeMs: 6, humanizeSeed: 4, ...more }).ticks;
    const first = roll({});
    expect([...roll({})]).toEqual([...first]);
    expect([...roll({ humanizeSeed: 5 })]).not.toEqual([...first]);
    // Every hit keeps its own deviation when others go.
    const fewer = hits.filter((_, index) => index % 2 === 0);
    expect([...roll({}, fewer)]).toEqual([...first].filter((_, index) => index % 2 === 0));
    const deviations = [...first].map((tick, index) => (tick - index * 120) * MS_PER_TICK);
    const spread = Math.sqrt(deviations.reduce((sum, ms) => sum + ms * ms, 0) / deviations.length);
    expect(spread).toBeGreaterThan(4);
    expect(spread).toBeLessThan(8);
    expect(Math.max(...deviations.map(Math.abs))).toBeLessThanOrEqual(19);
  });

  it("spreads chance as it says: evenly within, or mostly little", () => {
    const noise = (shape: "even" | "bell") =>
      Array.from({ length: 4000 }, (_, index) => noiseOf(`1:${index}`, 7, shape));
    const shareWithin = (values: number[], reach: number) =>
      values.filter((value) => Math.abs(value) <= reach).length / values.length;
    expect(shareWithin(noise("even"), 1)).toBe(1);
    expect(shareWithin(noise("even"), 0.5)).toBeCloseTo(0.5, 1);
    expect(shareWithin(noise("bell"), 1)).toBeCloseTo(0.67, 1);
    expect(shareWithin(noise("bell"), 3)).toBe(1);
    const mean = noise("bell").reduce((sum, value) => sum + value, 0) / 4000;
    expect(Math.abs(mean)).toBeLessThan(0.06);
  });

  it("lets neighbours wander together if asked, and as far as dice would", () => {
    const hits = Array.from({ length: 600 }, (_, index) => hitAt(120 * index));
    const spreadOf = (ticks: readonly number[]) =>
      Math.sqrt(ticks.reduce((sum, tick) => sum + tick ** 2, 0) / ticks.length);
    const offs = (humanizeWanderPercent: number) => {
      const treatment = {
        timing: {
          ...DEFAULT_TREATMENT.timing,
          isOn: true,
          strengthPercent: 100,
          humanizeMs: 10,
          humanizeWanderPercent,
        },
      };
      return [...treat(hits, treatment, maps, 600 * 120 + 480).ticks].map((tick, row) => tick - 120 * row);
    };
    const stepsBetween = (ticks: readonly number[]) => ticks.slice(1).map((tick, row) => tick - ticks[row]!);
    const [dice, wander] = [offs(0), offs(100)];
    expect(spreadOf(stepsBetween(wander))).toBeLessThan(0.35 * spreadOf(stepsBetween(dice)));
    expect(spreadOf(wander) / spreadOf(dice)).toBeGreaterThan(0.7);
    expect(spreadOf(wander) / spreadOf(dice)).toBeLessThan(1.4);
  });

  it("leaves flams as they are whatever chance does, and gives roles their own share of it", () => {
    const hits = [hitAt(455, { recordedVelocity: 40 }), hitAt(480), hitAt(960, { recordedVelocity: 12 })];
    const flam = (humanizeSeed: number) => {
      const [grace, main] = ticksOf(hits, { humanizeMs: 12, humanizeSeed, pushMs: 4, pushEvery: 2 });
      return main! - grace!;
    };
    const plain = ticksOf(hits, {});
    for (const seed of [1, 2, 3, 4]) expect(Math.abs(flam(seed) - (plain[1]! - plain[0]!))).toBeLessThanOrEqual(1);
    const roles = { ghostTop: 30, accentBottom: 120 };
    const timing = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, humanizeMs: 12 };
    const ghosts = (humanizePercent: number) =>
      treat(hits, { roles, timing: { ...timing, byRole: { ghost: { humanizePercent } } } }, maps, LENGTH).ticks[2]!;
    expect(ghosts(0)).toBe(960);
    expect(ghosts(200) - 960).toBeCloseTo(2 * (ghosts(100) - 960), -0.5);
    expect(ghosts(100)).not.toBe(960);
  });

  it("moves by the same ms whatever the tempo is, for grace notes", () => {
    const fast = buildTimeMaps({ ppq: 480, meters: [], tempos: [{ tick: 0, usPerQuarter: 300_000 }] });
    const hits = [hitAt(940, { recordedVelocity: 30 }), hitAt(970, { recordedVelocity: 110 })];
    const { ticks } = treat(
      hits,
      { timing: { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100 } },
      fast,
      LENGTH,
    );
    const before = tickToMs(fast.tempoMap, 970) - tickToMs(fast.tempoMap, 940);
    expect(tickToMs(fast.tempoMap, ticks[1]!) - tickToMs(fast.tempoMap, ticks[0]!)).toBeCloseTo(before, 6);
  });

  it("stands a lane with nothing, with one hit, and with all hits at one tick", () => {
    expect(ticksOf([])).toEqual([]);
    expect(ticksOf([hitAt(7679)])).toEqual([7679]);
    expect(ticksOf([hitAt(5, { id: "a" }), hitAt(5, { id: "b" }), hitAt(5, { id: "c" })])).toEqual([0, 0, 0]);
  });
});
