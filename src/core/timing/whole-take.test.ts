import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { createRandom } from "../../standin/random.ts";
import { columnsOf, type Hit } from "../document/index.ts";
import { DEFAULT_TREATMENT } from "../document/treatment.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import { studyVoices } from "../study/index.ts";
import { hitAt, MS_PER_TICK } from "../testing/patterns.ts";
import { buildTimeMaps, gridName } from "../time/index.ts";
import { quantize } from "./index.ts";

// What a whole take says about one voice, each on a small part that is written out here.

const QUARTER = 480;
const BAR = 4 * QUARTER;
const maps = buildTimeMaps({ ppq: QUARTER, meters: [], tempos: [] });

/** Beats of a bar as strings of steps, for each voice; played over and over, off by chance and by a whole. */
type Bars = Readonly<Record<string, readonly (readonly string[])[]>>;

interface Playing {
  readonly lateMs?: number;
  readonly spreadMs?: number;
  readonly times?: number;
  readonly seed?: number;
  /** Moves a step of two in a beat to this share of it. */
  readonly swingPercent?: number;
}

function played(bars: Bars, { lateMs = 0, spreadMs = 7, times = 2, seed = 1, swingPercent = 50 }: Playing) {
  const random = createRandom(seed);
  return new Map(
    Object.entries(bars).map(([voiceId, ofVoice]) => {
      const hits: Hit[] = [];
      for (let bar = 0; bar < times * ofVoice.length; bar++) {
        for (const [beat, steps] of ofVoice[bar % ofVoice.length]!.entries()) {
          for (const [step, sign] of [...steps].entries()) {
            if (sign === ".") continue;
            const share = steps.length === 2 && step === 1 ? swingPercent / 100 : step / steps.length;
            const offMs = lateMs + random.bell(spreadMs);
            // A bar of rest before, so that what is early is there.
            const tick = BAR + bar * BAR + (beat + share) * QUARTER + offMs / MS_PER_TICK;
            const recordedVelocity = sign === "o" ? 28 : sign === "X" ? 108 : 78;
            hits.push(hitAt(Math.round(tick), { id: `${voiceId} ${hits.length} ${bar}`, voiceId, recordedVelocity }));
          }
        }
      }
      return [voiceId, hits.sort((a, b) => a.recordedTick! - b.recordedTick!)] as const;
    }),
  );
}

const study = (bars: Bars, playing: Playing = {}) => studyVoices(played(bars, playing), GENERAL_MIDI, maps);
const names = ({ found }: ReturnType<typeof studyVoices>) =>
  Object.fromEntries([...found].map(([voiceId, { grid }]) => [voiceId, gridName(grid)]));

const ROCK: Bars = {
  kick: [
    ["X.", ".x", "x.", "."],
    ["X.", "..", "x.", ".x"],
  ],
  snare: [
    [".", "X", ".", "X"],
    [".", "X", ".", "X"],
  ],
  hat: [
    ["Xx", "Xx", "Xx", "Xx"],
    ["Xx", "Xx", "Xx", "Xx"],
  ],
  crash: [
    ["X", ".", ".", "."],
    [".", ".", ".", "."],
  ],
};
const SIXTEENTHS: Bars = {
  kick: [["X..x", ".", "x...", "..x."]],
  snare: [[".o..", "X..o", ".o..", "X..o"]],
  hat: [["X.x.", "X.x.", "X.x.", "X.x."]],
};

describe("how late a take came in", () => {
  it("is told to a step by what drummers do, however late or early, up to 150 ms", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(ROCK, SIXTEENTHS),
        fc.integer({ min: -150, max: 150 }),
        fc.integer({ min: 1, max: 400 }),
        (part, lateMs, seed) => {
          const { lateness, found } = study(part, { lateMs, seed, times: 6 });
          expect(Math.abs(lateness.lateMs - lateMs)).toBeLessThan(20);
          for (const { meanDriftMs } of found.values()) expect(Math.abs(meanDriftMs - lateMs)).toBeLessThan(12);
        },
      ),
      { numRuns: 60 },
    );
  });

  it("offers the other reading where both are likely, and takes the one that moves less", () => {
    // Hats alone in sixteenths, all alike: nothing says which of them is the beat.
    const { lateness } = study({ hat: [["xxxx", "xxxx", "xxxx", "xxxx"]] }, { lateMs: 20, times: 4 });
    expect(Math.abs(lateness.lateMs - 20)).toBeLessThan(12);
    expect(lateness.runnerUp).not.toBeNull();
    expect(lateness.confidence).toBeLessThan(0.9);
    // With kick and snare there is no doubt.
    expect(study(ROCK, { lateMs: 20, times: 4 }).lateness.confidence).toBeGreaterThan(0.95);
  });

  it("is nothing for a take of nothing", () => {
    expect(study({}).lateness).toEqual({ lateMs: 0, confidence: 1, runnerUp: null });
  });
});

