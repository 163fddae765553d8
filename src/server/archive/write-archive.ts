import { once } from "node:events";
import { createWriteStream, type WriteStream } from "node:fs";
import { promisify } from "node:util";
import { deflateRaw } from "node:zlib";
import { strToU8, Zip, ZipPassThrough } from "fflate";
import {
  ARCHIVE_FORMAT,
  ARCHIVE_VERSION,
  type ArchiveHead,
  type ArchiveWish,
  type PortableShelf,
} from "../../api/archive-schemas.ts";
import type { KitProfile } from "../../core/dynamics/index.ts";
import { toOneLine } from "../../core/json-shape.ts";
import { CHORE_SORT } from "../chores.ts";
import { GROOVE_SORT } from "../grooves.ts";
import { type KeptSort, listKept } from "../kept.ts";
import { listMaps } from "../note-maps.ts";
import { allPatternFiles } from "../pattern-files.ts";
import { listMarks } from "../pattern-marks.ts";
import { jsonOfRow, type PatternRow, recordedHitsOf } from "../patterns.ts";
import { noSuchProject } from "../problem-error.ts";
import { readTakeBytes } from "../projects.ts";
import { RECIPE_SORT } from "../recipes.ts";
import { type Db, ownVersion, sha256 } from "../storage/database.ts";
import { storageFaultOf } from "../storage/storage-fault.ts";
import type { TellProgress } from "../task-queue.ts";
import { listVersions } from "../versions.ts";

/**
 * Writes an archive to a file. A project that is damaged is left out and named.
 * @returns what is in it
 */
export async function writeArchive(db: Db, wish: ArchiveWish, path: string, tell: TellProgress): Promise<ArchiveHead> {
  const out = createWriteStream(path, { mode: 0o600 });
  try {
    return await writeTo(out, db, wish, tell);
  } finally {
    out.destroy();
  }
}

const deflate = promisify(deflateRaw);
/** How ZIP calls it. */
const DEFLATED = 8;

/** A file that the server's own threads have packed: to start one for each file would take longer than to pack most of them. */
class DeflatedFile extends ZipPassThrough {
  override compression = DEFLATED;
  readonly #packed: Uint8Array<ArrayBuffer>;

  constructor(name: string, packed: Uint8Array<ArrayBuffer>) {
    super(name);
    this.#packed = packed;
  }

