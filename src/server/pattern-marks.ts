import { isBlankMark, type PatternMark } from "../core/pattern/index.ts";
import type { Db } from "./storage/database.ts";

interface MarkRow {
  readonly played: string;
  readonly name: string;
  readonly tags: string;
  readonly isFavourite: number;
  readonly variation: string | null;
}

/** What was said of patterns, in the order in which it was last said. */
export function listMarks(db: Db): readonly PatternMark[] {
  return db
    .prepare<[], MarkRow>(
      "SELECT played, name, tags, is_favourite AS isFavourite, variation FROM pattern_marks ORDER BY changed_at, played",
    )
    .all()
    .map(({ tags, isFavourite, variation, ...row }) => ({
      ...row,
      tags: JSON.parse(tags),
      isFavourite: isFavourite === 1,
      ...(variation === null ? {} : { variation: JSON.parse(variation) }),
    }));
}

/** Keeps what is said of a pattern, in the place of what was said before. */
export function setMark(db: Db, mark: PatternMark): PatternMark {
  const { played, name, tags, isFavourite, variation } = mark;
  if (isBlankMark(mark)) db.prepare("DELETE FROM pattern_marks WHERE played = ?").run(played);
  else {
    db.prepare(
      `INSERT INTO pattern_marks (played, name, tags, is_favourite, variation, changed_at) VALUES (?, ?, ?, ?, ?, ?)
       ON CONFLICT (played) DO UPDATE SET
         name = excluded.name, tags = excluded.tags, is_favourite = excluded.is_favourite, variation = excluded.variation,
         changed_at = excluded.changed_at`,
    ).run(
      played,
      name,
      JSON.stringify(tags),
      isFavourite ? 1 : 0,
      variation ? JSON.stringify(variation) : null,
      new Date().toISOString(),
    );
  }
  return mark;
}
