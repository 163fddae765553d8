import { randomUUID } from "node:crypto";
import { ProblemError } from "./problem-error.ts";
import type { Db } from "./storage/database.ts";

/** Something under a name on the shelf. */
interface Kept {
  readonly id: string;
  readonly name: string;
  readonly isBuiltIn: boolean;
}

/** Where one sort of things is kept: a table with a column of JSON, and those that come with the application. */
export interface KeptSort<Content extends object> {
  readonly table: "recipes" | "chores" | "grooves";
  readonly column: "timing" | "steps" | "feel";
  /** What it is called in a sentence. */
  readonly word: string;
  readonly builtIn: readonly (Content & { readonly id: string; readonly name: string })[];
  /** From what the column holds, and to it. */
  read(json: unknown): Content;
  write(content: Content): unknown;
}

/** What is on the shelf of a sort: what comes with the application, then what was kept, by name. */
export function listKept<Content extends object>(db: Db, sort: KeptSort<Content>): readonly (Content & Kept)[] {
  const { table, column, builtIn, read } = sort;
  const rows = db
    .prepare<[], { id: string; name: string; json: string }>(
      `SELECT id, name, ${column} AS json FROM ${table} WHERE removed_at IS NULL`,
    )
    .all();
  const kept = rows.map(({ id, name, json }) => ({ id, name, ...read(JSON.parse(json)), isBuiltIn: false }));
  return [
    ...builtIn.map((one) => ({ ...one, isBuiltIn: true })),
    ...kept.sort((a, b) => a.name.localeCompare(b.name, "en")),
  ];
}

/** Puts something on the shelf under a new id. */
export function keep<Content extends object>(
  db: Db,
  { table, column, write }: KeptSort<Content>,
  { name, ...content }: Content & { readonly name: string },
): Content & Kept {
  const id = randomUUID();
  const whole = content as unknown as Content;
  db.prepare(`INSERT INTO ${table} (id, name, ${column}, kept_at) VALUES (?, ?, ?, ?)`).run(
    id,
    name,
    JSON.stringify(write(whole)),
    new Date().toISOString(),
  );
  return { id, name, ...whole, isBuiltIn: false };
}

/**
 * Changes something that was kept here.
 * @throws ProblemError 404 if it is not one of those
 */
export function changeKept<Content extends object>(
  db: Db,
  sort: KeptSort<Content>,
  id: string,
  { name, ...content }: Content & { readonly name: string },
): Content & Kept {
  const { table, column, write } = sort;
  const whole = content as unknown as Content;
  const { changes } = db
    .prepare(`UPDATE ${table} SET name = ?, ${column} = ? WHERE id = ? AND removed_at IS NULL`)
    .run(name, JSON.stringify(write(whole)), id);
  if (changes === 0) throw notKept(sort.word);
  return { id, name, ...whole, isBuiltIn: false };
}

function notKept(word: string): ProblemError {
  return new ProblemError(404, {
    code: `${word}.gone`,
    message: `This ${word} is not among those that were kept.`,
    remedy: "Those that come with the application stay. Reload to see what is there.",
  });
}

/**
 * Takes something off the shelf or puts it back. What was done by it stays done.
 * @throws ProblemError 404 if it is not one that was kept here
 */
export function setKeptRemoved<Content extends object>(
  db: Db,
  { table, word }: KeptSort<Content>,
  id: string,
  isRemoved: boolean,
): null {
  const removedAt = isRemoved ? new Date().toISOString() : null;
  const { changes } = db.prepare(`UPDATE ${table} SET removed_at = ? WHERE id = ?`).run(removedAt, id);
  if (changes === 0) throw notKept(word);
  return null;
}
