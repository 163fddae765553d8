import type { Hit, Pattern } from "./pattern.ts";

/** What every hit says. Each is read by a function of its own: one that is told the field takes several times as long. */
const EVERY_HIT = {
  id: (hit) => hit.id,
  streamIndex: (hit) => hit.streamIndex,
  note: (hit) => hit.note,
  voiceId: (hit) => hit.voiceId,
  articulationId: (hit) => hit.articulationId,
  pedal: (hit) => hit.pedal,
  shutTicks: (hit) => hit.shutTicks,
  chokedTicks: (hit) => hit.chokedTicks,
  recordedTick: (hit) => hit.recordedTick,
  recordedVelocity: (hit) => hit.recordedVelocity,
  pinnedTick: (hit) => hit.pinnedTick,
  pinnedVelocity: (hit) => hit.pinnedVelocity,
} as const satisfies { readonly [Field in keyof Hit]?: (hit: Hit) => Hit[Field] };

/** What only some say: a field of a hit that is in neither list is an error of types. */
const SOME_HITS = {
  isMuted: true,
  lengthTicks: true,
  role: true,
  swingSharePercent: true,
  chance: true,
  deviationPercent: true,
  offsetMs: true,
  inFile: true,
  pass: true,
  replacedBy: true,
} as const satisfies Record<Exclude<keyof Hit, keyof typeof EVERY_HIT>, true>;

type Always = Pick<Hit, keyof typeof EVERY_HIT>;
type Sometimes = Omit<Hit, keyof Always>;

/** One field of all hits: the same all over, or one for each. */
type Column<Value> = { readonly all: Value } | { readonly each: readonly Value[] };

/** Hits in columns: a fifth of the text that one object a hit is, and read back in a third of the time. */
export interface PackedHits {
  readonly count: number;
  readonly columns: { readonly [Field in keyof Always]: Column<Hit[Field]> };
  /** What some of them say besides, by row, ascending. */
  readonly more: readonly (readonly [row: number, said: Sometimes])[];
}

/** What was stored before there were columns has a row for each hit, as everywhere else. */
type StoredHits = PackedHits | readonly Hit[];

/** A pattern as it is stored and sent. */
export type PackedPattern = Omit<Pattern, "hits"> & { readonly hits: StoredHits };

export const packPattern = (pattern: Pattern): PackedPattern => ({ ...pattern, hits: packHits(pattern.hits) });
/** @throws SyntaxError as `unpackHits` */
export const unpackPattern = (packed: PackedPattern): Pattern => ({ ...packed, hits: unpackHits(packed.hits) });

/** Puts hits into columns; nothing of them is lost. */
export function packHits(hits: readonly Hit[]): PackedHits {
  const columns = Object.entries<(hit: Hit) => unknown>(EVERY_HIT).map(([field, read]) => [field, packed(hits, read)]);
  const more = hits.flatMap((hit, row) => (saysMore(hit) ? [[row, moreOf(hit)] as const] : []));
  return { count: hits.length, columns: Object.fromEntries(columns), more };
}

function packed<Value>(hits: readonly Hit[], read: (hit: Hit) => Value): Column<Value> {
  const each = hits.map(read);
  const [first] = each;
  return first !== undefined && each.every((value) => value === first) ? { all: first } : { each };
}

const FIELDS = Object.keys(SOME_HITS) as (keyof Sometimes)[];
const EVERY_COUNT = Object.keys(EVERY_HIT).length;
const saysMore = (hit: Hit) => Object.keys(hit).length > EVERY_COUNT;
const moreOf = (hit: Hit): Sometimes =>
  Object.fromEntries(FIELDS.flatMap((field) => (hit[field] === undefined ? [] : [[field, hit[field]]])));

/**
 * The hits that were stored.
 * @throws SyntaxError if a column is too short or too long, as on a disk that is damaged
 */
export function unpackHits(stored: StoredHits): readonly Hit[] {
  if (!("columns" in stored)) return stored;
  const { count, columns, more } = stored;
  const reader = <Value>(column: Column<Value>): ((row: number) => Value) => {
    if ("all" in column) return () => column.all;
    if (column.each.length !== count) throw new SyntaxError(`${count} hits have a column of ${column.each.length}.`);
    return (row) => column.each[row] as Value;
  };
  const id = reader(columns.id);
  const streamIndex = reader(columns.streamIndex);
  const note = reader(columns.note);
  const voiceId = reader(columns.voiceId);
  const articulationId = reader(columns.articulationId);
  const pedal = reader(columns.pedal);
  const shutTicks = reader(columns.shutTicks);
  const chokedTicks = reader(columns.chokedTicks);
  const recordedTick = reader(columns.recordedTick);
  const recordedVelocity = reader(columns.recordedVelocity);
  const pinnedTick = reader(columns.pinnedTick);
  const pinnedVelocity = reader(columns.pinnedVelocity);
  const hits: Hit[] = [];
  // Field by field and in one order, so that all are of one shape: half a million are read by everything that follows.
  for (let row = 0; row < count; row++)
    hits.push({
      id: id(row),
      streamIndex: streamIndex(row),
      note: note(row),
      voiceId: voiceId(row),
      articulationId: articulationId(row),
      pedal: pedal(row),
      shutTicks: shutTicks(row),
      chokedTicks: chokedTicks(row),
      recordedTick: recordedTick(row),
      recordedVelocity: recordedVelocity(row),
      pinnedTick: pinnedTick(row),
      pinnedVelocity: pinnedVelocity(row),
    });
  for (const [row, said] of more) hits[row] = { ...hits[row]!, ...said };
  return hits;
}
