import { describe, expect, it } from "vitest";
import { createRandom } from "../../standin/random.ts";
import { hitAt, MS_PER_TICK, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps, formatGrid } from "../time/index.ts";
import { countDrifts, findGraceNotes, summarizeDrifts } from "../timing/index.ts";
import { findGrid, foundGridSentence, gridFits } from "./index.ts";

const maps = buildTimeMaps(patternOf([]));

/** Plays places in the bar (in ticks) over some bars, off by a habit and by chance. */
function played(places: readonly number[], { bars = 16, biasMs = 0, spreadMs = 7, seed = 1, barTicks = 1920 } = {}) {
  const random = createRandom(seed);
  return Array.from({ length: bars }, (_, bar) => bar)
    .flatMap((bar) =>
      places.map((place) => Math.round(bar * barTicks + place + (biasMs + random.bell(spreadMs)) / MS_PER_TICK)),
    )
    .map((tick, index) => hitAt(Math.max(0, tick), { id: `${index}` }))
    .sort((a, b) => a.recordedTick! - b.recordedTick!);
}
const every = (step: number, until = 1920) =>
  Array.from({ length: Math.ceil(until / step) }, (_, index) => index * step);
const gridOf = (hits: ReturnType<typeof played>, on = maps) => formatGrid(findGrid(hits, on)!.grid);

describe("finding the grid of a voice", () => {
  it.each([
    ["1/4", every(480)],
    ["1/8", every(240)],
    ["1/16", every(120)],
    ["1/8-triplet", every(160)],
    ["1/16-triplet", every(80)],
    ["1/32", every(60)],
  ])("finds %s where that is played throughout", (expected, places) => {
    for (const seed of [1, 2, 3]) expect(gridOf(played(places, { seed }))).toBe(expected);
  });

  it("finds sixteenths where only a few hits need them", () => {
    expect(gridOf(played([0, 240, 480, 720, 960, 1200, 1440, 1680, 1800]))).toBe("1/16");
  });

  it("stays with the back-beat's quarters, however loose it is played", () => {
    for (const spreadMs of [5, 10, 18]) expect(gridOf(played([480, 1440], { spreadMs, bars: 32 }))).toBe("1/4");
  });

  it("reports the habit of a voice that sits behind", () => {
    const found = findGrid(played(every(240), { biasMs: 22, spreadMs: 8, bars: 32 }), maps)!;
    expect(formatGrid(found.grid)).toBe("1/8");
    expect(found.meanDriftMs).toBeGreaterThan(20);
    expect(found.meanDriftMs).toBeLessThan(24);
    expect(found.spreadMs).toBeGreaterThan(6);
    expect(found.spreadMs).toBeLessThan(10);
    expect(found.shareExplained).toBeGreaterThan(0.98);
    expect(foundGridSentence(found)).toMatch(/^eighths, 2[123] ms late$/);
  });

  it("takes eighths for the grid in 7/8, bar lines included", () => {
    const odd = buildTimeMaps({ ppq: 480, tempos: [], meters: [{ tick: 0, numerator: 7, denominator: 8 }] });
    expect(gridOf(played(every(240, 1680), { barTicks: 1680 }), odd)).toBe("1/8");
  });

  it("is not led astray by flams and double triggers", () => {
    const clean = played(every(240), { bars: 12 });
    const echoes = clean.map((hit, index) =>
      hitAt(hit.recordedTick! + 25, { id: `echo ${index}`, recordedVelocity: 25 }),
    );
    const all = [...clean, ...echoes].sort((a, b) => a.recordedTick! - b.recordedTick!);
    expect(gridOf(all)).toBe("1/8");
  });

  it("says honestly that no grid fits noise", () => {
    const random = createRandom(5);
    const noise = Array.from({ length: 400 }, (_, index) =>
      hitAt(Math.floor(random.uniform() * 100_000), { id: `${index}` }),
    );
    noise.sort((a, b) => a.recordedTick! - b.recordedTick!);
    const found = findGrid(noise, maps)!;
    expect(found.isPoor).toBe(true);
    expect(foundGridSentence(found)).toBe("on no grid that fits");
  });

  it("stands few hits, hits at one tick, and extreme tempos", () => {
    expect(findGrid([], maps)).toBeNull();
    expect(findGrid([hitAt(5)], maps)).toMatchObject({ grid: { denominator: 4 } });
    expect(
      findGrid(
        Array.from({ length: 50 }, (_, index) => hitAt(0, { id: `${index}` })),
        maps,
      ),
    ).not.toBeNull();
    const wild = buildTimeMaps({
      ppq: 480,
      tempos: [{ tick: 0, usPerQuarter: 20 }],
      meters: [{ tick: 0, numerator: 1, denominator: 32 }],
    });
    const found = findGrid(played(every(240)), wild)!;
    expect(Number.isFinite(found.meanDriftMs)).toBe(true);
  });
});

