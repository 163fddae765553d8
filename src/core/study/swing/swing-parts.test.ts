import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../../../standin/random.ts";
import { GENERAL_MIDI } from "../../notemap/index.ts";
import { hitAt, MS_PER_TICK } from "../../testing/patterns.ts";
import { buildTimeMaps, type Grid, gridName } from "../../time/index.ts";
import { foundGridName, studyVoices } from "../index.ts";

const BAR = 1920;
const maps = buildTimeMaps({ ppq: 480, meters: [], tempos: [] });

/** A take whose bars swing as is asked, as it was found. @param percents of each bar, where its second sixteenths or eighths are */
function found(percents: readonly number[], { spreadMs = 6, seed = 1, stepTicks = 120 } = {}) {
  const random = createRandom(seed);
  const struck = (voiceId: string, places: readonly number[]) =>
    percents
      .flatMap((percent, bar) =>
        places.map((step) => {
          const late = step % 2 === 1 ? stepTicks * (percent / 50 - 1) : 0;
          return bar * BAR + step * stepTicks + late + random.bell(spreadMs) / MS_PER_TICK;
        }),
      )
      .map((tick, index) => hitAt(Math.max(0, Math.round(tick)), { id: `${voiceId} ${index}`, voiceId }))
      .sort((a, b) => a.recordedTick! - b.recordedTick!);
  const count = BAR / stepTicks;
  const byVoice = new Map([
    [
      "hat",
      struck(
        "hat",
        Array.from({ length: count }, (_, step) => step),
      ),
    ],
    ["snare", struck("snare", [count / 4, (3 * count) / 4, count - 1])],
  ]);
  return studyVoices(byVoice, GENERAL_MIDI, maps).found;
}

const bars = (count: number, percent: number) => new Array<number>(count).fill(percent);
const inBars = (stretches: readonly { startTick: number; endTick: number; grid: Grid }[]) =>
  stretches.map(({ startTick, endTick, grid }) => ({ from: startTick / BAR, to: endTick / BAR, grid }));

describe("a chorus that swings in a straight take", () => {
  it("is a stretch of each drum that plays it, from its first bar to its last", () => {
    const take = found([...bars(8, 50), ...bars(6, 61), ...bars(8, 50)]);
    const hat = take.get("hat")!;
    expect(foundGridName(hat)).toMatch(/^sixteenths, swung 6[01](\.\d)? % in 1 place$/);
    const { grid, stretches } = hat;
    expect(grid).toEqual({ family: "straight", denominator: 16 });
    const [chorus, ...more] = inBars(stretches);
    expect(more).toEqual([]);
    expect(chorus).toMatchObject({ from: 8, to: 14, grid: { family: "straight", denominator: 16 } });
    expect(Math.abs(chorus!.grid.swingPercent! - 61)).toBeLessThan(1);
  });

  it("goes on to the end of the take if it is the last part, and is the rule if it is the longer one", () => {
    const last = inBars(found([...bars(10, 50), ...bars(8, 60)]).get("hat")!.stretches);
    expect(last).toMatchObject([{ from: 10, to: 18 }]);
    const { grid, stretches } = found([...bars(6, 50), ...bars(10, 60)]).get("hat")!;
    expect(Math.abs(grid.swingPercent! - 60)).toBeLessThan(1);
    expect(inBars(stretches)).toMatchObject([{ from: 0, to: 6, grid: { denominator: 16 } }]);
    expect(stretches[0]!.grid.swingPercent).toBeUndefined();
  });

  it("may be a shuffle, in triplets", () => {
    const { grid, stretches } = found([...bars(8, 50), ...bars(8, 66.7)], { stepTicks: 240 }).get("hat")!;
    expect(gridName(grid)).toBe("eighths");
    expect(inBars(stretches).map(({ from, to, grid }) => [from, to, gridName(grid)])).toEqual([
      [8, 16, "eighth triplets"],
    ]);
  });

  it("is told in loose hands as well", () => {
    for (const seed of [1, 2, 3, 4]) {
      const { stretches } = found([...bars(8, 50), ...bars(8, 62), ...bars(8, 50)], { spreadMs: 15, seed }).get("hat")!;
      expect(inBars(stretches), `seed ${seed}`).toMatchObject([{ from: 8, to: 16 }]);
    }
  });
});

describe("one swing throughout", () => {
  it("has no parts, however far it is and however loose the hand", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 50, max: 63 }),
        fc.integer({ min: 3, max: 16 }),
        fc.integer({ min: 1, max: 1e6 }),
        fc.integer({ min: 12, max: 20 }),
        (percent, spreadMs, seed, count) => {
          const { stretches } = found(bars(count, percent), { spreadMs, seed }).get("hat")!;
          // Beats by chance may be on some other grid; no part of many bars is.
          return stretches.every(({ startTick, endTick }) => endTick - startTick < 4 * BAR);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("has none where a bar now and then is straight", () => {
    const { grid, stretches } = found([...bars(7, 60), ...bars(1, 50), ...bars(7, 60), ...bars(1, 50)]).get("hat")!;
    expect(Math.abs(grid.swingPercent! - 60)).toBeLessThan(1);
    expect(stretches.every(({ startTick, endTick }) => endTick - startTick < 4 * BAR)).toBe(true);
  });
});
