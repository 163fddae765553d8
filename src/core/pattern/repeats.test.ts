import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { hitAt, patternOf } from "../testing/patterns.ts";
import {
  clashesOf,
  NO_VARIATION,
  PLAYED_ONCE,
  type RepeatWish,
  type Rhythm,
  repeated,
  rhythmOf,
  varied,
} from "./index.ts";

const BAR = 1920;
const VOICE = {
  k: { voiceId: "kick", articulationId: "single", note: 36 },
  s: { voiceId: "snare", articulationId: "centre", note: 38 },
  h: { voiceId: "hat", articulationId: "closed", note: 42 },
  t: { voiceId: "tom-low", articulationId: "centre", note: 45 },
} as const;

/** Rows of sixteenths, one for each hand and foot. */
function rhythmIn(numerator: number, ...rows: readonly string[]): Rhythm {
  const hits = rows.flatMap((row, index) =>
    [...row].flatMap((sign, step) => {
      const voice = VOICE[sign as keyof typeof VOICE];
      return voice ? [hitAt(step * 120, { id: `${index} ${step}`, ...voice })] : [];
    }),
  );
  const meters = [{ tick: 0, numerator, denominator: 4 }];
  return rhythmOf(patternOf(hits, { lengthTicks: rows[0]!.length * 120, meters }));
}
const rhythm = (...rows: readonly string[]) => rhythmIn(4, ...rows);

const GROOVE = rhythm("h-h-h-h-h-h-h-h-", "----s-------s---", "k-------k-------");
const FILL = rhythm(
  "h-h-h-h-h-h-h-h-s-s-t-t-t-t-t-t-",
  "----s-------s-------------------",
  "k-------k-------k---------------",
);
const WALTZ_FILL = rhythmIn(3, "s-s-t-t-t-t-");
const play = (wish: Partial<RepeatWish>, fills: readonly Rhythm[] = [FILL]) =>
  repeated(GROOVE, varied(GROOVE, [], NO_VARIATION), fills, { ...PLAYED_ONCE, ...wish });
const at = (whole: ReturnType<typeof play>, voiceId: string) =>
  whole.strokes.filter(({ hit }) => hit.voiceId === voiceId).map(({ quarters }) => quarters);

describe("a pattern that is played several times", () => {
  it("is once as it is, and else itself over and over", () => {
    expect(play({}).strokes).toEqual(varied(GROOVE, [], NO_VARIATION));
    const four = play({ times: 4 });
    expect(four.bars.map(({ startQuarters }) => startQuarters)).toEqual([0, 4, 8, 12]);
    expect(at(four, "snare")).toEqual([1, 3, 5, 7, 9, 11, 13, 15]);
  });

  it("begins with a crash, in the place of the hat, and again after each fill", () => {
    const whole = play({ times: 8, hasCrash: true, fillEvery: 4 });
    expect(at(whole, "crash")).toEqual([0, 16]);
    expect(at(whole, "hat")).not.toContain(0);
    expect(at(whole, "hat")).toContain(4);
    expect(at(whole, "kick")).toContain(0);
  });

  it("ends every fourth time with the last bar of a fill as long as its own", () => {
    const whole = play({ times: 8, fillEvery: 4 });
    expect(whole.fillCount).toBe(2);
    expect(at(whole, "tom-low").map((quarters) => Math.floor(quarters / 4))).toEqual([
      3, 3, 3, 3, 3, 3, 7, 7, 7, 7, 7, 7,
    ]);
    // Nothing of the bar that it takes the place of is left.
    expect(at(whole, "hat").filter((quarters) => quarters >= 12 && quarters < 16)).toEqual([]);
    expect(play({ times: 8, fillEvery: 4 }, [WALTZ_FILL])).toMatchObject({ fillCount: 0 });
    expect(play({ times: 3, fillEvery: 4 }).fillCount).toBe(0);
  });

  it("opens the hats on its last off-beat, but not where a fill is", () => {
    const whole = play({ times: 4, hasOpenHat: true, fillEvery: 4 });
    const open = whole.strokes.filter(({ hit }) => hit.articulationId === "open");
    expect(open.map(({ quarters }) => quarters)).toEqual([3.5, 7.5, 11.5]);
    expect(open.every(({ hit }) => hit.note === 46)).toBe(true);
  });

  it("never asks for a third hand, keeps its order, and is the same for the same seed", () => {
    fc.assert(
      fc.property(
        fc.record({
          times: fc.integer({ min: 1, max: 12 }),
          hasCrash: fc.boolean(),
          hasOpenHat: fc.boolean(),
          fillEvery: fc.constantFrom(null, 2, 4, 8),
          seed: fc.integer({ min: 1, max: 99 }),
        }),
        (wish) => {
          const whole = play(wish, [FILL, WALTZ_FILL]);
          expect(clashesOf(whole.strokes)).toBe(0);
          expect(whole.strokes.every(({ quarters }) => quarters >= 0 && quarters < (wish.times * BAR) / 480)).toBe(
            true,
          );
          const places = whole.strokes.map(({ quarters }) => quarters);
          expect(places).toEqual(places.toSorted((a, b) => a - b));
          expect(play(wish, [FILL, WALTZ_FILL])).toEqual(whole);
        },
      ),
    );
  });
});
