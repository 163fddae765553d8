import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { playsThisTime } from "./chance.ts";
import { runChore } from "./chore/index.ts";
import { moveHitsBy, pinHits } from "./commands/index.ts";
import {
  ALWAYS,
  applyEdit,
  type Fullness,
  type Hit,
  type HitChance,
  ownWords,
  type Pattern,
  USUAL_DYNAMICS,
  USUAL_FULLNESS,
} from "./document/index.ts";
import { placeHits } from "./file/index.ts";
import { ALL_HITS } from "./sift/index.ts";
import { SongDesk } from "./song/index.ts";
import { hitAt, laneOf, patternOf } from "./testing/patterns.ts";

const BAR = 1920;
const isPlayed = (id: string, chance: HitChance, fullness: Fullness, turn: number) =>
  playsThisTime({ id, chance }, fullness, turn);
const sixteenths = (bars: number, more: Partial<Hit> = {}) =>
  Array.from({ length: 16 * bars }, (_, at) => hitAt(120 * at, { id: `h${at}`, ...more }));
const songOf = (take: Pattern, bars: readonly number[], repeats: number, more: object = {}): Pattern => ({
  ...take,
  arrangement: {
    patterns: [{ id: "p", name: "P", colour: "moss", bars, ...more }],
    song: [{ id: "e", patternId: "p", repeats }],
    grooves: {},
  },
});
/** The rows that are heard in each repeat of one pattern. */
const heard = (take: Pattern, lengthTicks: number) => {
  const [part] = new SongDesk(take).play(null).parts;
  const rounds: number[][] = [];
  part!.rows.forEach((row, at) => {
    const round = Math.floor((part!.sides.cleaned.ticks[at]! + 30) / lengthTicks);
    rounds[round] = [...(rounds[round] ?? []), row];
  });
  return rounds;
};

