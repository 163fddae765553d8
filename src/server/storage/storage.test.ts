import { execFileSync } from "node:child_process";
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { changeVelocityBy } from "../../core/commands/index.ts";
import { runImport } from "../midi-task.ts";
import { listProjects, readShelf, readTakeBytes } from "../projects.ts";
import { openProject, saveEdits, storeImport } from "../use-cases.ts";
import { backUp, backUpOfTheDay, damagesOf, findBackup, listBackups, restore } from "./backups.ts";
import { backupsFolder, databasePath, OpenFiles } from "./data-folder.ts";
import { checkpoint, closeDatabase, type Db, openDatabase } from "./database.ts";
import { StorageFault, storageFaultOf } from "./storage-fault.ts";

const bytes = new Uint8Array(readFileSync("demo/slack-water.mid"));
const opened: Db[] = [];
let folder: string;

const open = (at = folder): Db => {
  const db = openDatabase(at);
  opened.push(db);
  return db;
};
const add = (db: Db, name: string) =>
  storeImport(db, { fileName: `${name}.mid`, book: "" }, bytes, runImport(bytes)).id;
const louder = (db: Db, id: string, turn: number) => {
  const { pattern, revision } = openProject(db, id);
  const edit = changeVelocityBy([pattern.hits[turn % pattern.hits.length]!], turn % 2 === 0 ? 1 : -1);
  return saveEdits(db, id, {
    baseRevision: revision,
    entries: [{ id: `${turn}`, kind: "do", label: "Louder: velocity up", edit }],
  });
};
const faultOf = (make: () => unknown): StorageFault | null => {
  try {
    make();
    return null;
  } catch (error) {
    const fault = error instanceof StorageFault ? error : storageFaultOf(error);
    if (!fault) throw error;
    return fault;
  }
};
const codeOf = (make: () => unknown) => faultOf(make)?.problem.code ?? "no fault";
const names = (db: Db) => listProjects(db).map(({ name }) => name);

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), "marten-storage-"));
});
afterEach(() => {
  for (const db of opened.splice(0)) db.close();
});

describe("the data folder", () => {
  it("can be read by its owner alone, whatever it was before", () => {
    const inside = join(folder, "new", "one");
    mkdirSync(inside, { recursive: true, mode: 0o755 });
    const db = open(inside);
    add(db, "One");
    expect(statSync(inside).mode & 0o777).toBe(0o700);
    for (const name of readdirSync(inside))
      expect([name, statSync(join(inside, name)).mode & 0o077]).toEqual([name, 0]);
  });

  it("is refused when a newer version has written it, which is named, and stays as it was", () => {
    const db = open();
    add(db, "One");
    db.prepare("UPDATE facts SET value = '9.4.0' WHERE name = 'writtenBy'").run();
    db.pragma("user_version = 999");
    closeDatabase(db);
    const before = readFileSync(databasePath(folder));
    expect(faultOf(() => open())?.problem).toMatchObject({
      code: "storage.newer",
      message: expect.stringContaining("version 9.4.0 of Idle Marten (data format 999)"),
    });
    expect(readFileSync(databasePath(folder))).toEqual(before);
  });

  it.each([
    ["missing", () => rmSync(databasePath(folder)), "storage.lost"],
    ["empty", () => writeFileSync(databasePath(folder), ""), "storage.lost"],
    ["garbage", () => writeFileSync(databasePath(folder), "x".repeat(8192)), "storage.damaged"],
  ])("is never taken for a first start when the file is %s and there was work", async (_, harm, code) => {
    const db = open();
    add(db, "One");
    await backUp(db, folder, "day");
    closeDatabase(db);
    harm();
    expect(codeOf(() => open())).toBe(code);
    const [backup] = listBackups(folder);
    restore(folder, findBackup(folder, backup!.name));
    expect(names(open())).toEqual(["One"]);
  });

  it("is taken for a first start when there is nothing", () => {
    expect(names(open())).toEqual([]);
  });

  it("knows when a file that is open was deleted, moved or replaced", () => {
    const db = open();
    add(db, "One");
    const path = databasePath(folder);
    const files = new OpenFiles(path);
    expect(files.areInPlace()).toBe(true);
    renameSync(`${path}-wal`, `${path}-elsewhere`);
    expect(files.areInPlace()).toBe(false);
    renameSync(`${path}-elsewhere`, `${path}-wal`);
    expect(files.areInPlace()).toBe(true);
    copyFileSync(path, `${path}-copy`);
    renameSync(`${path}-copy`, path);
    expect(files.areInPlace()).toBe(false);
  });
});

