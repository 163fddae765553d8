import { type Arrangement, NO_ARRANGEMENT, type SongEntry, type SongPattern } from "./arrangement.ts";
import type { Groove } from "./groove.ts";
import { isSameValue, StaleEditError } from "./stale.ts";

/** The change of a song from one arrangement to another: only what differs, each with its value before and after. */
export interface Arranging {
  /** Null before: it is new; null after: it is gone. */
  readonly patterns: readonly {
    readonly id: string;
    readonly from: SongPattern | null;
    readonly to: SongPattern | null;
  }[];
  readonly grooves: readonly { readonly id: string; readonly from: Groove | null; readonly to: Groove | null }[];
  /** The order of the patterns; null if it stays. */
  readonly order: { readonly from: readonly string[]; readonly to: readonly string[] } | null;
  readonly song: { readonly from: readonly SongEntry[]; readonly to: readonly SongEntry[] } | null;
}

/** What leads from one arrangement to another. Grooves that nothing names any more are dropped on the way. */
export function arranging(from: Arrangement, wanted: Arrangement): Arranging {
  const to = { ...wanted, grooves: usedGrooves(wanted) };
  const ids = ({ patterns }: Arrangement) => patterns.map(({ id }) => id);
  const byId = ({ patterns }: Arrangement) => Object.fromEntries(patterns.map((pattern) => [pattern.id, pattern]));
  return {
    patterns: differing(byId(from), byId(to)),
    grooves: differing(from.grooves, to.grooves),
    order: isSameValue(ids(from), ids(to)) ? null : { from: ids(from), to: ids(to) },
    song: isSameValue(from.song, to.song) ? null : { from: from.song, to: to.song },
  };
}

function usedGrooves({ patterns, grooves }: Arrangement): Readonly<Record<string, Groove>> {
  const used: Record<string, Groove> = {};
  for (const { cells = {} } of patterns) {
    for (const { feel } of Object.values(cells)) {
      const groove = feel && grooves[feel.grooveId];
      if (feel && groove) used[feel.grooveId] = groove;
    }
  }
  return used;
}

function differing<Value>(from: Readonly<Record<string, Value>>, to: Readonly<Record<string, Value>>) {
  const ids = new Set([...Object.keys(from), ...Object.keys(to)]);
  return [...ids].flatMap((id) => {
    const [before, after] = [from[id] ?? null, to[id] ?? null];
    return isSameValue(before, after) ? [] : [{ id, from: before, to: after }];
  });
}

/**
 * Makes the next arrangement.
 * @returns undefined for one without patterns: a take that was never cut has none
 * @throws StaleEditError if something is not as it was when the change was made
 */
export function arrange(arrangement: Arrangement = NO_ARRANGEMENT, change: Arranging): Arrangement | undefined {
  const patterns = changed(
    Object.fromEntries(arrangement.patterns.map((pattern) => [pattern.id, pattern])),
    change.patterns,
  );
  const grooves = changed(arrangement.grooves, change.grooves);
  const ids = arrangement.patterns.map(({ id }) => id);
  expectSame(change.order?.from ?? ids, ids);
  expectSame(change.song?.from ?? arrangement.song, arrangement.song);
  const order = change.order?.to ?? ids;
  const ordered = order.flatMap((id) => patterns[id] ?? []);
  const song = change.song?.to ?? arrangement.song;
  return ordered.length === 0 && song.length === 0 ? undefined : { patterns: ordered, song, grooves };
}

function changed<Value>(
  values: Readonly<Record<string, Value>>,
  changes: readonly { readonly id: string; readonly from: Value | null; readonly to: Value | null }[],
): Readonly<Record<string, Value>> {
  if (changes.length === 0) return values;
  const next = { ...values };
  for (const { id, from, to } of changes) {
    expectSame(next[id] ?? null, from);
    if (to === null) delete next[id];
    else next[id] = to;
  }
  return next;
}

function expectSame(present: unknown, expected: unknown): void {
  if (!isSameValue(present, expected)) throw new StaleEditError("The song has changed since this edit was made.");
}

/** What takes a change of the song back. */
export function unarranging({ patterns, grooves, order, song }: Arranging): Arranging {
  const turned = <Value>(changes: readonly { readonly id: string; readonly from: Value; readonly to: Value }[]) =>
    changes.map(({ id, from, to }) => ({ id, from: to, to: from }));
  return {
    patterns: turned(patterns),
    grooves: turned(grooves),
    order: order && { from: order.to, to: order.from },
    song: song && { from: song.to, to: song.from },
  };
}

export function isNoArranging({ patterns, grooves, order, song }: Arranging): boolean {
  return patterns.length === 0 && grooves.length === 0 && order === null && song === null;
}
