import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bringIn } from "./archive/bring-in.ts";
import { makeArchive } from "./archive/make-archive.ts";
import { readArchive } from "./archive/read-archive.ts";
import { addPatternFile, listPatternFiles, setPatternFileRemoved } from "./pattern-files.ts";
import { type Db, openDatabase, sha256 } from "./storage/database.ts";
import { NO_HANDLE } from "./task-queue.ts";

const freshDb = () => openDatabase(mkdtempSync(join(tmpdir(), "marten-files-")));

/** All files, read as the page reads them. */
function allFiles(db: Db) {
  const found: { readonly id: string; readonly path: string; readonly base64: string }[] = [];
  for (;;) {
    const { files, isLast } = listPatternFiles(db, found.at(-1)?.id ?? "");
    found.push(...files);
    if (isLast) return found;
  }
}

describe("files of patterns", () => {
  it("are there once each, by their bytes, until they are taken off", () => {
    const doings = fc.array(
      fc.record({ does: fc.constantFrom("add", "remove", "back"), which: fc.integer({ min: 0, max: 4 }) }),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(doings, (all) => {
        const db = freshDb();
        const bytesOf = (which: number) => new Uint8Array(4 + which).fill(which + 1);
        const there = new Map<number, boolean>();
        for (const { does, which } of all) {
          const id = sha256(bytesOf(which));
          if (does === "add") {
            const isNew = there.get(which) !== true;
            expect(addPatternFile(db, `Loops/${which}.mid`, bytesOf(which)).isNew).toBe(isNew);
            there.set(which, true);
          } else if (there.has(which)) {
            setPatternFileRemoved(db, id, does === "remove");
            there.set(which, does === "back");
          } else expect(() => setPatternFileRemoved(db, id, true)).toThrow("not on the shelf");
        }
        const left = [...there].flatMap(([which, isThere]) => (isThere ? [sha256(bytesOf(which))] : []));
        expect(allFiles(db).map(({ id }) => id)).toEqual(left.toSorted());
        db.close();
      }),
      { numRuns: 25 },
    );
  });

  it("go over to another machine in an archive, once each", async () => {
    const [here, there] = [freshDb(), freshDb()];
    addPatternFile(here, "Loops/one.mid", Uint8Array.of(1, 2, 3));
    addPatternFile(here, "Loops/two.mid", new Uint8Array(300_000).fill(7));
    addPatternFile(there, "other/one.mid", Uint8Array.of(1, 2, 3));
    const answer = await makeArchive(here, { projectIds: [], sorts: ["patternFiles"], kits: [] }, "Shelf", NO_HANDLE);
    const archive = readArchive(new Uint8Array(await answer.arrayBuffer()));
    expect((await bringIn(there, archive)).kept).toBe(1);
    expect(
      allFiles(there)
        .map(({ path }) => path)
        .toSorted(),
    ).toEqual(["Loops/two.mid", "other/one.mid"]);
    expect(allFiles(there)).toEqual(
      allFiles(here).map((file) => (file.path === "Loops/one.mid" ? { ...file, path: "other/one.mid" } : file)),
    );
    expect((await bringIn(there, archive)).kept).toBe(0);
  });

  it("are answered some at a time, with every byte, and a large one by itself", () => {
    const db = freshDb();
    const sizes = [900_000, 800_000, 1_000_000, 10, 700_000, 999_999];
    const files = sizes.map((size, index) => new Uint8Array(size).fill(index + 1));
    for (const [index, bytes] of files.entries()) addPatternFile(db, `${index}.mid`, bytes);
    expect(listPatternFiles(db, "").isLast).toBe(false);
    const read = new Map(allFiles(db).map(({ id, base64 }) => [id, Buffer.from(base64, "base64")]));
    expect(read.size).toBe(files.length);
    for (const bytes of files) expect(Buffer.compare(read.get(sha256(bytes))!, bytes)).toBe(0);
    expect(() => addPatternFile(db, "empty.mid", new Uint8Array())).toThrow("The file is empty.");
    addPatternFile(db, "two\nlines\u202e.mid", Uint8Array.of(1));
    expect(allFiles(db).find(({ id }) => id === sha256(Uint8Array.of(1)))?.path).toBe("two lines .mid");
    db.close();
  });
});