describe("the journal", () => {
  it("is written back on closing: the one file holds everything", () => {
    const db = open();
    const id = add(db, "One");
    for (let turn = 0; turn < 25; turn++) louder(db, id, turn);
    closeDatabase(db);
    const alone = mkdtempSync(join(tmpdir(), "marten-alone-"));
    copyFileSync(databasePath(folder), databasePath(alone));
    expect(openProject(open(alone), id).revision).toBe(25);
  });

  it("is cut to nothing when it is written back while open", () => {
    const db = open();
    const id = add(db, "One");
    for (let turn = 0; turn < 40; turn++) louder(db, id, turn);
    expect(statSync(`${databasePath(folder)}-wal`).size).toBeGreaterThan(0);
    checkpoint(db);
    expect(statSync(`${databasePath(folder)}-wal`).size).toBe(0);
  });
});

describe("backups", () => {
  it("are whole copies of one file, made while others write, one a day", async () => {
    const db = open();
    const id = add(db, "One");
    const made = backUpOfTheDay(db, folder, new Date());
    for (let turn = 0; turn < 10; turn++) louder(db, id, turn);
    const path = (await made)!;
    expect(await backUpOfTheDay(db, folder, new Date())).toBeNull();
    expect(readdirSync(backupsFolder(folder))).toEqual([expect.stringMatching(/^day-.*\.sqlite$/)]);
    expect(statSync(path).mode & 0o077).toBe(0);
    const copy = new Database(path, { readonly: true });
    expect(damagesOf(copy)).toEqual([]);
    expect(copy.prepare("SELECT COUNT(*) AS count FROM projects").get()).toEqual({ count: 1 });
    copy.close();
  });

  it("are kept in a number that is told, those made by hand all", async () => {
    const db = open();
    for (let turn = 0; turn < 12; turn++) await backUp(db, folder, "day");
    for (let turn = 0; turn < 12; turn++) await backUp(db, folder, "by-hand");
    const count = (reason: string) => listBackups(folder).filter((one) => one.reason === reason).length;
    expect([count("day"), count("by-hand")]).toEqual([10, 12]);
  });

  it("take the place of the data, and what was there is kept", async () => {
    const db = open();
    add(db, "Before");
    const path = await backUp(db, folder, "by-hand");
    add(db, "After");
    closeDatabase(db);
    restore(folder, path);
    const restored = open();
    expect(names(restored)).toEqual(["Before"]);
    closeDatabase(restored);
    const kept = listBackups(folder).find(({ reason }) => reason === "before-restore")!;
    restore(folder, findBackup(folder, kept.name));
    expect(names(open())).toEqual(["After", "Before"]);
  });

  it("that are damaged or no database of ours are refused, and nothing is changed", async () => {
    const db = open();
    add(db, "One");
    const path = await backUp(db, folder, "by-hand");
    closeDatabase(db);
    const before = readFileSync(databasePath(folder));
    const damaged = readFileSync(path).fill(0, 4096, 12_288);
    const other = join(folder, "other.sqlite");
    new Database(other).exec("CREATE TABLE notes (text TEXT)").close();
    for (const [file, content] of [
      ["damaged.sqlite", damaged],
      ["empty.sqlite", Buffer.alloc(0)],
      ["other.sqlite", readFileSync(other)],
    ] as const) {
      const at = join(folder, file);
      writeFileSync(at, content);
      expect([file, codeOf(() => restore(folder, at))]).toEqual([file, "storage.damaged"]);
    }
    expect(readFileSync(databasePath(folder))).toEqual(before);
    expect(codeOf(() => findBackup(folder, "../marten.sqlite"))).toBe("backup.missing");
  });
});

