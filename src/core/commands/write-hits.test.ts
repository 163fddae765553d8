import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ALWAYS, applyEdit, baseVelocity, invertEdit, type Pattern } from "../document/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { buildMeterMap, type Grid } from "../time/index.ts";
import {
  burstTicks,
  copiesOf,
  distanceOfCopies,
  emptySlots,
  glue,
  likeLoudness,
  likePlaces,
  likeStrokes,
  others,
  type PlacedHit,
  parseTimeChange,
  parseVelocityChange,
  parseVelocityRamp,
  ramp,
  splitStrokes,
  stretchHits,
  writeStrokes,
} from "./index.ts";

const SIXTEENTHS: Grid = { family: "straight", denominator: 16 };
const meterMap = buildMeterMap(480, []);
const placed = (pattern: Pattern): PlacedHit[] =>
  pattern.hits.map((hit) => ({ hit, tick: hit.pinnedTick ?? hit.recordedTick ?? 0 }));
const counter = () => {
  let turn = 0;
  return () => `new ${turn++}`;
};

describe("writing hits", () => {
  const pattern = patternOf([hitAt(0), hitAt(480, { id: "r", note: 40, articulationId: "rim-shot" })]);

  it("pins them where they are put, on the note of their stroke, and takes them back", () => {
    const strokes = [
      { voiceId: "snare", articulationId: "rim-shot", tick: 240.4, velocity: 200 },
      { voiceId: "snare", articulationId: "cross-stick", tick: 600, velocity: 0 },
    ];
    const edit = writeStrokes(pattern, strokes, counter());
    const after = applyEdit(pattern, edit);
    const added = after.hits.filter((hit) => hit.recordedTick === null);
    expect(added.map(({ note, pinnedTick, pinnedVelocity }) => [note, pinnedTick, pinnedVelocity])).toEqual([
      [40, 240, 127],
      [37, 600, 1],
    ]);
    expect(applyEdit(after, invertEdit(edit))).toEqual(pattern);
  });

  it("gives lanes to drums that have none, as one step, and leaves out what lies outside", () => {
    const strokes = ["ride", "kick"].map((voiceId, index) => ({
      voiceId,
      articulationId: voiceId === "ride" ? "bell" : "main",
      tick: index * 100,
      velocity: 80,
    }));
    const outside = [-1, 2 ** 41].map((tick) => ({ ...strokes[0]!, tick }));
    const edit = writeStrokes(pattern, [...strokes, ...outside], counter());
    const after = applyEdit(pattern, edit);
    expect(after.lanes.map(({ voiceId }) => voiceId)).toEqual(["ride", "snare", "kick"]);
    expect(after.hits).toHaveLength(4);
    expect(applyEdit(after, invertEdit(edit))).toEqual(pattern);
  });

  it("gives the take whole bars for what lies past its end, and takes them away with it", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 100_000 }), (tick) => {
        const edit = writeStrokes(
          pattern,
          [{ voiceId: "snare", articulationId: "main", tick, velocity: 80 }],
          counter(),
        );
        const after = applyEdit(pattern, edit);
        expect(after.lengthTicks).toBeGreaterThan(tick);
        expect(after.lengthTicks).toBe(
          tick < pattern.lengthTicks ? pattern.lengthTicks : 1920 * (Math.floor(tick / 1920) + 1),
        );
        expect(applyEdit(after, invertEdit(edit))).toEqual(pattern);
      }),
    );
  });
});

describe("filling", () => {
  it("takes every nth slot from an offset on, and none that is taken", () => {
    const pattern = patternOf([hitAt(130), hitAt(480)]);
    const slots = (more: object) =>
      emptySlots(placed(pattern), meterMap, SIXTEENTHS, { startTick: 0, endTick: 960, ...more });
    expect(slots({})).toEqual([0, 240, 360, 600, 720, 840]);
    expect(slots({ every: 2 })).toEqual([0, 240, 720]);
    expect(slots({ every: 2, offset: 1 })).toEqual([360, 600, 840]);
    expect(slots({ startTick: 1, endTick: 121 })).toEqual([]);
  });
});

describe("a burst", () => {
  it("leads into its end in even steps, along its ramp", () => {
    expect(burstTicks(1920, 4, 60)).toEqual([1680, 1740, 1800, 1860]);
    expect(ramp(3, 40, 100, "even")).toEqual([40, 70, 100]);
    expect(ramp(3, 40, 100, "slow start")).toEqual([40, 55, 100]);
    expect(ramp(3, 40, 100, "slow end")).toEqual([40, 85, 100]);
    expect(ramp(1, 40, 100, "even")).toEqual([100]);
  });
});

describe("copies", () => {
  const meter78 = buildMeterMap(480, [{ tick: 0, numerator: 7, denominator: 8 }]);
  const at = (...ticks: number[]) => placed(patternOf(ticks.map((tick) => hitAt(tick))));

  it("follow their originals by whole beats, from the beat that the first is played for", () => {
    expect(distanceOfCopies(at(0), meterMap)).toBe(480);
    expect(distanceOfCopies(at(0, 240, 720), meterMap)).toBe(960);
    expect(distanceOfCopies(at(470, 700), meterMap)).toBe(480);
    expect(distanceOfCopies(at(0, 240, 475), meterMap)).toBe(960);
    expect(distanceOfCopies(at(960, 1200), meter78)).toBe(720);
  });

  it("keep drum, stroke and loudness", () => {
    const [copy] = copiesOf(at(100), 480);
    expect(copy).toEqual({ voiceId: "snare", articulationId: "centre", tick: 580, velocity: 90, marks: {} });
    expect(splitStrokes(at(100), 4, 120).map(({ tick }) => tick)).toEqual([130, 160, 190]);
  });

  it("stay muted, sometimes played, of their role, and as far off as their originals", () => {
    const own = { isMuted: true, chance: { ...ALWAYS, chancePercent: 40 }, role: "ghost", offsetMs: 20 } as const;
    const take = patternOf([hitAt(100, own)]);
    const heard = [{ hit: take.hits[0]!, tick: 119 }];
    const copies = copiesOf(heard, 480);
    const copied = applyEdit(
      take,
      writeStrokes(take, copies, () => "copy"),
    ).hits.find(({ id }) => id === "copy")!;
    expect(copied).toMatchObject(own);
    // 20 ms are 19.2 ticks: it is heard 480 ticks after the other.
    expect(copied.pinnedTick).toBe(580);
  });
});