describe("a hit that is played sometimes", () => {
  const chance = { ...ALWAYS, chancePercent: 30 };

  it("is played about as often as it should be, by another hit, time or seed otherwise, and the same again", () => {
    const count = (test: (turn: number) => boolean) =>
      Array.from({ length: 4000 }, (_, turn) => turn).filter(test).length;
    expect(count((turn) => isPlayed("a", chance, USUAL_FULLNESS, turn)) / 4000).toBeCloseTo(0.3, 1);
    expect(count((turn) => isPlayed(`hit ${turn}`, chance, USUAL_FULLNESS, 0)) / 4000).toBeCloseTo(0.3, 1);
    expect(count((turn) => isPlayed("a", chance, { ...USUAL_FULLNESS, seed: turn + 1 }, 3)) / 4000).toBeCloseTo(0.3, 1);
    // Two hits have nothing to do with one another.
    const both = count((turn) => ["a", "b"].every((id) => isPlayed(id, chance, USUAL_FULLNESS, turn)));
    expect(both / 4000).toBeCloseTo(0.09, 1);
    fc.assert(
      fc.property(fc.string(), fc.integer({ min: 0, max: 1e6 }), fc.integer({ min: 1, max: 1e9 }), (id, turn, seed) => {
        const fullness = { percent: 50, seed };
        expect(isPlayed(id, chance, fullness, turn)).toBe(isPlayed(id, chance, fullness, turn));
        // Whoever is played at a chance is played at every higher one.
        if (isPlayed(id, chance, fullness, turn))
          expect(isPlayed(id, { ...chance, chancePercent: 80 }, fullness, turn)).toBe(true);
        expect(isPlayed(id, { ...chance, chancePercent: 0 }, fullness, turn)).toBe(false);
        expect(isPlayed(id, ALWAYS, fullness, turn)).toBe(true);
      }),
    );
  });

  it("is played only where the part is as full as it asks for, both ends included", () => {
    const window = { ...ALWAYS, fromPercent: 40, toPercent: 60 };
    const at = (percent: number) => isPlayed("a", window, { percent, seed: 1 }, 0);
    expect([39, 40, 60, 61].map(at)).toEqual([false, true, true, false]);
  });

  it("goes out or not as it is drawn, and is in the take all the same", () => {
    const take = patternOf(sixteenths(2, { chance }), { lengthTicks: 2 * BAR });
    const placed = placeHits(take);
    expect(placed.size).toBeGreaterThan(2);
    expect(placed.size).toBeLessThan(20);
    expect([...placed.keys()]).toEqual(
      take.hits.filter(({ id }) => isPlayed(id, chance, USUAL_FULLNESS, 0)).map(({ id }) => id),
    );
    expect([...placeHits({ ...take, fullness: { percent: 50, seed: 2 } }).keys()]).not.toEqual([...placed.keys()]);
  });

  it("is drawn anew in each repeat of a song, the same for the same seed, and alike in hearing and export", () => {
    const take = patternOf(sixteenths(1, { chance: { ...ALWAYS, chancePercent: 50 } }), {
      lengthTicks: BAR,
      lanes: [laneOf("snare")],
    });
    const song = songOf(take, [0], 8);
    const rounds = heard(song, BAR);
    expect(new Set(rounds.map(String)).size).toBeGreaterThan(6);
    expect(heard(song, BAR)).toEqual(rounds);
    expect(heard({ ...song, fullness: { percent: 50, seed: 9 } }, BAR)).not.toEqual(rounds);
    // A bar that a pattern plays twice is drawn twice.
    const [first, second] = heard(songOf(take, [0, 0], 1), BAR);
    expect(first).not.toEqual(second);
  });

  it("depends on how full its pattern is, and else on how full the take is", () => {
    const take = patternOf(sixteenths(1, { chance: { ...ALWAYS, fromPercent: 60 } }), { lanes: [laneOf("snare")] });
    const count = (pattern: Pattern) => new SongDesk(pattern).play(null).parts[0]!.rows.length;
    expect(count(songOf(take, [0], 1))).toBe(0);
    expect(count(songOf({ ...take, fullness: { percent: 80, seed: 1 } }, [0], 1))).toBe(16);
    expect(count(songOf(take, [0], 1, { fullnessPercent: 70 }))).toBe(16);
  });

  it("is said in words", () => {
    expect(ownWords(hitAt(0, { chance: { chancePercent: 30, fromPercent: 20, toPercent: 80 }, offsetMs: -4 }))).toEqual(
      ["played 30 % of the time, where fullness is 20 to 80 %", "offset 4 ms earlier"],
    );
    expect(ownWords(hitAt(0))).toEqual([]);
  });
});

