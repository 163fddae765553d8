import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, type Hit, invertEdit, LONGEST_TAKE_TICKS, type Pattern } from "../document/index.ts";
import { USUAL_DYNAMICS } from "../document/treatment.ts";
import { GENERAL_MIDI } from "../notemap/index.ts";
import type { Sift } from "../sift/index.ts";
import { hitAt, MS_PER_TICK, patternOf } from "../testing/patterns.ts";
import { actWords, CHORES, type ChoreAct, runChore } from "./index.ts";

const hat = (tick: number, more: Partial<Hit> = {}) =>
  hitAt(tick, { id: `h${tick}`, voiceId: "hat", articulationId: "closed", note: 42, ...more });
const take = patternOf([
  hat(0, { recordedVelocity: 100 }),
  hat(240, { recordedVelocity: 90 }),
  hat(480, { recordedVelocity: 100 }),
  hat(720, { recordedVelocity: 90 }),
  hitAt(480, { id: "s1", recordedVelocity: 110 }),
  hitAt(960, { id: "g", recordedVelocity: 25 }),
  hitAt(1440, { id: "s2", recordedVelocity: 106 }),
]);
const hats: Sift = { clauses: [{ anyOf: [{ kind: "voices", voiceIds: ["hat"] }] }] };
const snares: Sift = { clauses: [{ anyOf: [{ kind: "voices", voiceIds: ["snare"] }] }] };

function after(pattern: Pattern, sift: Sift, ...acts: ChoreAct[]): Pattern {
  return applyEdit(pattern, runChore(pattern, [{ sift, acts }]).edit);
}
const velocities = ({ hits }: Pattern, voiceId: string) =>
  hits.filter((hit) => hit.voiceId === voiceId).map((hit) => hit.pinnedVelocity ?? hit.recordedVelocity);
const ticks = ({ hits }: Pattern, voiceId: string) =>
  hits.filter((hit) => hit.voiceId === voiceId).map((hit) => hit.pinnedTick ?? hit.recordedTick);

