import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { applyEdit, invertEdit, isTreated, type Lane, type Pattern } from "../document/index.ts";
import { DEFAULT_TREATMENT, USUAL_DYNAMICS } from "../document/treatment.ts";
import { placeHits } from "../file/place-hits.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { bakeIn } from "./index.ts";

const tightened = (voiceId: string, strengthPercent = 100) => ({
  ...laneOf(voiceId),
  treatment: { timing: { ...DEFAULT_TREATMENT.timing, isOn: true, strengthPercent } },
});
/** Where hits end up, whatever a hand or a treatment has to do with it. */
const placedOf = (pattern: Pattern) => [...placeHits(pattern).values()].map(({ hit, ...placed }) => [hit.id, placed]);
const places = (pattern: Pattern) => [...placeHits(pattern)].map(([id, { tick }]) => [id, tick] as const);

describe("baking in", () => {
  const take = patternOf(
    [
      hitAt(5, { id: "a" }),
      hitAt(480, { id: "b" }),
      hitAt(970, { id: "c", pinnedTick: 990 }),
      hitAt(1925, { id: "d" }),
      hitAt(12, { id: "k", voiceId: "kick", articulationId: "main" }),
    ],
    { lengthTicks: 3840, lanes: [tightened("snare"), tightened("kick")] },
  );

  it("pins what a voice's timing has moved, and switches it off", () => {
    const baked = applyEdit(take, bakeIn(take, new Set(["snare"]), null));
    expect(places(baked)).toEqual(places(take));
    expect(baked.hits.map(({ id, pinnedTick }) => [id, pinnedTick])).toEqual([
      ["a", 0],
      ["k", null],
      ["b", null],
      ["c", 990],
      ["d", 1920],
    ]);
    expect(baked.lanes.map(({ treatment }) => treatment.timing.isOn)).toEqual([false, true]);
    expect(baked.hits[0]!.recordedTick).toBe(5);
  });

  it("in a stretch pins all that sounds there, and leaves the timing on for the rest", () => {
    const edit = bakeIn(take, new Set(["snare", "kick"]), { startTick: 0, endTick: 960 });
    const moves = [
      { hitId: "a", fromTick: null, toTick: 0 },
      { hitId: "b", fromTick: null, toTick: 480 },
      { hitId: "k", fromTick: null, toTick: 0 },
    ];
    expect(edit).toMatchObject({ kind: "together", edits: [{ kind: "moveHits", moves }, { changes: [] }] });
  });

  it("takes loudness along, mutes what the repair leaves out, and switches all steps off", () => {
    const dynamics = { ...USUAL_DYNAMICS, isOn: true, loudnessPercent: 50 };
    const [snare, kick] = take.lanes as [Lane, Lane];
    const treatment = { ...snare.treatment, repair: { leftOut: ["d"] }, dynamics };
    const shaped = { ...take, lanes: [{ ...snare, treatment }, kick] };
    const edit = bakeIn(shaped, new Set(["snare"]), null);
    const baked = applyEdit(shaped, edit);
    expect(placedOf(baked)).toEqual(placedOf(shaped));
    expect(baked.hits.filter(({ isMuted }) => isMuted).map(({ id }) => id)).toEqual(["d"]);
    expect(baked.hits.find(({ id }) => id === "a")).toMatchObject({ pinnedVelocity: 45, recordedVelocity: 90 });
    expect(isTreated(baked.lanes[0]!.treatment)).toBe(false);
    expect(placedOf(applyEdit(baked, invertEdit(edit)))).toEqual(placedOf(shaped));
  });

  it("changes no place at which a hit sounds, and is taken back whole", () => {
    const hits = fc.array(fc.integer({ min: 0, max: 3839 }), { maxLength: 30 });
    const range = fc.option(fc.tuple(fc.nat(3840), fc.nat(3840)));
    fc.assert(
      fc.property(hits, fc.integer({ min: 0, max: 100 }), range, (ticks, strength, ends) => {
        const pattern = patternOf(
          ticks.toSorted((a, b) => a - b).map((tick, index) => hitAt(tick, { id: `${index}` })),
          { lengthTicks: 3840, lanes: [tightened("snare", strength)] },
        );
        const edit = bakeIn(pattern, new Set(["snare"]), ends && { startTick: ends[0], endTick: ends[1] });
        const baked = applyEdit(pattern, edit);
        if (!ends) expect(places(baked)).toEqual(places(pattern));
        else
          for (const hit of baked.hits)
            if (hit.pinnedTick !== null) expect(hit.pinnedTick).toBe(placeHits(pattern).get(hit.id)!.tick);
        expect(applyEdit(baked, invertEdit(edit))).toEqual(pattern);
      }),
    );
  });
});