describe("grace notes", () => {
  const mainRows = (timesMs: number[], velocities: number[], stepMs = 125) => [
    ...findGraceNotes(
      { timesMs, velocities },
      timesMs.map(() => stepMs),
    ),
  ];

  it("are one to three weak hits shortly before a main hit", () => {
    expect(mainRows([0, 970, 1000], [100, 30, 110])).toEqual([-1, 2, -1]);
    expect(mainRows([0, 940, 970, 1000], [100, 30, 35, 110])).toEqual([-1, 3, 3, -1]);
  });

  it("are not hits that are as loud, or too far, or a roll", () => {
    expect(mainRows([970, 1000], [90, 110])).toEqual([-1, -1]);
    expect(mainRows([900, 1000], [30, 110])).toEqual([-1, -1]);
    expect(mainRows([920, 940, 960, 980, 1000], [30, 32, 34, 36, 110])).toEqual([-1, -1, -1, -1, -1]);
  });

  it("are not notes of a grid as fine as their distance", () => {
    expect(mainRows([950, 1000], [30, 110], 52)).toEqual([-1, -1]);
  });
});

describe("summing up drifts", () => {
  it("gives the median and a robust spread", () => {
    expect(summarizeDrifts([1, 2, 3, 4, 500])).toEqual({ meanMs: 3, spreadMs: 1.4826 });
    expect(summarizeDrifts([])).toEqual({ meanMs: 0, spreadMs: 0 });
  });

  it("counts drifts in even bins, and leaves out what lies beyond them", () => {
    expect([...countDrifts([-4, -3.9, -2, 0, 1.9, 3.9, 4, 90, -90], 4, 2)]).toEqual([2, 1, 2, 1]);
    expect([...countDrifts([], 3, 2)]).toEqual([0, 0, 0]);
  });
});

describe("the fit of every grid", () => {
  const takes = [8, 16, 32] as const;
  it("is full where a voice was played on it or a coarser one, and the less the more lies between its slots", () => {
    for (const played of takes) {
      const step = (4 * 480) / played;
      const hits = Array.from({ length: 64 }, (_, index) => hitAt(index * step + ((index * 7) % 5) - 2));
      const maps = buildTimeMaps(patternOf(hits, { lengthTicks: 64 * step }));
      const found = findGrid(hits, maps)!;
      const share = (denominator: number, family: "straight" | "triplet" = "straight") =>
        gridFits(hits, found, maps).find(({ grid }) => grid.denominator === denominator && grid.family === family)!
          .share;
      expect(share(played)).toBe(1);
      expect(share(played * 2)).toBe(1);
      expect(share(played / 2)).toBeCloseTo(0.5, 1);
      expect(share(8, "triplet")).toBeLessThan(0.6);
    }
  });

  it("is no better than chance for a voice that is on no grid", () => {
    const hits = Array.from({ length: 120 }, (_, index) =>
      hitAt(Math.round(index * 346 + 160 * Math.sin(index * index))),
    );
    const maps = buildTimeMaps(patternOf(hits, { lengthTicks: 43_200 }));
    const found = findGrid(hits, maps)!;
    expect(found.isPoor).toBe(true);
    const share = (denominator: number) =>
      gridFits(hits, found, maps).find(({ grid }) => grid.denominator === denominator && grid.family === "straight")!
        .share;
    expect(share(4)).toBeLessThan(0.3);
    expect(share(8)).toBeLessThan(0.5);
    expect(share(16)).toBeLessThan(0.8);
  });

  it("leaves out ghosts that have a grid of their own", () => {
    const backBeats = Array.from({ length: 32 }, (_, index) => hitAt(480 + index * 960, { recordedVelocity: 110 }));
    const ghosts = Array.from({ length: 96 }, (_, index) =>
      hitAt(120 + index * 360 - ((index * 360) % 120), { id: `g${index}`, recordedVelocity: 30 }),
    ).filter(({ recordedTick }) => recordedTick! % 480 !== 0);
    const hits = [...backBeats, ...ghosts].sort((a, b) => a.recordedTick! - b.recordedTick!);
    const maps = buildTimeMaps(patternOf(hits, { lengthTicks: 30_720 + 7680 }));
    const found = findGrid(hits, maps)!;
    const quarters = (one: typeof found) =>
      gridFits(hits, one, maps).find(({ grid }) => grid.denominator === 4 && grid.family === "straight")!.share;
    const { ghostGrid: _, ...alike } = found;
    expect(quarters(alike)).toBeLessThan(0.6);
    expect(quarters({ ...alike, ghostGrid: { family: "straight", denominator: 16 } })).toBe(1);
  });
});
