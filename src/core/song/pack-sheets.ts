import type { LaidSong, PatternSheet, SheetCell } from "./lay-song.ts";
import type { FeelProfile, Sameness } from "./sameness.ts";

/** A laid song as a few columns: thousands of small lists take longer to copy from thread to thread than to lay. */
export interface PackedSong {
  readonly ids: readonly string[];
  readonly voiceIds: readonly string[];
  readonly sameness: readonly Sameness[];
  readonly numbers: Float32Array<ArrayBuffer>;
  /** For each cell, row by row: where its numbers begin, how many places and how many numbers of its picture, and its hits. */
  readonly layout: Int32Array<ArrayBuffer>;
}

const COLUMNS = ["quarters", "hitCounts", "recordedMs", "cleanedMs", "recordedDb", "cleanedDb"] as const;
const FIELDS = 4;

export function packSong({ sheets, sameness }: LaidSong, voiceIds: readonly string[]): PackedSong {
  const cells = sheets.flatMap((sheet) => sheet.cells);
  const sizeOf = ({ profile, picture }: SheetCell) => COLUMNS.length * profile.quarters.length + picture.length;
  const numbers = new Float32Array(cells.reduce((sum, cell) => sum + sizeOf(cell), 0));
  const layout = new Int32Array(FIELDS * cells.length);
  let at = 0;
  for (const [index, cell] of cells.entries()) {
    const { profile, picture, hitCount } = cell;
    layout.set([at, profile.quarters.length, picture.length, hitCount], FIELDS * index);
    for (const column of COLUMNS) {
      numbers.set(profile[column], at);
      at += profile.quarters.length;
    }
    numbers.set(picture, at);
    at += picture.length;
  }
  return { ids: sheets.map(({ id }) => id), voiceIds, sameness, numbers, layout };
}

/** One sheet of a packed song; undefined if it is none of them. */
export function unpackSheet(packed: PackedSong, id: string): PatternSheet | undefined {
  const row = packed.ids.indexOf(id);
  if (row === -1) return undefined;
  const { voiceIds, numbers, layout } = packed;
  const cells = voiceIds.map((voiceId, column): SheetCell => {
    const field = FIELDS * (row * voiceIds.length + column);
    const [start, places, pictureLength, hitCount] = layout.subarray(field, field + FIELDS) as unknown as [
      number,
      number,
      number,
      number,
    ];
    const columnAt = (index: number) =>
      Array.from(numbers.subarray(start + index * places, start + (index + 1) * places));
    const profile = Object.fromEntries(COLUMNS.map((name, index) => [name, columnAt(index)])) as unknown as FeelProfile;
    const pictureStart = start + COLUMNS.length * places;
    return { voiceId, hitCount, profile, picture: numbers.subarray(pictureStart, pictureStart + pictureLength) };
  });
  return { id, cells };
}
