import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, baseTick, invertEdit, type Pattern } from "../document/index.ts";
import { hitAt, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import { type Clip, clipOf, type PasteWish, planPaste, strokeInMap } from "./clip.ts";
import type { PlacedHit } from "./commands.ts";

const BAR = 1920;
const counter = () => {
  let next = 0;
  return () => `new ${next++}`;
};
const placed = (pattern: Pattern): readonly PlacedHit[] => pattern.hits.map((hit) => ({ hit, tick: baseTick(hit) }));
/** A bar of snares on every beat, and one more in the next bar. */
const take = patternOf([0, 480, 960, 1440, 2400].map((tick) => hitAt(tick)));
const { meterMap } = buildTimeMaps(take);
const firstBar = () => clipOf(take, meterMap, placed(take).slice(0, 4));
const plan = (wish: Partial<PasteWish>, atTick: number, clip: Clip = firstBar(), into = take) =>
  planPaste(
    into,
    placed(into),
    buildTimeMaps(into).meterMap,
    clip,
    atTick,
    { where: "place", how: "beside", times: 1, ...wish },
    counter(),
  );
const ticksAfter = (wish: Partial<PasteWish>, atTick: number) =>
  applyEdit(take, plan(wish, atTick).edit)
    .hits.map(baseTick)
    .toSorted((one, other) => one - other);

describe("copied hits", () => {
  it("are a bar long if they fill one, and begin on their first beat", () => {
    expect(firstBar()).toMatchObject({ ppq: 480, barTicks: BAR, startTick: 0, spanTicks: BAR });
    const third = clipOf(take, meterMap, placed(take).slice(2, 3));
    expect(third).toMatchObject({ startTick: 960, spanTicks: 480, strokes: [{ tick: 960 }] });
  });

  it("are laid at a place, or into the same place of its bar", () => {
    const clip = clipOf(take, meterMap, placed(take).slice(2, 3));
    expect(plan({}, 3 * BAR, clip).written.map(({ tick }) => tick)).toEqual([3 * BAR]);
    expect(plan({ where: "bar" }, 3 * BAR + 5, clip).written.map(({ tick }) => tick)).toEqual([3 * BAR + 960]);
  });

  it("leave out what would double a hit, or take its place", () => {
    const beside = plan({}, BAR);
    expect([beside.written.length, beside.inWayCount, beside.replaced.length]).toEqual([3, 1, 0]);
    expect(ticksAfter({}, BAR)).toEqual([0, 480, 960, 1440, 1920, 2400, 2880, 3360]);
    const instead = plan({ how: "instead" }, BAR);
    expect([instead.written.length, instead.replaced.length]).toEqual([4, 1]);
  });

  it("are laid as often as wished, or to the end", () => {
    expect(plan({ times: 3 }, 2 * BAR).written).toHaveLength(12);
    expect(plan({ times: "end" }, 2 * BAR).endTick).toBeLessThanOrEqual(take.lengthTicks);
  });

  it("are known in another take by drum, name or family, in its own resolution, and its meter is compared", () => {
    const other = {
      ...patternOf([]),
      ppq: 960,
      lengthTicks: 4 * 2 * BAR,
      meters: [{ tick: 0, numerator: 3, denominator: 4 }],
    };
    const there = plan({}, 0, firstBar(), other);
    expect(there.written.map(({ tick }) => tick)).toEqual([0, 960, 1920, 2880]);
    expect(there.isOtherMeter).toBe(true);
    const stroke = { ...firstBar().strokes[0]!, voiceId: "pad-7", articulationId: "x" };
    expect(strokeInMap(other.noteMap, { ...stroke, voiceName: "SNARE" })?.voiceId).toBe("snare");
    expect(strokeInMap(other.noteMap, { ...stroke, voiceName: "Blue pad", family: "kick" })?.voiceId).toBe("kick");
    expect(strokeInMap({ voices: [] }, stroke)).toBeNull();
  });

  it("never put two hits of a drum on one place, and come away whole with undo", () => {
    const wish: fc.Arbitrary<PasteWish> = fc.record({
      where: fc.constantFrom("place" as const, "bar" as const),
      how: fc.constantFrom("beside" as const, "instead" as const),
      times: fc.constantFrom(1, 2, 5, "end" as const),
    });
    const hits = fc.uniqueArray(fc.integer({ min: 0, max: 40 }), { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(hits, hits, wish, fc.integer({ min: 0, max: 60 }), (own, copied, how, at) => {
        const into = patternOf(own.toSorted((one, other) => one - other).map((slot) => hitAt(slot * 120)));
        const from = patternOf(copied.toSorted((one, other) => one - other).map((slot) => hitAt(slot * 120)));
        const clip = clipOf(from, meterMap, placed(from));
        const pasting = plan(how, at * 120, clip, into);
        const after = applyEdit(into, pasting.edit);
        const ticks = after.hits.map(baseTick).toSorted((one, other) => one - other);
        // Copies that are laid behind one another overlap only themselves.
        if (how.times === 1) expect(new Set(ticks).size).toBe(ticks.length);
        expect(after.hits.length).toBe(into.hits.length + pasting.written.length - pasting.replaced.length);
        expect(applyEdit(after, invertEdit(pasting.edit))).toEqual(into);
      }),
    );
  });
});
