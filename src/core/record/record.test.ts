import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, type Hit, invertEdit, type Pattern } from "../document/index.ts";
import { hitAt, MS_PER_TICK, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import {
  addPlayed,
  type ClockPair,
  fitClock,
  hearBar,
  leaveBarOut,
  measureLatency,
  mergePasses,
  mutePass,
  nextPass,
  passesOf,
  placeStroke,
  Recorder,
  removePass,
  repeatsBetween,
  replaceBy,
  tempoOfPulses,
} from "./index.ts";

const EMPTY = patternOf([]);
const MAPS = buildTimeMaps(EMPTY);
const LOOP = { startTick: 1920, endTick: 5760 };
const strike = (note: number, velocity = 90) => ({ note, velocity, channel: 9, pedal: null });

describe("the clock of events", () => {
  it("is told within a millisecond, whatever it is ahead by and however it drifts, past readings that came late", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e7, max: 1e7, noNaN: true }),
        fc.double({ min: 0.9999, max: 1.0001, noNaN: true }),
        fc.array(
          fc.record({
            isLate: fc.constantFrom(...Array(9).fill(false), true),
            lateMs: fc.integer({ min: 1, max: 90 }),
          }),
          {
            minLength: 24,
            maxLength: 120,
          },
        ),
        (ahead, rate, readings) => {
          const stampOf = (audioMs: number) => ahead + audioMs * rate;
          // Of any stretch of readings most are right.
          fc.pre(readings.slice(-64).filter(({ isLate }) => isLate).length < 0.2 * Math.min(64, readings.length));
          const pairs = readings.map(({ isLate, lateMs }, index): ClockPair => {
            const audioMs = index * 250;
            return { audioMs, eventMs: stampOf(audioMs + (isLate ? lateMs : 0)) };
          });
          const soundMs = readings.length * 250 + 40;
          expect(Math.abs(fitClock(pairs)(stampOf(soundMs)) - soundMs)).toBeLessThan(1);
        },
      ),
    );
  });

  it("cannot be told by nothing", () => {
    expect(() => fitClock([])).toThrow(RangeError);
  });
});

describe("a stroke in a loop", () => {
  it("lies where the loop is at its time, in the round that runs then", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 5 }), fc.integer({ min: 0, max: 3700 }), (round, ticks) => {
        const elapsedMs = (round * 3840 + ticks) * MS_PER_TICK;
        const placed = placeStroke({ startTick: 1920, loop: LOOP, earlyTicks: 60 }, MAPS.tempoMap, elapsedMs);
        expect(placed).toEqual({ tick: 1920 + ticks, round });
      }),
    );
  });

  it("that comes shortly before a round is its first one, and later than the end it lies at the beginning", () => {
    const at = (ticks: number, earlyTicks: number) =>
      placeStroke({ startTick: 1920, loop: LOOP, earlyTicks }, MAPS.tempoMap, ticks * MS_PER_TICK);
    expect(at(-50, 60)).toEqual({ tick: 1870, round: 0 });
    expect(at(-70, 60)).toBeNull();
    expect(at(3840 - 50, 60)).toEqual({ tick: 1870, round: 1 });
    expect(at(3840 - 50, 0)).toEqual({ tick: 5710, round: 0 });
    expect(at(3840 + 5, 60)).toEqual({ tick: 1925, round: 1 });
    // A bar line that a clock tells a hair too early is still that bar line.
    expect(at(3840 - 0.3, 0)).toEqual({ tick: 1920, round: 1 });
  });

  it("follows the tempos of the take", () => {
    const slower = { tempos: [{ tick: 960, usPerQuarter: 1_000_000 }] };
    const { tempoMap } = buildTimeMaps({ ...EMPTY, ...slower });
    const place = { startTick: 0, loop: { startTick: 0, endTick: 1920 }, earlyTicks: 0 };
    expect(placeStroke(place, tempoMap, 1000 + 500)).toEqual({ tick: 1200, round: 0 });
    expect(placeStroke(place, tempoMap, 3000 + 500)).toEqual({ tick: 480, round: 1 });
  });
});