describe("a chore", () => {
  it("changes loudness in every way, of what its rule picks and of nothing else", () => {
    expect(velocities(after(take, hats, { kind: "scale", percent: 50 }), "hat")).toEqual([50, 45, 50, 45]);
    expect(velocities(after(take, hats, { kind: "add", velocity: -30 }), "hat")).toEqual([70, 60, 70, 60]);
    expect(velocities(after(take, hats, { kind: "set", velocity: 77 }), "hat")).toEqual([77, 77, 77, 77]);
    expect(velocities(after(take, hats, { kind: "range", percent: 200 }), "hat")).toEqual([105, 85, 105, 85]);
    expect(velocities(after(take, snares, { kind: "evenOut", percent: 100 }), "snare")).toEqual([108, 25, 108]);
    const grown = { kind: "contour", contour: "straight", from: 40, to: 100, span: "once" } as const;
    expect(velocities(after(take, hats, grown), "hat")).toEqual([40, 60, 80, 100]);
    expect(velocities(after(take, hats, grown), "snare")).toEqual([110, 25, 106]);
  });

  it("moves by ms and by ticks, and never out of the pattern", () => {
    const late = Math.round(20 / MS_PER_TICK);
    expect(ticks(after(take, hats, { kind: "shiftMs", ms: 20 }), "hat")).toEqual(
      [0, 240, 480, 720].map((tick) => tick + late),
    );
    expect(ticks(after(take, hats, { kind: "shiftTicks", ticks: -100 }), "hat")).toEqual([0, 140, 380, 620]);
    expect(ticks(after(take, hats, { kind: "stretchTime", factor: 2 }), "hat")).toEqual([0, 480, 960, 1440]);
  });

  it("gives a take the bars that half time needs, and leaves it alone where no take can be that long", () => {
    const half = [{ sift: hats, acts: [{ kind: "stretchTime", factor: 2 } as const] }];
    const long = patternOf([hat(0), hat(7000)]);
    const run = runChore(long, half);
    expect(run.refusals).toEqual([]);
    const grown = applyEdit(long, run.edit);
    expect(ticks(grown, "hat")).toEqual([0, 14000]);
    expect(grown.lengthTicks).toBe(8 * 1920);
    expect(applyEdit(grown, invertEdit(run.edit))).toEqual(long);
    const longest = patternOf([hat(0), hat(LONGEST_TAKE_TICKS - 1)], { lengthTicks: LONGEST_TAKE_TICKS });
    const refused = runChore(longest, half);
    expect(refused.refusals).toEqual(["A take cannot be that long, so nothing was moved."]);
    expect(refused.changedIds.size).toBe(0);
  });

  it("mutes, removes, and gives hits to another drum that the map has", () => {
    expect(after(take, snares, { kind: "mute" }).hits.filter(({ isMuted }) => isMuted)).toHaveLength(3);
    expect(after(take, snares, { kind: "remove" }).hits).toHaveLength(4);
    expect(
      after(take, snares, { kind: "revoice", voiceId: "clap", articulationId: "clap" }).lanes.map(
        ({ voiceId }) => voiceId,
      ),
    ).toEqual(expect.arrayContaining(["hat", "clap"]));
    const run = runChore(take, [{ sift: snares, acts: [{ kind: "revoice", voiceId: "gong", articulationId: "big" }] }]);
    expect(run.refusals).toEqual(["The note map of this take has no gong, big."]);
    expect(run.changedIds.size).toBe(0);
  });

  it("says how many would be cut off, and fits them in with their shape", () => {
    const louder = { kind: "scale", percent: 140 } as const;
    expect(runChore(take, [{ sift: hats, acts: [louder] }]).clippedCount).toBe(2);
    const run = runChore(take, [{ sift: hats, acts: [louder, { kind: "fitIn" }] }]);
    expect(run.clippedCount).toBe(0);
    expect(velocities(applyEdit(take, run.edit), "hat")).toEqual([127, 114, 127, 114]);
  });

  it("starts from how hits sound now, with the settings of their lane", () => {
    const [hatLane, ...rest] = take.lanes;
    const dynamics = { ...USUAL_DYNAMICS, isOn: true, loudnessPercent: 50 };
    const softer = { ...take, lanes: [{ ...hatLane!, treatment: { ...hatLane!.treatment, dynamics } }, ...rest] };
    expect(velocities(after(softer, hats, { kind: "add", velocity: 10 }), "hat")).toEqual([60, 55, 60, 55]);
  });

  it("runs several steps, each on what the one before has made", () => {
    const loud: Sift = { clauses: [{ anyOf: [{ kind: "velocity", from: 100, to: 127 }] }] };
    const run = runChore(take, [
      { sift: hats, acts: [{ kind: "add", velocity: 10 }] },
      { sift: loud, acts: [{ kind: "set", velocity: 64 }] },
    ]);
    expect(velocities(applyEdit(take, run.edit), "hat")).toEqual([64, 64, 64, 64]);
    expect([run.pickedIds.size, run.changedIds.size]).toEqual([6, 6]);
  });

  it("names the voices that it takes out, and mutes them here", () => {
    const run = runChore(take, [{ sift: snares, acts: [{ kind: "takeOut" }] }]);
    expect(run.takenOutVoiceIds).toEqual(["snare"]);
    expect(applyEdit(take, run.edit).hits.filter(({ isMuted }) => isMuted)).toHaveLength(3);
  });

  it("changes nothing where its rule picks nothing", () => {
    const none: Sift = { clauses: [{ anyOf: [{ kind: "voices", voiceIds: ["gong"] }] }] };
    const run = runChore(take, [{ sift: none, acts: [{ kind: "remove" }] }]);
    expect([run.pickedIds.size, run.changedIds.size]).toEqual([0, 0]);
    expect(applyEdit(take, run.edit).hits).toEqual(take.hits);
  });

  it("reads as a sentence", () => {
    expect(actWords({ kind: "shiftMs", ms: -6 }, GENERAL_MIDI)).toBe("push ahead 6 ms");
    expect(actWords({ kind: "revoice", voiceId: "hat", articulationId: "open" }, GENERAL_MIDI)).toBe(
      "reassign to hi-hat, open",
    );
  });
});

