import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { gunzipSync, strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import { beforeAll, describe, expect, it } from "vitest";
import { LEFT_OUT_HEADER } from "../../api/wire.ts";
import { historyOfLog } from "../../core/document/index.ts";
import { CHORE_SORT } from "../chores.ts";
import { GROOVE_SORT } from "../grooves.ts";
import { type KeptSort, listKept } from "../kept.ts";
import { listMaps } from "../note-maps.ts";
import { readLog } from "../patterns.ts";
import { listProjects, readTakeBytes } from "../projects.ts";
import { RECIPE_SORT } from "../recipes.ts";
import { type Db, openDatabase, sha256 } from "../storage/database.ts";
import { openProject } from "../use-cases.ts";
import { listVersions } from "../versions.ts";
import { bringIn } from "./bring-in.ts";
import { makeArchive } from "./make-archive.ts";
import { ArchiveError, readArchive } from "./read-archive.ts";
import { writeArchive } from "./write-archive.ts";

const KIT = { name: "Pit kit", borders: [40, 80], ofVoices: {} };
const ALL = { projectIds: null, sorts: ["recipes", "chores", "grooves", "maps", "kits"], kits: [KIT] } as const;

const emptyDb = () => openDatabase(mkdtempSync(join(tmpdir(), "marten-other-")));
let db: Db;
let bytes: Uint8Array;
let files: Record<string, Uint8Array>;

/** A shelf with edits of every kind, undo, versions, a song and everything that can be kept. */
beforeAll(async () => {
  const folder = mkdtempSync(join(tmpdir(), "marten-archive-"));
  const landed = readFileSync("tests/fixtures/first-landed/marten.sqlite.gz");
  writeFileSync(join(folder, "marten.sqlite"), gunzipSync(landed));
  db = openDatabase(folder);
  const path = join(folder, "out.zip");
  await writeArchive(db, ALL, path, () => {});
  bytes = new Uint8Array(readFileSync(path));
  files = unzipSync(bytes);
});

const own = <Content extends object>(at: Db, sort: KeptSort<Content>) =>
  listKept(at, sort).flatMap(({ isBuiltIn, id: _, ...one }) => (isBuiltIn ? [] : [one]));
/** The archive with another file in it, as if it had been made so. */
const withFile = (name: string, content: string) => {
  const file = strToU8(content);
  if (name === "archive.json") return zipSync({ ...files, [name]: file });
  const head = JSON.parse(strFromU8(files["archive.json"]!));
  const sums = { ...head, sha256: { ...head.sha256, [name]: sha256(file) } };
  return zipSync({ ...files, "archive.json": strToU8(JSON.stringify(sums)), [name]: file });
};
const problemOf = (archive: Uint8Array) => {
  try {
    readArchive(archive);
    return null;
  } catch (error) {
    if (!(error instanceof ArchiveError)) throw error;
    return error.problem;
  }
};

describe("an archive", () => {
  it("brings everything to another machine: takes, edits, undo, versions, songs, and what is on the shelf", async () => {
    const other = emptyDb();
    const came = await bringIn(other, readArchive(bytes));
    expect(came).toMatchObject({ twins: 0, kept: 4, kits: [KIT] });
    expect(came.projects).toHaveLength(listProjects(db).length);
    for (const { id } of listProjects(db)) {
      expect(openProject(other, id)).toEqual(openProject(db, id));
      expect(readTakeBytes(other, id)).toEqual(readTakeBytes(db, id));
      expect(readLog(other, id, 0)).toEqual(readLog(db, id, 0));
      expect(historyOfLog(readLog(other, id, 0)).done.length).toBe(historyOfLog(readLog(db, id, 0)).done.length);
      const versions = (at: Db) => listVersions(at, id).map(({ id: _, ...version }) => version);
      expect(versions(other)).toEqual(versions(db));
    }
    expect(own(other, RECIPE_SORT)).toEqual(own(db, RECIPE_SORT));
    expect(own(other, CHORE_SORT)).toEqual(own(db, CHORE_SORT));
    expect(own(other, GROOVE_SORT)).toEqual(own(db, GROOVE_SORT));
    expect(listMaps(other).map(({ map }) => map.name)).toEqual(listMaps(db).map(({ map }) => map.name));
  });

  it("brings nothing twice and overwrites nothing: twins are known, and what differs comes in beside", async () => {
    const other = emptyDb();
    const first = await bringIn(other, readArchive(bytes));
    expect(await bringIn(other, readArchive(bytes))).toMatchObject({
      projects: [],
      twins: first.projects.length,
      kept: 0,
    });
    const [one] = first.projects;
    other.prepare("UPDATE edits SET entry_id = entry_id || ' otherwise'").run();
    other.prepare("UPDATE takes SET sha256 = 'other' WHERE project_id = ?").run(one!.id);
    const again = await bringIn(other, readArchive(bytes));
    expect(again.projects.length).toBeGreaterThan(1);
    expect(again.projects.every(({ name }) => name.endsWith(", brought in"))).toBe(true);
    expect(listProjects(other)).toHaveLength(first.projects.length + again.projects.length);
  });

  it("of many projects is written to its end, whichever thread is done first", async () => {
    const ids = listProjects(db).map(({ id }) => id);
    const projectIds = Array.from({ length: 4 }, () => ids).flat();
    const path = join(mkdtempSync(join(tmpdir(), "marten-archive-")), "out.zip");
    const { projects } = await writeArchive(db, { ...ALL, projectIds }, path, () => {});
    expect(projects.length).toBe(projectIds.length);
    expect(Object.keys(unzipSync(readFileSync(path))).length).toBeGreaterThan(2 * projectIds.length);
  });

  it("of one project holds it alone", async () => {
    const path = join(mkdtempSync(join(tmpdir(), "marten-one-")), "one.zip");
    const { id, name } = listProjects(db)[0]!;
    await writeArchive(db, { projectIds: [id], sorts: [], kits: [] }, path, () => {});
    expect(Object.keys(unzipSync(new Uint8Array(readFileSync(path)))).sort()).toEqual([
      "archive.json",
      `projects/0001 ${name}/project.json`,
      `projects/0001 ${name}/take.mid`,
    ]);
  });

  it("of a project that is damaged is refused; of the whole shelf it says how many it lacks, and holds the others", async () => {
    const folder = mkdtempSync(join(tmpdir(), "marten-damaged-"));
    writeFileSync(
      join(folder, "marten.sqlite"),
      gunzipSync(readFileSync("tests/fixtures/first-landed/marten.sqlite.gz")),
    );
    const harmed = openDatabase(folder);
    const [one, two, ...others] = listProjects(harmed);
    harmed.prepare("UPDATE takes SET bytes = zeroblob(length(bytes)) WHERE project_id = ?").run(one!.id);
    harmed.prepare("UPDATE patterns SET recorded_hits = substr(recorded_hits, 2) WHERE project_id = ?").run(two!.id);
    const make = (projectIds: readonly string[] | null, signal?: AbortSignal) =>
      makeArchive(harmed, { projectIds, sorts: [], kits: [] }, "Some", { ticket: null, signal });
    await expect(make([one!.id])).rejects.toThrow("damaged on the disk");
    await expect(make([two!.id])).rejects.toThrow("damaged on the disk");
    const answer = await make(null);
    expect(answer.headers.get(LEFT_OUT_HEADER)).toBe("2");
    expect(readArchive(new Uint8Array(await answer.arrayBuffer())).projects).toHaveLength(others.length);
    const leaving = new AbortController();
    const given = make(null, leaving.signal);
    leaving.abort();
    await expect(given).rejects.toMatchObject({ problem: { code: "task.givenUp" } });
  });

  it("that is none, is newer, lacks a file or is not in the form is refused in words, and nothing comes in", () => {
    const project = Object.keys(files).find((name) => name.endsWith("project.json"))!;
    const head = JSON.parse(strFromU8(files["archive.json"]!));
    const { [project]: _, ...without } = files;
    for (const [archive, words] of [
      [strToU8("no zip at all"), /cannot be unpacked/],
      [zipSync({ "notes.txt": strToU8("x") }), /no archive of Idle Marten/],
      [
        withFile("archive.json", JSON.stringify({ ...head, version: 9, madeBy: "7.0.0" })),
        /newer version \(7.0.0, form 9\)/,
      ],
      [withFile("archive.json", "{oh"), /no JSON/],
      [zipSync(without), /lacks a file/],
      [zipSync({ ...files, [project]: strToU8("{}") }), /harmed on its way/],
      [withFile(project, JSON.stringify({ ...JSON.parse(strFromU8(files[project]!)), more: 1 })), /not in the form/],
      [withFile("shelf/recipes.json", '[{"name":"x"}]'), /not in the form/],
    ] as const) {
      expect(problemOf(archive)?.message).toMatch(words);
    }
  });

  it("whose edits do not lead back from what a project is, is refused: its undo would not work", () => {
    const [name, text] = Object.entries(files).find(
      ([path, content]) => path.endsWith("project.json") && JSON.parse(strFromU8(content)).edits.length > 5,
    )!;
    const project = JSON.parse(strFromU8(text));
    const changed = project.changedHits.map((one: { hit: object | null }, index: number) =>
      index === 0 ? { ...one, hit: null } : one,
    );
    expect(problemOf(withFile(name, JSON.stringify({ ...project, changedHits: changed })))?.message).toMatch(
      /does not fit what it has become/,
    );
    const fewer = { ...project, edits: project.edits.slice(1) };
    expect(problemOf(withFile(name, JSON.stringify(fewer)))?.message).toMatch(/lacks some of its edits/);
  });

  it("with any bytes harmed is read as it was or refused, and never half", () => {
    const whole = readArchive(bytes);
    fc.assert(
      fc.property(fc.nat({ max: bytes.length - 1 }), fc.integer({ min: 1, max: 255 }), (at, by) => {
        const harmed = bytes.slice();
        harmed[at] = harmed[at]! ^ by;
        try {
          expect(readArchive(harmed)).toEqual(whole);
        } catch (error) {
          if (!(error instanceof ArchiveError)) throw error;
        }
      }),
      { numRuns: 40 },
    );
  });

  it("is not unpacked if it says that it is larger than it may be", () => {
    const bomb = zipSync({ "archive.json": new Uint8Array(1024) }, { level: 9 });
    // What the directory says of the size when unpacked.
    const view = new DataView(bomb.buffer, bomb.byteOffset);
    for (let at = 0; at < bomb.length - 4; at++) {
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 0x7fffffff, true);
    }
    expect(problemOf(bomb)?.message).toMatch(/larger than 1 GiB/);
  });
});