describe("a recorder", () => {
  const record = (
    pattern: Pattern,
    strokes: readonly { ticks: number; note: number; velocity?: number }[],
  ): Pattern => {
    let count = 0;
    const recorder = new Recorder(
      { startTick: 0, loop: { startTick: 0, endTick: 3840 }, earlyTicks: 0 },
      MAPS.tempoMap,
      nextPass(pattern),
      () => `p${pattern.hits.length}-${++count}`,
    );
    const hits = strokes.flatMap(
      ({ ticks, note, velocity }) => recorder.hitOf(pattern, strike(note, velocity), ticks * MS_PER_TICK) ?? [],
    );
    return applyEdit(pattern, addPlayed(pattern, hits));
  };

  it("keeps what was struck, names it by the map, and makes a pass of each round in which something is played", () => {
    const take = record(EMPTY, [
      { ticks: 3, note: 36, velocity: 101 },
      { ticks: 962, note: 38, velocity: 33 },
      { ticks: 2 * 3840 + 7, note: 42 },
    ]);
    expect(
      take.hits.map(({ voiceId, recordedTick, recordedVelocity, pinnedTick, pass }) => [
        voiceId,
        recordedTick,
        recordedVelocity,
        pinnedTick,
        pass,
      ]),
    ).toEqual([
      ["kick", 3, 101, null, 1],
      ["hat", 7, 90, null, 2],
      ["snare", 962, 33, null, 1],
    ]);
    expect(take.lanes.map(({ voiceId }) => voiceId)).toEqual(["hat", "snare", "kick"]);
    expect(passesOf(take).map(({ pass, voiceIds }) => [pass, voiceIds])).toEqual([
      [1, ["kick", "snare"]],
      [2, ["hat"]],
    ]);
  });

  it("gives a take the bars that are played past its end", () => {
    const recorder = new Recorder({ startTick: 5760, loop: null, earlyTicks: 0 }, MAPS.tempoMap, 1, () => "late");
    const hit = recorder.hitOf(EMPTY, strike(36), 4000 * MS_PER_TICK)!;
    expect(applyEdit(EMPTY, addPlayed(EMPTY, [hit])).lengthTicks).toBe(11520);
  });

  it("tells when more comes in than anybody plays", () => {
    let count = 0;
    const recorder = new Recorder({ startTick: 0, loop: null, earlyTicks: 0 }, MAPS.tempoMap, 1, () => `f${++count}`);
    for (let stroke = 0; stroke < 50; stroke++) recorder.hitOf(EMPTY, strike(38), stroke * 20);
    expect(recorder.isFlooded).toBe(false);
    const hits = Array.from({ length: 1000 }, (_, stroke) => recorder.hitOf(EMPTY, strike(38), 1000 + stroke));
    expect(recorder.isFlooded).toBe(true);
    // It says so, and loses none.
    expect(hits).not.toContain(null);
  });

  it("puts a hit where it is in the file of a take on a time of its own, so that another time and back leaves it", () => {
    const timeline = {
      fileTempos: [],
      fileMeters: [],
      playedTempos: [{ tick: 0, usPerQuarter: 450_000 }],
      startMs: 20,
    };
    const timed: Pattern = { ...EMPTY, timeline, tempos: timeline.playedTempos };
    const { tempoMap } = buildTimeMaps(timed);
    const recorder = new Recorder({ startTick: 0, loop: null, earlyTicks: 0 }, tempoMap, 1, () => "t");
    const hit = recorder.hitOf(timed, strike(38), 900)!;
    expect(hit.recordedTick).toBeGreaterThanOrEqual(959);
    expect(hit.recordedTick).toBeLessThanOrEqual(961);
    expect(hit.inFile?.tick).toBe(Math.round((920 / 500) * 480));
  });
});

describe("passes", () => {
  const hit = (id: string, tick: number, pass: number | undefined, more: Partial<Hit> = {}) =>
    hitAt(tick, { id, ...(pass === undefined ? {} : { pass }), ...more });
  const take = patternOf([
    hit("file", 0, undefined),
    hit("a", 480, 1),
    hit("b", 960, 1, { voiceId: "kick" }),
    hit("c", 2400, 2),
    hit("d", 2880, 2),
  ]);
  const heard = (pattern: Pattern) => pattern.hits.filter(({ isMuted }) => !isMuted).map(({ id }) => id);

  it("are silenced and heard again as a whole, and what a pass replaced is heard while it is silent", () => {
    const replaced = applyEdit(take, replaceBy(take, { startTick: 0, endTick: 1920 }, ["snare"], 2));
    expect(heard(replaced)).toEqual(["b", "c", "d"]);
    const silent = applyEdit(replaced, mutePass(replaced, 2, true));
    expect(heard(silent)).toEqual(["file", "a", "b"]);
    expect(applyEdit(silent, mutePass(silent, 2, false))).toEqual(replaced);
  });

  it("that are removed give back what they replaced", () => {
    const replaced = applyEdit(take, replaceBy(take, { startTick: 0, endTick: 1920 }, null, 2));
    const removal = removePass(replaced, 2);
    const removed = applyEdit(replaced, removal);
    expect(removed.hits).toEqual(take.hits.filter(({ pass }) => pass !== 2));
    expect(applyEdit(removed, invertEdit(removal))).toEqual(replaced);
  });

  it("become one, the earliest", () => {
    const merged = applyEdit(take, mergePasses(take, [1, 2]));
    expect(passesOf(merged).map(({ pass, hits }) => [pass, hits.length])).toEqual([[1, 4]]);
    expect(nextPass(merged)).toBe(2);
  });

  it("give the bars that are chosen of them: on their drums the others are silent there, and nowhere else", () => {
    const both = patternOf([
      hit("a1", 480, 1),
      hit("a2", 2400, 1),
      hit("hat", 500, 1, { voiceId: "hat" }),
      hit("b1", 490, 2),
      hit("b2", 2410, 2),
      hit("file", 0, undefined),
    ]);
    const { meterMap } = buildTimeMaps(both);
    const kept = applyEdit(both, hearBar(both, meterMap, 2, 0));
    expect(heard(kept)).toEqual(["a2", "hat", "b1", "b2", "file"]);
    const other = applyEdit(kept, hearBar(kept, meterMap, 1, 0));
    expect(heard(other)).toEqual(["a1", "a2", "hat", "b2", "file"]);
    expect(heard(applyEdit(other, leaveBarOut(other, meterMap, 2, 1)))).toEqual(["a1", "a2", "hat", "file"]);
  });
});