const anyAct: fc.Arbitrary<ChoreAct> = fc.oneof(
  fc.record({ kind: fc.constant("scale" as const), percent: fc.double({ min: -1000, max: 10_000, noNaN: true }) }),
  fc.record({ kind: fc.constant("add" as const), velocity: fc.integer({ min: -500, max: 500 }) }),
  fc.record({ kind: fc.constant("set" as const), velocity: fc.integer({ min: -5, max: 500 }) }),
  fc.record({ kind: fc.constant("evenOut" as const), percent: fc.double({ min: -100, max: 300, noNaN: true }) }),
  fc.record({ kind: fc.constant("range" as const), percent: fc.double({ min: -100, max: 10_000, noNaN: true }) }),
  fc.record({ kind: fc.constant("shiftMs" as const), ms: fc.double({ min: -5000, max: 5000, noNaN: true }) }),
  fc.record({
    kind: fc.constant("humanize" as const),
    ms: fc.double({ min: 0, max: 50, noNaN: true }),
    velocity: fc.double({ min: 0, max: 100, noNaN: true }),
    seed: fc.nat(50),
  }),
);

describe("whatever a chore does", () => {
  const someHits = fc
    .array(fc.record({ tick: fc.integer({ min: 0, max: 7679 }), velocity: fc.integer({ min: 1, max: 127 }) }), {
      maxLength: 25,
    })
    .map((list) =>
      list
        .toSorted((a, b) => a.tick - b.tick)
        .map(({ tick, velocity }, index) => hitAt(tick, { id: `${index}`, recordedVelocity: velocity })),
    );
  const someRule = fc.constantFrom<Sift>(
    { clauses: [{ anyOf: [{ kind: "velocity", from: 60, to: 127 }] }] },
    { clauses: [], nth: { every: 2, from: 1, perBar: true } },
    { clauses: [{ not: true, anyOf: [{ kind: "places", places: ["beats", "offBeats"] }] }] },
  );

  it("writes velocities of 1 to 127 and places inside the pattern, touches nothing that its rule excludes, and is undone whole", () => {
    fc.assert(
      fc.property(someHits, someRule, fc.array(anyAct, { minLength: 1, maxLength: 3 }), (hits, sift, acts) => {
        const pattern = patternOf(hits);
        const { edit, pickedIds } = runChore(pattern, [{ sift, acts }]);
        const changed = applyEdit(pattern, edit);
        const before = new Map(pattern.hits.map((hit) => [hit.id, hit]));
        expect(changed.hits).toHaveLength(pattern.hits.length);
        for (const hit of changed.hits) {
          if (!pickedIds.has(hit.id)) expect(hit).toBe(before.get(hit.id));
          if (hit.pinnedVelocity !== null) expect(hit.pinnedVelocity >= 1 && hit.pinnedVelocity <= 127).toBe(true);
          if (hit.pinnedTick !== null) expect(hit.pinnedTick >= 0 && hit.pinnedTick < pattern.lengthTicks).toBe(true);
        }
        expect(applyEdit(changed, invertEdit(edit))).toEqual(pattern);
      }),
    );
  });

  it("holds for those that come with the application, run on any part", () => {
    fc.assert(
      fc.property(someHits, fc.constantFrom(...CHORES), (hits, { steps }) => {
        const pattern = patternOf(hits);
        const run = runChore(pattern, steps);
        const changed = applyEdit(pattern, run.edit);
        expect(run.refusals).toEqual([]);
        expect(changed.hits.map(({ id }) => id).sort()).toEqual(pattern.hits.map(({ id }) => id).sort());
        expect(applyEdit(changed, invertEdit(run.edit)).hits).toEqual(pattern.hits);
      }),
    );
  });
});
