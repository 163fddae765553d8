import { createHash, randomUUID } from "node:crypto";
import type { PortableShelf } from "../../api/archive-schemas.ts";
import type { BroughtIn } from "../../api/wire.ts";
import { isSameValue } from "../../core/document/index.ts";
import { isBlankMark } from "../../core/pattern/index.ts";
import { CHORE_SORT } from "../chores.ts";
import { GROOVE_SORT } from "../grooves.ts";
import { type KeptSort, keep, listKept } from "../kept.ts";
import { keepMap, listMaps } from "../note-maps.ts";
import { addPatternFile } from "../pattern-files.ts";
import { listMarks, setMark } from "../pattern-marks.ts";
import { insertPattern } from "../patterns.ts";
import { insertProject, touchProject } from "../projects.ts";
import { RECIPE_SORT } from "../recipes.ts";
import { type Db, sha256 } from "../storage/database.ts";
import type { ReadArchive, ReadProject } from "./read-archive.ts";

/**
 * Puts what an archive holds on the shelf, beside what is there: nothing is overwritten, and what is there already is not put there
 * twice. Each project comes in as a whole or not at all.
 */
export async function bringIn(db: Db, { projects, shelf }: ReadArchive): Promise<BroughtIn> {
  const brought: { id: string; name: string }[] = [];
  let twins = 0;
  const known = new Set(
    db
      .prepare<[], { id: string }>("SELECT id FROM projects WHERE removed_at IS NULL")
      .all()
      .map(({ id }) => markOfStored(db, id)),
  );
  for (const project of projects) {
    if (known.has(markOf(project))) twins++;
    else brought.push(insert(db, project));
    // Others are to be answered in between.
    await new Promise((resolve) => setImmediate(resolve));
  }
  const kept = db.transaction(() => bringInShelf(db, shelf))();
  return { projects: brought, twins, kept, kits: shelf.kits };
}

/** What tells a project from every other: its take, and what was done to it. Two imports of one file are the same until one is touched. */
function markOf({
  take,
  edits,
}: Pick<ReadProject, "take"> & { readonly edits: readonly { readonly id: string }[] }): string {
  const hash = createHash("sha256").update(sha256(take));
  for (const { id } of edits) hash.update(`\n${id}`);
  return hash.digest("hex");
}

function markOfStored(db: Db, id: string): string {
  const hash = createHash("sha256").update(
    db.prepare<[string], { sha256: string }>("SELECT sha256 FROM takes WHERE project_id = ?").get(id)?.sha256 ?? "",
  );
  const entries = db.prepare<[string], { id: string }>(
    "SELECT entry_id AS id FROM edits WHERE project_id = ? ORDER BY revision",
  );
  for (const entry of entries.iterate(id)) hash.update(`\n${entry.id}`);
  return hash.digest("hex");
}

function insert(db: Db, project: ReadProject): { readonly id: string; readonly name: string } {
  const isTaken = db.prepare("SELECT 1 FROM projects WHERE id = ?").get(project.id) !== undefined;
  const id = isTaken ? randomUUID() : project.id;
  const hasName =
    db.prepare("SELECT 1 FROM projects WHERE name = ? AND removed_at IS NULL").get(project.name) !== undefined;
  const name = hasName ? `${project.name.slice(0, 180)}, brought in` : project.name;
  db.transaction(() => {
    const { book, fileName, notices } = project;
    insertProject(db, { id, name, book, fileName, notices }, project.take, project.createdAt);
    touchProject(db, id, project.changedAt);
    insertPattern(db, id, project.record);
    db.prepare("UPDATE patterns SET revision = ? WHERE project_id = ?").run(project.revision, id);
    const hit = db.prepare("INSERT INTO changed_hits (project_id, hit_id, hit) VALUES (?, ?, ?)");
    for (const changed of project.changedHits) hit.run(id, changed.hitId, changed.hit && JSON.stringify(changed.hit));
    const edit = db.prepare(
      "INSERT INTO edits (project_id, revision, entry_id, kind, label, edit, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
    );
    for (const [index, entry] of project.edits.entries()) {
      edit.run(id, index + 1, entry.id, entry.kind, entry.label, JSON.stringify(entry.edit), entry.madeAt);
    }
    const version = db.prepare(
      "INSERT INTO versions (id, project_id, name, revision, made_at, entries) VALUES (?, ?, ?, ?, ?, ?)",
    );
    for (const one of project.versions) {
      const entries = one.entries ? JSON.stringify(one.entries) : null;
      version.run(randomUUID(), id, one.name, one.revision, one.madeAt, entries);
    }
  })();
  return { id, name };
}

/** Returns how many things were kept. What is there already, by name and content, is no news. */
function bringInShelf(db: Db, shelf: PortableShelf): number {
  let count = 0;
  const into = <Content extends object>(
    sort: KeptSort<Content>,
    list: readonly (Content & { readonly name: string })[],
  ) => {
    const there = listKept(db, sort).map(({ id: _, isBuiltIn: _builtIn, ...content }) => content);
    for (const one of list) {
      if (there.some((other) => isSameValue(other, one))) continue;
      keep(db, sort, one);
      count++;
    }
  };
  into(RECIPE_SORT, shelf.recipes);
  into(CHORE_SORT, shelf.chores);
  into(GROOVE_SORT, shelf.grooves);
  const maps = listMaps(db).map(({ map: { id: _, ...content } }) => content);
  for (const { id, ...content } of shelf.maps) {
    if (maps.some((other) => isSameValue(other, content))) continue;
    keepMap(db, { id, ...content });
    count++;
  }
  for (const { path, base64 } of shelf.patternFiles) {
    if (addPatternFile(db, path, Buffer.from(base64, "base64")).isNew) count++;
  }
  // What is said here already stays: an archive is older, or somebody else's.
  const marked = new Set(listMarks(db).map(({ played }) => played));
  for (const mark of shelf.marks) {
    if (marked.has(mark.played) || isBlankMark(mark)) continue;
    setMark(db, mark);
    count++;
  }
  return count;
}
