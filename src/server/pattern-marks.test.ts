import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { isPatternMark } from "../api/schemas.ts";
import { isBlankMark, NO_VARIATION, type PatternMark } from "../core/pattern/index.ts";
import { bringIn } from "./archive/bring-in.ts";
import { makeArchive } from "./archive/make-archive.ts";
import { readArchive } from "./archive/read-archive.ts";
import { listMarks, setMark } from "./pattern-marks.ts";
import { openDatabase } from "./storage/database.ts";
import { NO_HANDLE } from "./task-queue.ts";

const freshDb = () => openDatabase(mkdtempSync(join(tmpdir(), "marten-marks-")));
const marks: fc.Arbitrary<PatternMark> = fc.record(
  {
    played: fc.constantFrom("4 kick/hit 0", "4 kick/hit 0,snare/centre 24", "3 hats/closed 12"),
    name: fc.constantFrom("", "Slow tide", "A “quoted” name; DROP"),
    tags: fc.uniqueArray(fc.constantFrom("verse", "dry", "½ time"), { maxLength: 3 }),
    isFavourite: fc.boolean(),
    variation: fc.record({
      strokes: fc.constantFrom({}, { kick: -2, hats: 3 }),
      velocity: fc.constantFrom({}, { snare: 8 }),
      seed: fc.integer({ min: 1, max: 9 }),
      kept: fc.constantFrom({}, { "hats 0 6": 2 }),
      thrown: fc.constantFrom<string[][]>([], ["snare 1 9"]),
    }),
  },
  { requiredKeys: ["played", "name", "tags", "isFavourite"] },
);

describe("what is said of patterns", () => {
  it("is what was said last, of each by what it plays, and is gone when nothing is said any more", () => {
    fc.assert(
      fc.property(fc.array(marks, { maxLength: 12 }), (said) => {
        const db = freshDb();
        for (const mark of said) {
          expect(isPatternMark(mark)).toBe(true);
          setMark(db, mark);
        }
        const last = new Map(said.map((mark) => [mark.played, mark]));
        const left = [...last.values()].filter((mark) => !isBlankMark(mark));
        const byPlayed = (list: readonly PatternMark[]) =>
          list.toSorted((a, b) => a.played.localeCompare(b.played, "en"));
        expect(byPlayed(listMarks(db))).toEqual(byPlayed(left));
        db.close();
      }),
      { numRuns: 25 },
    );
  });

  it("goes over to another machine in an archive, where what is said already stays", async () => {
    const [here, there] = [freshDb(), freshDb()];
    const ours = { played: "4 a", name: "Ours", tags: ["dry"], isFavourite: true };
    setMark(here, ours);
    setMark(here, { played: "4 b", name: "Theirs?", tags: [], isFavourite: false });
    const kept = { played: "4 b", name: "Kept", tags: [], isFavourite: true };
    setMark(there, kept);
    const answer = await makeArchive(here, { projectIds: [], sorts: ["marks"], kits: [] }, "Shelf", NO_HANDLE);
    const archive = readArchive(new Uint8Array(await answer.arrayBuffer()));
    expect((await bringIn(there, archive)).kept).toBe(1);
    expect(listMarks(there).toSorted((a, b) => a.played.localeCompare(b.played, "en"))).toEqual([ours, kept]);
  });

  it("is refused where it is of no pattern, has a name of two lines, or a field that means nothing", () => {
    const mark = { played: "4 a", name: "A", tags: [], isFavourite: true };
    for (const wrong of [
      { played: "" },
      { name: "A\nB" },
      { tags: [""] },
      { isFavourite: 1 },
      { colour: "red" },
      { variation: { seed: 1 } },
      { variation: { ...NO_VARIATION, strokes: { kazoo: 1 } } },
    ])
      expect(isPatternMark({ ...mark, ...wrong })).toBe(false);
  });
});