describe("swing", () => {
  const time = ["x", "xx", "x", "xx"];
  const backBeat = [".", "X", ".", "X"];
  const swung = (isFilled: boolean): Bars => ({
    ride: [time, time, time, isFilled ? ["x", "xx", "x", "xxxx"] : time],
    kick: [
      ["X.", ".x", "X.", "."],
      ["X.", ".", "X.", ".x"],
    ],
    snare: [backBeat, backBeat, backBeat, isFilled ? [".", "X", ".", "xxxx"] : backBeat],
  });

  it("of 64 to 69 % stays swing where no middle triplet is played, within half a point", () => {
    for (const swingPercent of [60, 63, 64.5, 69]) {
      const { found } = study(swung(false), { swingPercent, times: 6, spreadMs: 6 });
      const { grid } = found.get("ride")!;
      expect(grid).toMatchObject({ family: "straight", denominator: 8 });
      expect(Math.abs((grid.swingPercent ?? 50) - swingPercent)).toBeLessThan(0.5);
    }
  });

  it("is not pulled by straight fills", () => {
    const { found } = study(swung(true), { swingPercent: 62, times: 6, spreadMs: 6 });
    expect(Math.abs((found.get("ride")!.grid.swingPercent ?? 50) - 62)).toBeLessThan(0.5);
  });

  it("is triplets where the middle one is played as well", () => {
    const bars = {
      ride: [["x.x", "xxx", "x.x", "xxx"]],
      kick: [["X", "..x", "X", "."]],
      snare: [[".", "X", ".", "X"]],
    };
    expect(names(study(bars, { times: 6 })).ride).toBe("eighth triplets");
  });
});

describe("a voice of few or plain hits", () => {
  it("of finger-played kicks is on sixteenths, and on no quarter triplets", () => {
    const bars = { kick: [["Xx..", "....", "Xx..", "...."]], snare: [[".", "X", ".", "X"]] };
    const found = Array.from({ length: 12 }, (_, seed) => names(study(bars, { seed, spreadMs: 20, times: 8 })).kick!);
    for (const name of found) expect(name).toMatch(/^sixteenths/);
    // Sixteen pairs as loose as this may seem swung by chance, but seldom.
    expect(found.filter((name) => name === "sixteenths").length).toBeGreaterThanOrEqual(11);
  });

  it("keeps a plain grid with stretches where steps are exact, and not the finest that holds all", () => {
    const hat = ["xx", "xx", "xx", "xx"];
    const bars = {
      hat: [hat, ["xx", "xxxxxx", "xx", "xx"], hat, ["xx", "xx", "xx", "xxxxxxxxxxxx"]],
      kick: [["X.", ".", "X.", "."]],
      snare: [[".", "X", ".", "X"]],
    };
    const found = study(bars, { spreadMs: 0, times: 3 }).found.get("hat")!;
    expect(gridName(found.grid)).toBe("eighths");
    expect(found.stretches.map(({ grid }) => gridName(grid)).sort()).toEqual(
      [...Array(3).fill("sixteenth triplets"), ...Array(3).fill("thirty-second triplets")].sort(),
    );
  });

  it("is as sure of its grid as the next one is worse", () => {
    const sure = study(SIXTEENTHS, { times: 8 }).found.get("hat")!;
    const { confidence, runnerUp } = study({ crash: [["X", ".", ".", "."]] }, { times: 3 }).found.get("crash")!;
    expect(sure.confidence).toBeGreaterThan(confidence);
    expect(confidence).toBeLessThan(0.95);
    expect(runnerUp).not.toBeNull();
  });
});

describe("ruffs", () => {
  it("are no double triggers of the stroke before, though the second is half as loud again as the third", () => {
    const beats = Array.from({ length: 24 }, (_, beat) => BAR + beat * QUARTER);
    const ruff = [
      [98, 25],
      [72, 40],
      [36, 23],
    ] as const;
    const hits = beats.flatMap((tick, beat) => [
      hitAt(tick - 120, { id: `b${beat}`, voiceId: "snare", recordedVelocity: 79 }),
      ...(beat % 8 === 0 ? ruff : []).map(([ms, recordedVelocity]) =>
        hitAt(tick - Math.round(ms / MS_PER_TICK), { id: `g${beat} ${ms}`, voiceId: "snare", recordedVelocity }),
      ),
      hitAt(tick, { id: `m${beat}`, voiceId: "snare", recordedVelocity: 90 }),
    ]);
    hits.sort((a, b) => a.recordedTick! - b.recordedTick!);
    expect(studyVoices(new Map([["snare", hits]]), GENERAL_MIDI, maps).faults).toEqual([]);
  });

  it("keep their shape also where the first is farther ahead than a flam may be", () => {
    const strokes = [0, 1, 2, 3].map((bar) => BAR + bar * BAR);
    const ahead = [114, 76, 38].map((ms) => ms / MS_PER_TICK);
    const hits = strokes.flatMap((tick, bar) => [
      ...ahead.map((ticks, index) =>
        hitAt(Math.round(tick - ticks), { id: `g${bar}${index}`, voiceId: "snare", recordedVelocity: 34 }),
      ),
      hitAt(tick, { id: `m${bar}`, voiceId: "snare", recordedVelocity: 104 }),
      hitAt(tick + QUARTER, { id: `n${bar}`, voiceId: "snare", recordedVelocity: 90 }),
    ]);
    const { faults, found } = studyVoices(new Map([["snare", hits]]), GENERAL_MIDI, maps);
    expect(faults).toEqual([]);
    const { grid, meanDriftMs } = found.get("snare")!;
    const timing = { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent: 100, grid, pocketMs: meanDriftMs };
    const { ticks, slotTicks } = quantize(columnsOf(hits), timing, maps);
    for (let bar = 0; bar < strokes.length; bar++) {
      const main = bar * 5 + 3;
      expect(ticks[main]).toBeCloseTo(slotTicks[main]!, 6);
      for (const row of [main - 3, main - 2, main - 1]) {
        expect(ticks[main]! - ticks[row]!).toBeCloseTo(hits[main]!.recordedTick! - hits[row]!.recordedTick!, 6);
      }
    }
  });
});