  /** What is given is counted by who calls this, before it is packed. */
  protected override process(_bytes: Uint8Array, isLast: boolean): void {
    this.ondata(null, this.#packed, isLast);
  }
}

async function writeTo(out: WriteStream, db: Db, wish: ArchiveWish, tell: TellProgress): Promise<ArchiveHead> {
  const zip = new Zip((error, chunk, isLast) => {
    if (error) out.destroy(error);
    else {
      out.write(chunk);
      if (isLast) out.end();
    }
  });
  const finished = once(out, "finish");
  // It is awaited below; a disk that is full before that is no fault that nobody hears of.
  finished.catch(() => out.destroy());
  const hashes: Record<string, string> = {};
  const add = async (name: string, bytes: Uint8Array) => {
    hashes[name] = sha256(bytes);
    // What is small is hardly made smaller.
    const file = bytes.length < 2048 ? new ZipPassThrough(name) : new DeflatedFile(name, await deflate(bytes));
    zip.add(file);
    file.push(bytes, true);
    // Asked of the stream itself: what other threads have written may have drained since, and would not drain again.
    if (out.writableNeedDrain) await once(out, "drain");
  };
  const ids =
    wish.projectIds ??
    db
      .prepare<[], { id: string }>("SELECT id FROM projects WHERE removed_at IS NULL ORDER BY changed_at")
      .all()
      .map(({ id }) => id);
  const projects: { folder: string; name: string }[] = [];
  const leftOut: string[] = [];
  for (const [index, id] of ids.entries()) {
    tell(index, ids.length);
    try {
      const { name, json, take } = portableProject(db, id);
      const folder = `projects/${String(index + 1).padStart(4, "0")} ${toOneLine(name).replace(/[\\/:*?"<>|]/g, "-")}`;
      await add(`${folder}/project.json`, strToU8(json));
      await add(`${folder}/take.mid`, take);
      projects.push({ folder, name });
    } catch (error) {
      if (!storageFaultOf(error)) throw error;
      leftOut.push(id);
    }
    // Others are to be answered in between.
    await new Promise((resolve) => setImmediate(resolve));
  }
  for (const sort of wish.sorts) await add(`shelf/${sort}.json`, strToU8(JSON.stringify(shelfOf(db, sort, wish.kits))));
  const head: ArchiveHead = {
    format: ARCHIVE_FORMAT,
    version: ARCHIVE_VERSION,
    madeBy: ownVersion(),
    madeAt: new Date().toISOString(),
    projects,
    leftOut,
    sha256: hashes,
  };
  await add("archive.json", strToU8(JSON.stringify(head, null, 2)));
  zip.end();
  await finished;
  return head;
}

interface ProjectRow extends PatternRow {
  readonly name: string;
  readonly book: string;
  readonly created_at: string;
  readonly changed_at: string;
  readonly file_name: string;
  readonly notices: string;
}

/** The parts are JSON already, and are put together as they are; hits are written one by one, for whoever reads the archive. */
function portableProject(
  db: Db,
  id: string,
): { readonly name: string; readonly json: string; readonly take: Uint8Array } {
  const row = db
    .prepare<[string], ProjectRow>(
      `SELECT name, book, created_at, changed_at, file_name, notices, revision, head, recorded_hits, streams, lanes, note_map,
              outgoing_map, changed_messages
         FROM projects JOIN takes ON takes.project_id = projects.id JOIN patterns ON patterns.project_id = projects.id
        WHERE projects.id = ?`,
    )
    .get(id);
  const take = readTakeBytes(db, id);
  if (!row || !take) throw noSuchProject();
  const hits = db
    .prepare<[string], { json: string }>(
      `SELECT json_object('hitId', hit_id, 'hit', json(coalesce(hit, 'null'))) AS json FROM changed_hits WHERE project_id = ?`,
    )
    .all(id);
  const edits = db
    .prepare<[string], { json: string }>(
      `SELECT json_object('id', entry_id, 'kind', kind, 'label', label, 'edit', json(edit), 'madeAt', made_at) AS json
         FROM edits WHERE project_id = ? ORDER BY revision`,
    )
    .all(id);
  const joined = (rows: readonly { json: string }[]) => `[${rows.map(({ json }) => json).join(",\n")}]`;
  const { name, book, created_at: createdAt, changed_at: changedAt, file_name: fileName, revision } = row;
  const about = JSON.stringify({
    version: 1,
    id,
    name: toOneLine(name),
    book,
    fileName,
    createdAt,
    changedAt,
    revision,
    versions: listVersions(db, id),
  });
  const json = [
    about.slice(0, -1),
    `"notices":${row.notices}`,
    `"pattern":${jsonOfRow(row)}`,
    `"recordedHits":${JSON.stringify(recordedHitsOf(row))}`,
    `"changedHits":${joined(hits)}`,
    `"edits":${joined(edits)}}`,
  ].join(",\n");
  return { name, json, take };
}

function shelfOf(db: Db, sort: keyof PortableShelf, kits: readonly KitProfile[]): unknown {
  const own = <Content extends object>(kept: KeptSort<Content>) =>
    listKept(db, kept).flatMap(({ id: _, isBuiltIn, ...content }) => (isBuiltIn ? [] : [content]));
  switch (sort) {
    case "recipes":
      return own(RECIPE_SORT);
    case "chores":
      return own(CHORE_SORT);
    case "grooves":
      return own(GROOVE_SORT);
    case "maps":
      return listMaps(db).flatMap(({ map, isBuiltIn }) => (isBuiltIn ? [] : [map]));
    case "kits":
      return kits;
    case "marks":
      return listMarks(db);
    case "patternFiles":
      return allPatternFiles(db);
    default:
      return sort satisfies never;
  }
}