describe("what a hit has of its own", () => {
  const tickOf = (pattern: Pattern, id = "h4") => placeHits(pattern).get(id)!.tick;

  it("is an offset in ms at any tempo, of recorded, pinned and drawn hits alike", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -60, max: 60 }),
        fc.integer({ min: 40, max: 300 }),
        fc.constantFrom(null, 520),
        (ms, bpm, pinnedTick) => {
          const tempos = [{ tick: 0, usPerQuarter: Math.round(60_000_000 / bpm) }];
          const at = (offsetMs: number) =>
            tickOf(
              patternOf(
                sixteenths(1).map((hit) => (hit.id === "h4" ? { ...hit, pinnedTick, offsetMs } : hit)),
                { tempos },
              ),
            );
          const ticks = (ms * bpm * 480) / 60_000;
          // No hit passes its neighbours.
          if (Math.abs(ticks) < 70) expect(Math.abs(at(ms) - at(0) - ticks)).toBeLessThanOrEqual(1);
        },
      ),
    );
  });

  it("lets a hit that a hand moves land where the hand puts it", () => {
    const take = patternOf(sixteenths(1).map((hit) => (hit.id === "h4" ? { ...hit, offsetMs: 15 } : hit)));
    const hit = take.hits.find(({ id }) => id === "h4")!;
    const placed = [{ hit, tick: tickOf(take) }];
    expect(tickOf(applyEdit(take, pinHits(take, placed)))).toBe(placed[0]!.tick);
    expect(tickOf(applyEdit(take, moveHitsBy(take, placed, 20)))).toBe(placed[0]!.tick + 20);
    expect(
      tickOf(applyEdit(take, runChore(take, [{ sift: ALL_HITS, acts: [{ kind: "shiftTicks", ticks: 9 }] }]).edit)),
    ).toBe(placed[0]!.tick + 9);
  });

  it("is a share of its lane's deviation in time and loudness", () => {
    const { treatment } = laneOf("snare", { isOn: true, strengthPercent: 100, humanizeMs: 8 });
    const dynamics = { ...USUAL_DYNAMICS, isOn: true, deviation: 12 };
    const lanes = [{ voiceId: "snare", treatment: { ...treatment, dynamics } }];
    const placesOf = (deviationPercent: number) => [
      ...placeHits(patternOf(sixteenths(1, { deviationPercent }), { lanes })).values(),
    ];
    const still = placesOf(0);
    expect(still.map(({ tick }) => tick)).toEqual(still.map((_, at) => 120 * at));
    expect(new Set(still.map(({ velocity }) => velocity)).size).toBe(1);
    const whole = placesOf(100);
    expect(whole.some(({ tick }, at) => tick !== 120 * at)).toBe(true);
    expect(new Set(whole.map(({ velocity }) => velocity)).size).toBeGreaterThan(5);
    const far = (places: typeof whole) => places.reduce((sum, { tick }, at) => sum + Math.abs(tick - 120 * at), 0);
    expect(far(placesOf(50)) / far(whole)).toBeCloseTo(0.5, 1);
  });

  it("is set by the acts of a rule, and taken back by the usual value", () => {
    const take = patternOf(sixteenths(1));
    const after = (pattern: Pattern, ...acts: Parameters<typeof runChore>[1][number]["acts"]) =>
      applyEdit(pattern, runChore(pattern, [{ sift: ALL_HITS, acts }]).edit);
    const some = after(
      take,
      { kind: "chance", percent: 40 },
      { kind: "window", from: 10, to: 90 },
      { kind: "offset", ms: 3 },
    );
    expect(some.hits[0]).toMatchObject({ chance: { chancePercent: 40, fromPercent: 10, toPercent: 90 }, offsetMs: 3 });
    const usual = after(
      some,
      { kind: "chance", percent: 100 },
      { kind: "window", from: 0, to: 100 },
      { kind: "offset", ms: 0 },
    );
    expect(usual.hits).toEqual(take.hits);
    const asked = runChore(some, [{ sift: { clauses: [{ anyOf: [{ kind: "chance" }] }] }, acts: [{ kind: "mute" }] }]);
    expect(asked.changedIds.size).toBe(16);
  });
});

describe("a voice with a length of its own", () => {
  it("plays it over and over until its pattern ends", () => {
    const take = patternOf(sixteenths(2), { lanes: [laneOf("snare")], lengthTicks: 2 * BAR });
    const ticksOf = (cells: object) => [
      ...new SongDesk(songOf(take, [0, 1], 1, { cells })).play(null).parts[0]!.sides.cleaned.ticks,
    ];
    const seven = { ...take, hits: take.hits.filter(({ recordedTick }) => [0, 360, 600].includes(recordedTick!)) };
    const desk = new SongDesk(songOf(seven, [0, 1], 1, { cells: { snare: { ownLengthTicks: 7 * 120 } } }));
    const wanted = [0, 7, 14, 21, 28]
      .flatMap((round) => [0, 3, 5].map((at) => (round + at) * 120))
      .filter((tick) => tick < 2 * BAR);
    expect([...desk.play(null).parts[0]!.sides.cleaned.ticks]).toEqual(wanted);
    // As long as the pattern, or longer, it is as without.
    expect(ticksOf({ snare: { ownLengthTicks: 2 * BAR } })).toEqual(ticksOf({}));
    expect(ticksOf({ snare: { ownLengthTicks: 5 * BAR } })).toEqual(ticksOf({}));
  });
});