describe("gluing and stretching", () => {
  const pattern = patternOf(
    [hitAt(0), hitAt(0, { id: "k", voiceId: "kick" }), hitAt(120, { recordedVelocity: 120 }), hitAt(240)],
    { lanes: [laneOf("snare"), laneOf("kick")] },
  );

  it("makes one hit of several of a voice, at the place of the first and as loud as the loudest", () => {
    const edit = glue(placed(pattern));
    const after = applyEdit(pattern, edit);
    expect(after.hits.map((hit) => [hit.voiceId, hit.recordedTick, baseVelocity(hit)])).toEqual([
      ["snare", 0, 120],
      ["kick", 0, 90],
    ]);
    expect(applyEdit(after, invertEdit(edit))).toEqual(pattern);
  });

  it("stretches from a place, makes the take longer for it, and refuses to push a hit before its start", () => {
    const half = stretchHits(pattern, placed(pattern), 0, 2)!;
    expect(applyEdit(pattern, half).hits.map((hit) => hit.pinnedTick)).toEqual([0, 0, 240, 480]);
    const far = applyEdit(pattern, stretchHits(pattern, placed(pattern), 0, 100)!);
    expect(far.lengthTicks).toBeGreaterThan(Math.max(...far.hits.map((hit) => hit.pinnedTick!)));
    expect(stretchHits(pattern, placed(pattern), 1000, 2)).toBeNull();
  });

  it("comes back exactly when stretched and squeezed on whole ticks", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1000 }), (fromTick) => {
        const there = stretchHits(pattern, placed(pattern), 0, 2)!;
        const stretched = applyEdit(pattern, there);
        const back = applyEdit(stretched, stretchHits(stretched, placed(stretched), 0, 1 / 2)!);
        expect(placed(back).map(({ tick }) => tick)).toEqual(placed(pattern).map(({ tick }) => tick));
        expect(stretchHits(pattern, placed(pattern), fromTick, 1)).not.toBeNull();
      }),
    );
  });
});

describe("picking what is alike", () => {
  const hits = [
    hitAt(10, { id: "a", recordedVelocity: 40 }),
    hitAt(500, { id: "b", recordedVelocity: 44 }),
    hitAt(1910, { id: "c", recordedVelocity: 100 }),
    hitAt(3850, { id: "d", recordedVelocity: 100, articulationId: "rim-shot" }),
    hitAt(0, { id: "k", voiceId: "kick", recordedVelocity: 41 }),
  ];
  const all = placed(patternOf(hits, { lanes: [laneOf("snare"), laneOf("kick")] }));
  const ids = (set: ReadonlySet<string>) => [...set].sort().join("");
  const only = (...names: string[]) => all.filter(({ hit }) => names.includes(hit.id));

  it("finds the same stroke, the same loudness, the same place in every bar, and all others", () => {
    expect(ids(likeStrokes(all, only("a")))).toBe("abc");
    expect(ids(likeLoudness(all, only("a")))).toBe("ab");
    expect(ids(likePlaces(all, only("a"), meterMap))).toBe("acd");
    expect(ids(others(all, only("a")))).toBe("bcd");
    expect(ids(others(all, []))).toBe("abcdk");
  });
});

describe("amounts that are typed", () => {
  const change = (text: string, velocity: number) => parseVelocityChange(text)?.(velocity);

  it("set, add, scale, and stay within 1 to 127", () => {
    expect(change("64", 90)).toBe(64);
    expect(change("+5", 90)).toBe(95);
    expect(change("-100", 90)).toBe(1);
    expect(change("−10 %", 90)).toBe(81);
    expect(change("50%", 90)).toBe(45);
    expect(change("*1.1", 90)).toBe(99);
    expect(change("×9", 90)).toBe(127);
    for (const text of ["", "loud", "5 5", "*10%", "++3"]) expect(change(text, 90)).toBeUndefined();
  });

  it("are ramps from one loudness to another", () => {
    for (const text of ["40 to 100", " 40>100 ", "40 → 100"]) {
      expect(parseVelocityRamp(text)).toEqual({ from: 40, to: 100 });
    }
    for (const text of ["0 to 100", "40 to 128", "40-100", "40", "to 100"]) expect(parseVelocityRamp(text)).toBeNull();
  });

  it("are distances in ticks or ms only with a sign", () => {
    expect(parseTimeChange("+12")).toEqual({ amount: 12, unit: "ticks" });
    expect(parseTimeChange("-5 ms")).toEqual({ amount: -5, unit: "ms" });
    expect(parseTimeChange("−3,5ms")).toEqual({ amount: -3.5, unit: "ms" });
    for (const text of ["12", "3:1:0", "+x", ""]) expect(parseTimeChange(text)).toBeNull();
  });
});