describe("a measured input", () => {
  const clicks = Array.from({ length: 8 }, (_, index) => 1000 + index * 500);

  it("is as late as most strokes are, one that was missed apart", () => {
    const strokes = clicks.map((click, index) => click + (index === 3 ? 130 : 34 + (index % 3)));
    expect(measureLatency(strokes, clicks)).toMatchObject({ latencyMs: 35, spreadMs: 1 });
  });

  it("is not told of strokes that lie too far apart, or of too few", () => {
    const scattered = clicks.map((click, index) => click + (index % 2 === 0 ? -60 : 60));
    expect(measureLatency(scattered, clicks)).toHaveProperty("problem", expect.stringContaining("60 ms apart"));
    expect(measureLatency(clicks.slice(0, 5), clicks)).toHaveProperty("problem", expect.stringContaining("5 of 8"));
  });
});

describe("a held pad", () => {
  const grid = { family: "straight", denominator: 16 } as const;
  const usual = { grid, loudness: "as struck", rampTo: 127, rampQuarters: 4 } as const;
  const held = { sinceTick: 10, velocity: 80, pressure: null };

  it("strikes on each slot after its press", () => {
    const strokes = repeatsBetween(usual, held, MAPS.meterMap, 10, 490);
    expect(strokes).toEqual([120, 240, 360, 480].map((tick) => ({ tick, velocity: 80 })));
  });

  it("strikes none twice when it is asked stretch by stretch, on any grid", () => {
    fc.assert(
      fc.property(
        fc.constantFrom("straight", "triplet", "dotted"),
        fc.array(fc.integer({ min: 1, max: 300 }), { minLength: 3 }),
        (family, steps) => {
          const repeat = { ...usual, grid: { family, denominator: 16 } as const };
          let at = 10;
          const strokes = steps.flatMap((step) => {
            const some = repeatsBetween(repeat, held, MAPS.meterMap, at, at + step);
            at += step;
            return some;
          });
          expect(strokes).toEqual(repeatsBetween(repeat, held, MAPS.meterMap, 10, at));
        },
      ),
    );
  });

  it("takes turns with others that are held, on every slot one of them", () => {
    const both = [0, 1].map((index) =>
      repeatsBetween(usual, held, MAPS.meterMap, 10, 1000, { count: 2, index }).map(({ tick }) => tick),
    );
    expect(both).toEqual([
      [240, 480, 720, 960],
      [120, 360, 600, 840],
    ]);
  });

  it("is as loud as it is pressed, or grows along a ramp", () => {
    const pressed = repeatsBetween(
      { ...usual, loudness: "pressure" },
      { ...held, pressure: 41 },
      MAPS.meterMap,
      10,
      130,
    );
    expect(pressed).toEqual([{ tick: 120, velocity: 41 }]);
    const ramp = repeatsBetween(
      { ...usual, loudness: "ramp", rampQuarters: 1 },
      { ...held, sinceTick: 0, velocity: 47 },
      MAPS.meterMap,
      1,
      481,
    );
    expect(ramp.map(({ velocity }) => velocity)).toEqual([67, 87, 107, 127]);
  });
});

describe("the clock of another device", () => {
  it("tells its tempo when a quarter has gone by, pulses that come unevenly and all", () => {
    const pulses = Array.from({ length: 60 }, (_, index) => index * (60_000 / 97 / 24) + ((index * 7) % 5) - 2);
    expect(tempoOfPulses(pulses)!).toBeCloseTo(97, 0);
    expect(tempoOfPulses([])).toBeNull();
    expect(tempoOfPulses(pulses.slice(0, 24))).toBeNull();
  });
});
