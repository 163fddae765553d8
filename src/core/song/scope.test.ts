import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { changeTreatments, moveHitsBy, nameNote } from "../commands/index.ts";
import { applyEdit, type Edit, invertEdit, type Pattern } from "../document/index.ts";
import { type Treatment, USUAL_DYNAMICS } from "../document/treatment.ts";
import { GROOVES } from "../groove/index.ts";
import { hitAt, laneOf, patternOf } from "../testing/patterns.ts";
import { buildTimeMaps } from "../time/index.ts";
import { treat } from "../treat.ts";
import {
  barsOf,
  cutInto,
  cutsEvery,
  NO_ARRANGEMENT,
  rowsInScope,
  scopedEdit,
  scopedTake,
  scopeOf,
  spliced,
} from "./index.ts";

const BAR = 1920;
let ids = 0;
const cut = cutInto(NO_ARRANGEMENT, cutsEvery(4, 2), () => `id ${++ids}`);
const [first, second] = cut.patterns.map(({ id }) => id);
const take = patternOf(
  [
    hitAt(5),
    hitAt(500),
    hitAt(BAR + 9, { voiceId: "kick" }),
    hitAt(2 * BAR - 7, { voiceId: "kick" }),
    hitAt(3 * BAR + 30),
  ],
  { lengthTicks: 4 * BAR, lanes: [laneOf("snare"), laneOf("kick")], arrangement: cut },
);
const through = (pattern: Pattern, id = first!) => scopedTake(pattern, scopeOf(pattern, id));
const treatmentsOf = ({ lanes }: Pattern) => lanes.map(({ treatment }) => treatment);

/** What a person may change of a voice while a pattern is looked through. */
const change = fc.constantFrom<(treatment: Treatment, amount: number) => Treatment>(
  (one, amount) => ({ ...one, timing: { ...one.timing, isOn: true, strengthPercent: amount } }),
  (one, amount) => ({ ...one, timing: { ...one.timing, isOn: true, pushMs: amount / 4 } }),
  (one, amount) => ({ ...one, dynamics: { ...USUAL_DYNAMICS, isOn: true, loudnessPercent: amount } }),
  (one, amount) => ({
    ...one,
    feel: { isOn: true, groove: GROOVES[amount % 3]!, timingPercent: amount, accentPercent: 40 },
  }),
  ({ feel: _, ...one }) => one,
);
const changes = fc.array(fc.tuple(change, fc.integer({ min: 1, max: 100 }), fc.boolean()), { maxLength: 8 });

describe("looking at a take through one of its patterns", () => {
  it("shows what was set, and sets it there alone; undone, all is as before", () => {
    fc.assert(
      fc.property(changes, (wanted) => {
        let pattern: Pattern = take;
        const edits: Edit[] = [];
        for (const [make, amount, isBoth] of wanted) {
          const voiceIds = new Set(isBoth ? ["snare", "kick"] : ["snare"]);
          const seen = through(pattern);
          const asked = changeTreatments(seen, voiceIds, (treatment) => make(treatment, amount));
          const edit = JSON.parse(JSON.stringify(scopedEdit(pattern, scopeOf(pattern, first!), asked)));
          pattern = applyEdit(pattern, edit);
          edits.push(edit);
          // A groove is kept in the song under an id of its own if that id is taken; what it is stays the same.
          const plain = (treatments: readonly Treatment[]) =>
            treatments.map(({ feel, ...one }) => ({ ...one, feel: feel && { ...feel, groove: feel.groove.layers } }));
          expect(plain(treatmentsOf(through(pattern)))).toEqual(plain(treatmentsOf(applyEdit(seen, asked))));
        }
        expect(treatmentsOf(pattern)).toEqual(treatmentsOf(take));
        expect(treatmentsOf(through(pattern, second))).toEqual(treatmentsOf(take));
        for (const edit of edits.toReversed()) pattern = applyEdit(pattern, invertEdit(edit));
        expect(pattern).toEqual(take);
      }),
      { numRuns: 60 },
    );
  });

  it("does to the take what patterns share: hits, names, roles and repair", () => {
    const scope = scopeOf(take, first!);
    const pull = changeTreatments(take, new Set(["snare"]), (one) => ({
      ...one,
      timing: { ...one.timing, isOn: true, strengthPercent: 33 },
    }));
    const own = applyEdit(take, scopedEdit(take, scope, pull));
    const seen = through(own);
    const hits = [{ hit: own.hits[0]!, tick: 5 }];
    const both: Edit = {
      kind: "together",
      edits: [
        moveHitsBy(seen, hits, 10),
        changeTreatments(seen, new Set(["snare"]), (one) => ({
          ...one,
          roles: { ghostTop: 30, accentBottom: 110 },
          repair: { leftOut: ["0:5"] },
        })),
      ],
    };
    const next = applyEdit(own, scopedEdit(own, scopeOf(own, first!), both));
    expect(next.hits[0]!.pinnedTick).toBe(15);
    expect(next.lanes[0]!.treatment).toMatchObject({ roles: { ghostTop: 30 }, repair: { leftOut: ["0:5"] } });
    // Another name for a note carries lanes along: those of the take, and not what the pattern has of its own.
    const named = scopedEdit(own, scopeOf(own, first!), nameNote(seen, 38, { voiceId: "ride", articulationId: "bow" }));
    const renamed = applyEdit(own, named);
    expect(renamed.lanes.every(({ treatment }) => treatment.timing.strengthPercent !== 33)).toBe(true);
    expect(scopeOf(take, "none")).toBeUndefined();
    expect(scopedTake(take, undefined)).toBe(take);
  });

  it("shows its bars as they are there, and the others as they are in the take", () => {
    const scope = scopeOf(take, first!)!;
    const maps = buildTimeMaps(take);
    const hits = take.hits.filter(({ voiceId }) => voiceId === "snare");
    const tight = { ...take.lanes[0]!.treatment };
    const cleaned = (strengthPercent: number) =>
      treat(hits, { ...tight, timing: { ...tight.timing, isOn: true, strengthPercent } }, maps, take.lengthTicks);
    const isIn = rowsInScope(scope, cleaned(0).slotTicks, barsOf(take, maps));
    expect([...isIn]).toEqual([1, 1, 0]);
    expect([...spliced(cleaned(100), cleaned(0), isIn).ticks]).toEqual([0, 480, 3 * BAR + 30]);
  });
});