describe("damage", () => {
  it("to any one page leaves most of the shelf: what is whole opens, the rest is named or said", () => {
    const db = open();
    const ids = Array.from({ length: 12 }, (_, index) => add(db, `Take ${index + 1}`));
    closeDatabase(db);
    const whole = readFileSync(databasePath(folder));
    const pageSize = whole.readUInt16BE(16);
    const pageCount = whole.length / pageSize;
    const lost: number[] = [];
    for (let page = 2; page <= pageCount; page++) {
      const harmed = Buffer.from(whole).fill(0, (page - 1) * pageSize, page * pageSize);
      const at = mkdtempSync(join(tmpdir(), "marten-harmed-"));
      writeFileSync(databasePath(at), harmed);
      const one = new Database(databasePath(at));
      // A take that comes back is the one that was written.
      const read = (id: string) => {
        openProject(one, id);
        expect(readTakeBytes(one, id)).toEqual(bytes);
      };
      const opens = ids.filter((id) => codeOf(() => read(id)) === "no fault");
      const fault = faultOf(() => readShelf(one));
      // Either the shelf is read, or it is said that the database is damaged.
      expect([null, "storage.damaged"]).toContain(fault?.problem.code ?? null);
      lost.push(ids.length - opens.length);
      one.close();
      rmSync(at, { recursive: true });
    }
    const spared = lost.filter((count) => count <= 1).length;
    expect(spared / lost.length).toBeGreaterThan(0.9);
    // Pages of takes and hits, one project each.
    expect(lost.filter((count) => count === 1).length).toBeGreaterThan(20);
  });

  it("to one project is named, and the others are on the shelf", () => {
    const db = open();
    const ids = ["One", "Two"].map((name) => add(db, name));
    db.prepare("UPDATE patterns SET summary = 'no JSON' WHERE project_id = ?").run(ids[0]);
    expect(readShelf(db)).toMatchObject({ cards: [{ name: "Two" }], damaged: [{ id: ids[0], name: "One" }] });
  });
});

/** File systems of their own need rights that not every machine gives. */
const canMount = (() => {
  const at = mkdtempSync(join(tmpdir(), "marten-mount-"));
  try {
    execFileSync("mount", ["-t", "tmpfs", "-o", "size=1m", "tmpfs", at], { stdio: "ignore" });
    execFileSync("umount", [at]);
    return true;
  } catch {
    console.warn("Skipped: full and read-only disks cannot be mounted here.");
    return false;
  }
})();

describe.skipIf(!canMount)("a disk", () => {
  let disk: string;
  beforeEach(() => {
    disk = mkdtempSync(join(tmpdir(), "marten-disk-"));
    execFileSync("mount", ["-t", "tmpfs", "-o", "size=4m", "tmpfs", disk]);
  });
  afterEach(() => {
    for (const db of opened.splice(0)) db.close();
    execFileSync("umount", [disk]);
  });

  it("that is full says so, keeps what was acknowledged, and takes the next edit when there is room", () => {
    const db = open(disk);
    const id = add(db, "One");
    louder(db, id, 0);
    // Filled to the last block.
    execFileSync("sh", ["-c", `dd if=/dev/zero of='${disk}/ballast' bs=4096 2>/dev/null || true`]);
    let saved = 1;
    let fault: StorageFault | null = null;
    for (let turn = 1; turn < 2000 && !fault; turn++) {
      fault = faultOf(() => louder(db, id, turn));
      if (!fault) saved++;
    }
    expect(fault?.problem.code).toBe("storage.full");
    expect(openProject(db, id).revision).toBe(saved);
    rmSync(join(disk, "ballast"));
    louder(db, id, 5000);
    expect(openProject(db, id).revision).toBe(saved + 1);
  });

  it("that is read-only says so, and what is on it can still be read", () => {
    const first = open(disk);
    const id = add(first, "One");
    closeDatabase(first);
    execFileSync("mount", ["-o", "remount,ro", disk]);
    const fault = faultOf(() => louder(open(disk), id, 0));
    expect(fault?.problem.code).toBe("storage.readOnly");
    execFileSync("mount", ["-o", "remount,rw", disk]);
    expect(existsSync(databasePath(disk))).toBe(true);
    const again = open(disk);
    louder(again, id, 0);
    expect(openProject(again, id).revision).toBe(1);
  });
});
