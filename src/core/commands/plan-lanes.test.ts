import { describe, expect, it } from "vitest";
import { applyEdit, type Hit, invertEdit } from "../document/index.ts";
import type { FoundGrid } from "../study/find-grid.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { lanesFor, onFoundGrid, planLanes } from "./plan-lanes.ts";
import { readLate } from "./read-late.ts";

/** Hats in sixteenths after a bar of rest, a little late, a tick or two off by turns. */
function hats(): readonly Hit[] {
  return Array.from({ length: 64 }, (_, step) =>
    hitAt(1920 + step * 120 + 20 + ((step * 5) % 7), { id: `hat ${step}`, voiceId: "hat", articulationId: "closed" }),
  );
}

describe("reading a take as late", () => {
  it("puts every voice on the slots of the other reading, and keeps how it is treated otherwise", () => {
    const unplanned = patternOf(hats(), { lengthTicks: 6 * 1920 });
    const [lane] = planLanes(unplanned);
    const timing = { ...lane!.treatment.timing, isOn: true, strengthPercent: 63, latencyMs: 4, pocketMs: 20 };
    const pattern = { ...unplanned, lanes: [{ ...lane!, treatment: { timing } }] };
    const edit = readLate(pattern, 20 - 125);
    const after = applyEdit(pattern, edit);
    const { latencyMs, pocketMs, strengthPercent, isOn } = after.lanes[0]!.treatment.timing;
    expect(latencyMs + pocketMs).toBeCloseTo(24 - 125, -1);
    expect({ strengthPercent, isOn, latencyMs }).toEqual({ strengthPercent: 63, isOn: true, latencyMs: 4 });
    expect(applyEdit(after, invertEdit(edit))).toEqual(pattern);
  });
});

describe("the lanes that a pattern's hits need", () => {
  const cowbell = hitAt(960, { id: "bell", voiceId: "cowbell", articulationId: "normal" });
  const planned = (lanes: readonly string[], hits: readonly Hit[]) => {
    const shares: number[] = [];
    const pattern = patternOf(hits, { lengthTicks: 6 * 1920, lanes: lanes.map((voiceId) => laneOf(voiceId)) });
    const made = lanesFor(pattern, [], (share) => shares.push(share)).map(({ voiceId }) => voiceId);
    return { made, isStudied: shares.length > 0 };
  };

  it("are there at once where every drum has one, and are sought where a drum is new", () => {
    expect(planned(["hat", "snare"], hats())).toEqual({ made: ["hat"], isStudied: false });
    expect(planned(["hat"], [...hats(), cowbell])).toEqual({ made: ["hat", "cowbell"], isStudied: true });
  });
});

describe("a lane that is new", () => {
  const late = { latencyMs: 20, latencyStays: true } as const;
  const bell = hitAt(960, { id: "bell", voiceId: "cowbell", articulationId: "normal" });
  const newLane = (...lanes: Parameters<typeof laneOf>[]) => {
    const made = lanesFor(
      patternOf([...hats(), bell], { lengthTicks: 6 * 1920, lanes: lanes.map((one) => laneOf(...one)) }),
    );
    return made.find(({ voiceId }) => !lanes.some(([known]) => known === voiceId))!.treatment.timing;
  };

  it("has the latency of the take taken off where all others have it, and only then", () => {
    expect(newLane(["cowbell", late])).toMatchObject({ isOn: false, ...late });
    // 20 ticks and a few are 24 ms, and a little of that is habit.
    expect(Math.abs(newLane(["cowbell", late]).pocketMs)).toBeLessThan(8);
    expect(newLane(["hat", late])).toMatchObject(late);
    const playedIn = { ...bell, pass: 1 };
    const ownPocket = (hit: Hit) => {
      const made = lanesFor(patternOf([...hats(), hit], { lengthTicks: 6 * 1920, lanes: [laneOf("hat", late)] }));
      return made.find(({ voiceId }) => voiceId === "cowbell")!.treatment.timing.pocketMs;
    };
    expect(ownPocket(playedIn) - ownPocket(bell)).toBe(20);
    expect(newLane(["hat", { latencyMs: 20 }])).toMatchObject({ latencyMs: 0 });
    expect(newLane(["hat", { isOn: true, latencyMs: 20 }])).toMatchObject(late);
    const apart = lanesFor(
      patternOf([...hats(), bell, hitAt(970, { id: "s" })], {
        lengthTicks: 6 * 1920,
        lanes: [laneOf("cowbell", late), laneOf("snare", { ...late, latencyMs: 9 })],
      }),
    );
    expect(apart.find(({ voiceId }) => voiceId === "hat")!.treatment.timing.latencyMs).toBe(0);
  });
});

describe("a treatment on the grid that was found", () => {
  const sixteenths = { family: "straight", denominator: 16 } as const;
  const quarters = { family: "straight", denominator: 4 } as const;
  const { treatment } = laneOf("snare", { isOn: true, ghostGrid: { family: "triplet", denominator: 8 }, latencyMs: 5 });
  const found = (more: Partial<FoundGrid>) =>
    ({ grid: quarters, stretches: [], meanDriftMs: 12, ...more }) as FoundGrid;

  it("takes the ghosts' grid over as well, or leaves it where none was found", () => {
    expect(onFoundGrid(treatment, found({ ghostGrid: sixteenths })).timing).toMatchObject({
      grid: quarters,
      ghostGrid: sixteenths,
      pocketMs: 7,
      isOn: true,
    });
    expect(onFoundGrid(treatment, found({})).timing).not.toHaveProperty("ghostGrid");
  });
});
