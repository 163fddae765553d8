import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { writeGrooveFile } from "../api/groove-file.ts";
import { isKitFile, isNewGroove } from "../api/schemas.ts";
import { GROOVES, grooveToMidi } from "../core/groove/index.ts";
import { writeKitFile } from "../store/playback/kit-choice.ts";
import { GROOVE_SORT, keepGrooveFile } from "./grooves.ts";
import { changeKept, keep, listKept, setKeptRemoved } from "./kept.ts";
import { type Db, openDatabase } from "./storage/database.ts";

let folder: string;
let db: Db;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "marten-grooves-"));
  db = openDatabase(folder);
});
afterEach(() => {
  db.close();
  rmSync(folder, { recursive: true });
});

const bytesOf = (text: string) => new TextEncoder().encode(text);
const own = () => listKept(db, GROOVE_SORT).filter(({ isBuiltIn }) => !isBuiltIn);

describe("grooves on the shelf", () => {
  it("come back from a file as they were", async () => {
    const groove = GROOVES[3]!;
    const { groove: kept, notices } = await keepGrooveFile(db, "Any name.json", bytesOf(writeGrooveFile(groove)));
    expect(notices).toEqual([]);
    expect(kept).toMatchObject({ name: groove.name, layers: groove.layers, isBuiltIn: false });
    expect(own()).toEqual([kept]);
    for (const { id: _, ...one } of GROOVES) expect(isNewGroove(one)).toBe(true);
  });

  it("can be given tags and another name, unless they came along or are off the shelf", () => {
    const { lengthQuarters, grid, layers } = GROOVES[2]!;
    const { id } = keep(db, GROOVE_SORT, { name: "Mine", lengthQuarters, grid, layers });
    const tagged = { name: "Mine, tagged", lengthQuarters, grid, layers, tags: ["verse", "slow"] };
    expect(isNewGroove(tagged)).toBe(true);
    changeKept(db, GROOVE_SORT, id, tagged);
    expect(own()).toEqual([{ id, ...tagged, isBuiltIn: false }]);
    expect(() => changeKept(db, GROOVE_SORT, GROOVES[0]!.id, tagged)).toThrow("not among those that were kept");
    setKeptRemoved(db, GROOVE_SORT, id, true);
    expect(() => changeKept(db, GROOVE_SORT, id, tagged)).toThrow("not among those that were kept");
    expect(isNewGroove({ ...tagged, tags: ["x".repeat(31)] })).toBe(false);
  });

  it("are taken from a recording under the name of its file", async () => {
    const { groove } = await keepGrooveFile(db, "River.mid", grooveToMidi(GROOVES[1]!, 96));
    expect([groove.name, groove.layers.length]).toEqual(["River", 1]);
    const orchard = await keepGrooveFile(db, "Orchard.mid", new Uint8Array(readFileSync("demo/tin-orchard.mid")));
    expect(orchard.groove.grid).toEqual({ family: "triplet", denominator: 8 });
    expect(orchard.groove.layers.length).toBeGreaterThan(3);
  });

  it("are refused in words where there is none, and nothing is kept", async () => {
    const empty = grooveToMidi({ ...GROOVES[0]!, layers: [] }, 96);
    await expect(keepGrooveFile(db, "Rest.mid", empty)).rejects.toThrow(/There are no drum hits in this file/);
    for (const text of [
      "dear drummer",
      "{}",
      JSON.stringify({ format: "idle-marten-groove", version: 1, groove: {} }),
    ]) {
      await expect(keepGrooveFile(db, "Letter.json", bytesOf(text))).rejects.toThrow(/There is no groove in this file/);
    }
    expect(own()).toEqual([]);
  });
});

describe("a kit's file", () => {
  it("is read as it is written, and refused if it is another one", () => {
    const kit = { name: "Deck kit", borders: [45, 76], ofVoices: { snare: [30, 90] } };
    expect(isKitFile(JSON.parse(writeKitFile(kit)))).toBe(true);
    expect(isKitFile(JSON.parse(writeKitFile({ ...kit, borders: [0] })))).toBe(false);
    expect(isKitFile({ kit })).toBe(false);
  });
});
