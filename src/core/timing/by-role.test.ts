import { describe, expect, it } from "vitest";
import { createRandom } from "../../standin/random.ts";
import type { Hit } from "../document/index.ts";
import { DEFAULT_TREATMENT, type TimingTreatment, type Treatment } from "../document/treatment.ts";
import { findGrid, foundGridName } from "../study/index.ts";
import { hitAt, MS_PER_TICK, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps, formatGrid, withSwingShare } from "../time/index.ts";
import { treat } from "../treat.ts";

const maps = buildTimeMaps(patternOf([]));
const LENGTH = 400_000;

function clean(hits: readonly Hit[], timing: Partial<TimingTreatment>, more: Partial<Treatment> = {}) {
  const whole = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, ...timing };
  return treat(hits, { ...more, timing: whole }, maps, LENGTH);
}

/** Ghosts of 20, strokes of 70 and accents of 120, all 12 ticks late, a sixteenth apart and over again. */
const threeRoles = Array.from({ length: 24 }, (_, index) =>
  hitAt(index * 120 + 12, { id: `${index}`, recordedVelocity: [20, 70, 120][index % 3]! }),
);

describe("roles in the timing step", () => {
  it("can be pulled less or more than strokes", () => {
    const byRole = { ghost: { strengthPercent: 0 }, accent: { strengthPercent: 50 } };
    const moved = [...clean(threeRoles, { byRole }).ticks].map((tick, index) => tick - index * 120);
    expect(moved.slice(0, 6)).toEqual([12, 0, 6, 12, 0, 6]);
  });

  it("follow the borders that a hand has moved, and what a hand has said of a hit", () => {
    const byRole = { ghost: { strengthPercent: 0 } };
    const [first, second, ...rest] = threeRoles as [Hit, Hit, ...Hit[]];
    const marked = [{ ...first, role: "stroke" as const }, { ...second, role: "ghost" as const }, ...rest];
    expect([...clean(marked, { byRole }).ticks].slice(0, 4)).toEqual([0, 132, 240, 372]);
    const roles = { ghostTop: 90, accentBottom: 128 };
    expect([...clean(threeRoles, { byRole }, { roles }).ticks].slice(0, 3)).toEqual([12, 132, 240]);
  });

  it("give way to what is set for a stretch", () => {
    const byRole = { ghost: { strengthPercent: 0 } };
    const exceptions = [{ startTick: 0, endTick: 360, strengthPercent: 100 }];
    expect([...clean(threeRoles, { byRole, exceptions }).ticks].slice(0, 4)).toEqual([0, 120, 240, 372]);
  });
});

describe("a share of the swing", () => {
  const swung = { family: "straight", denominator: 8, swingPercent: 70 } as const;

  it("lies between straight and all of it", () => {
    expect(withSwingShare(swung, 0)).toEqual({ family: "straight", denominator: 8 });
    expect(withSwingShare(swung, 50).swingPercent).toBe(60);
    expect(withSwingShare(swung, 100)).toBe(swung);
    expect(withSwingShare({ family: "straight", denominator: 8 }, 30)).toEqual({ family: "straight", denominator: 8 });
  });

  it("can be set hit by hit, so that some stay straight while others swing", () => {
    // 70 % of a pair of eighths is 336 ticks; half of the way there is 288.
    const hits = [hitAt(330), hitAt(730, { swingSharePercent: 0 }), hitAt(1250, { swingSharePercent: 50 })];
    expect([...clean(hits, { grid: swung }).ticks]).toEqual([336, 720, 1248]);
  });

  it("can be set for ghosts, in stretches of another grid too", () => {
    const hits = threeRoles.map((hit, index) => ({ ...hit, recordedTick: 240 + index * 480 }));
    const stretches = [{ startTick: 960, endTick: 4800, grid: { ...swung, swingPercent: 60 } }];
    const { ticks } = clean(hits, { grid: swung, stretches, byRole: { ghost: { swingSharePercent: 0 } } });
    expect([...ticks].slice(0, 5)).toEqual([240, 816, 1248, 1680, 2208]);
  });
});

describe("the repair step", () => {
  it("leaves out what it lists and nothing else, and moves no hit for it", () => {
    const cleaned = clean(threeRoles, {}, { repair: { leftOut: ["1", "4", "gone"] } });
    expect([...cleaned.isLeftOut].flatMap((is, row) => (is ? [row] : []))).toEqual([1, 4]);
    expect(cleaned.ticks).toEqual(clean(threeRoles, {}).ticks);
    expect([...clean(threeRoles, {}).isLeftOut]).toEqual(threeRoles.map(() => 0));
  });
});

describe("finding a grid of the ghosts' own", () => {
  /** Places in the bar with their loudness, over 24 bars, off by chance. */
  function played(strokes: readonly number[], ghosts: readonly number[], spreadMs: number, seed = 1): readonly Hit[] {
    const random = createRandom(seed);
    const places = [...strokes.map((at) => [at, 96] as const), ...ghosts.map((at) => [at, 30] as const)];
    return Array.from({ length: 24 }, (_, bar) => bar)
      .flatMap((bar) => places.map(([at, velocity]) => [bar * 1920 + at, velocity] as const))
      .map(([tick, velocity], index) => {
        const recordedTick = Math.max(0, Math.round(tick + random.bell(spreadMs) / MS_PER_TICK));
        return hitAt(recordedTick, { id: `${index}`, recordedVelocity: velocity + Math.round(random.bell(4)) });
      })
      .toSorted((a, b) => a.recordedTick! - b.recordedTick!);
  }

  it("finds finer steps for them than for the strokes", () => {
    for (const seed of [1, 2, 3]) {
      const found = findGrid(played([480, 1440], [120, 840, 1080, 1800], 8, seed), maps)!;
      expect(formatGrid(found.grid)).toBe("1/4");
      expect(formatGrid(found.ghostGrid!)).toBe("1/16");
      expect(foundGridName(found)).toContain("ghosts on sixteenths");
    }
  });

  it("does not believe it if a single stroke needs the finer steps", () => {
    const once = [...played([480, 1440], [120, 840, 1080, 1800], 6), hitAt(5 * 1920 + 360, { recordedVelocity: 98 })];
    const found = findGrid(
      once.toSorted((a, b) => a.recordedTick! - b.recordedTick!),
      maps,
    )!;
    expect(formatGrid(found.grid)).not.toBe("1/4");
    expect(formatGrid(found.ghostGrid ?? found.grid)).toBe("1/16");
  });

  it("says nothing of it where ghosts and strokes share a grid, or there are no ghosts", () => {
    expect(findGrid(played([0, 120, 480, 840], [240, 600, 1080], 8), maps)!.ghostGrid).toBeUndefined();
    expect(findGrid(played([480, 1440], [], 8), maps)!.ghostGrid).toBeUndefined();
  });
});
