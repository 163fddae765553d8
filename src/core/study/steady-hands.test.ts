import { describe, expect, it } from "vitest";
import { createRandom } from "../../standin/random.ts";
import { type Meant, putOnSlots, wobble } from "../testing/put-on-slots.ts";
import { gridName } from "../time/index.ts";

// What a drummer does is plainer than what a fine grid can explain: late for a bar, even in a run, swinging with both hands.

const BAR = 1920;
const SEEDS = [1, 2, 3, 4, 5, 6];

/** Places of some bars, in ticks of 480 a quarter. */
function bars(count: number, places: Readonly<Record<string, readonly number[]>>): readonly Meant[] {
  return Array.from({ length: count }, (_, bar) =>
    Object.entries(places).flatMap(([voiceId, ticks]) => ticks.map((tick) => ({ tick: bar * BAR + tick, voiceId }))),
  ).flat();
}

const every = (step: number, from = 0) => Array.from({ length: BAR / step }, (_, index) => from + index * step);

/** Offs of a hand of some spread, other ones for each seed. */
function offsOf(spreadMs: number, seed: number): readonly number[] {
  const random = createRandom(seed);
  return Array.from({ length: 997 }, () => random.bell(spreadMs));
}

const TIME = { hat: every(240), kick: [0, 600, 960, 1320], snare: [480, 1440] };

describe("a steady hand", () => {
  it("that is late for a bar and a half is late, and not on a finer grid", () => {
    // At 120 bpm a tick is about a ms. Sixty-fourths and thirty-second triplets have slots 30 and 40 ticks off the beat.
    for (const lateTicks of [22, 26]) {
      const late = (tick: number) => (tick >= 8 * BAR && tick < 9.5 * BAR ? tick + lateTicks : tick);
      const played = bars(16, TIME).map((hit) => ({ ...hit, late: late(hit.tick) }));
      const { found } = putOnSlots(
        played.map(({ late: tick, voiceId }) => ({ tick, voiceId })),
        0,
        wobble(8),
      );
      for (const [voiceId, { stretches }] of found) expect(stretches, `${voiceId}, ${lateTicks} late`).toEqual([]);
    }
  });

  it("plays eight strokes in a beat as thirty-seconds, however loosely", () => {
    const roll = Array.from({ length: 8 }, (_, step) => 1440 + step * 60);
    const take = bars(12, { ...TIME, snare: [480, 960] }).concat(
      Array.from({ length: 4 }, (_, round) =>
        roll.map((tick) => ({ tick: (3 * round + 2) * BAR + tick, voiceId: "snare" })),
      ).flat(),
    );
    const grids = [...SEEDS, ...SEEDS.map((seed) => seed + 6)].flatMap((seed) =>
      [15, 17].flatMap((spreadMs) => {
        const { found } = putOnSlots(take, 0, offsOf(spreadMs, seed));
        return found.get("snare")!.stretches.map(({ grid }) => gridName(grid));
      }),
    );
    // Of 96 rolls. Read stroke by stroke, thirteen would have sixths in them.
    expect(grids.filter((name) => name !== "thirty-seconds").length).toBeLessThanOrEqual(6);
    expect(grids.length).toBeGreaterThanOrEqual(80);
  });

  it("does not swing where one drum plays all that would", () => {
    // A blast: the snare is between kick and hat throughout, late by habit, but for a fill or two.
    const blast = bars(16, { hat: every(240), kick: every(240), snare: every(240, 120) });
    const fill = [0, 480, 960, 1440].map((tick) => ({ tick: 15 * BAR + tick, voiceId: "snare" }));
    const late = [...blast, ...fill].map((hit) =>
      hit.voiceId === "snare" && hit.tick % 240 !== 0 ? { ...hit, tick: hit.tick + 18 } : hit,
    );
    for (const seed of SEEDS) {
      const { found } = putOnSlots(late, 0, offsOf(6, seed), { bpm: 195, stepTicks: 1 });
      expect(found.get("snare")!.grid.swingPercent ?? 50, `seed ${seed}`).toBe(50);
    }
  });

  it("swings with the foot as well, though that is on every third sixteenth", () => {
    const swung = (tick: number) => (tick % 240 === 120 ? tick + 20 : tick);
    const take = bars(16, { snare: every(120), kick: [0, 360, 720, 1440, 1800], hat: every(480) }).map((hit) => ({
      ...hit,
      tick: swung(hit.tick),
    }));
    for (const seed of SEEDS) {
      const { found } = putOnSlots(take, 0, offsOf(13, seed), { bpm: 100, stepTicks: 1 });
      const { grid } = found.get("kick")!;
      expect(grid.family, `seed ${seed}`).toBe("straight");
      expect(grid.swingPercent ?? 50, `seed ${seed}`).toBeGreaterThan(56);
    }
  });
});
