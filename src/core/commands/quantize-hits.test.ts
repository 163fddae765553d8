import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, invertEdit } from "../document/index.ts";
import { hitAt, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps, type Grid } from "../time/index.ts";
import { quantizeHits } from "./index.ts";

const SIXTEENTHS: Grid = { family: "straight", denominator: 16 };
const take = patternOf([hitAt(7), hitAt(131), hitAt(236), hitAt(500, { voiceId: "kick" }), hitAt(7650)]);
const maps = buildTimeMaps(take);
const placed = take.hits.map((hit) => ({ hit, tick: hit.recordedTick!, velocity: 90 }));
const ticksAfter = (strengthPercent: number, gridOf = () => SIXTEENTHS) =>
  applyEdit(take, quantizeHits(take, placed, { strengthPercent, gridOf }, maps)).hits.map(
    ({ pinnedTick }) => pinnedTick,
  );

describe("quantizing some hits", () => {
  it("pulls each towards its slot as far as is wanted, and keeps the last inside the pattern", () => {
    expect(ticksAfter(100)).toEqual([0, 120, 240, 480, 7679]);
    expect(ticksAfter(50)).toEqual([4, 126, 238, 490, 7665]);
    expect(ticksAfter(0)).toEqual([7, 131, 236, 500, 7650]);
  });

  it("follows the grid of each lane, and its swing", () => {
    const grids: Record<string, Grid> = {
      snare: { ...SIXTEENTHS, swingPercent: 60 },
      kick: { family: "straight", denominator: 4 },
    };
    expect(ticksAfter(100, (voiceId?: string) => grids[voiceId ?? "snare"]!)).toEqual([0, 144, 240, 480, 7679]);
  });

  it("never leads farther from a slot, and can be taken back", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 100 }), (strengthPercent) => {
        const edit = quantizeHits(take, placed, { strengthPercent, gridOf: () => SIXTEENTHS }, maps);
        const after = applyEdit(take, edit);
        for (const { pinnedTick, recordedTick } of after.hits) {
          const before = recordedTick!;
          const off = (tick: number) => Math.abs(tick - Math.min(7679, Math.round(before / 120) * 120));
          expect(off(pinnedTick!)).toBeLessThanOrEqual(off(before));
        }
        expect(applyEdit(after, invertEdit(edit)).hits.map(({ pinnedTick }) => pinnedTick)).toEqual(
          take.hits.map(() => null),
        );
      }),
    );
  });
});
