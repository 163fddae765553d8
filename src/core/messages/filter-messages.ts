import { type MessageTable, messageAt } from "./message-table.ts";
import { kindOf, type MessageKind } from "./message-words.ts";

/** Which messages to list; null lets all through. */
export interface MessageFilter {
  readonly kind: MessageKind | null;
  /** 0 to 15. */
  readonly channel: number | null;
  readonly trackIndex: number | null;
  /** Notes and note ends of this lane of the pattern. */
  readonly laneIndex: number | null;
  /** From this tick on, up to but without the other. */
  readonly fromTick: number;
  readonly toTick: number;
}

export const NO_FILTER: MessageFilter = {
  kind: null,
  channel: null,
  trackIndex: null,
  laneIndex: null,
  fromTick: 0,
  toTick: Number.POSITIVE_INFINITY,
};

/** The rows that a filter lets through, in order. Runs over 200,000 rows on every change, so it makes objects only for kinds. */
export function filterMessages(table: MessageTable, filter: MessageFilter): Uint32Array<ArrayBuffer> {
  const { kind, channel, trackIndex, laneIndex, fromTick, toTick } = filter;
  const rows = new Uint32Array(table.count);
  let count = 0;
  for (let row = 0; row < table.count; row++) {
    const status = table.statuses[row]!;
    if (trackIndex !== null && table.trackIndexes[row] !== trackIndex) continue;
    if (channel !== null && (status >= 0xf0 || (status & 0x0f) !== channel)) continue;
    if (laneIndex !== null && table.laneIndexes[row] !== laneIndex) continue;
    if (table.ticks[row]! < fromTick || table.ticks[row]! >= toTick) continue;
    if (kind !== null && kindOf(messageAt(table, row)) !== kind) continue;
    rows[count++] = row;
  }
  return rows.slice(0, count);
}

/** The place in a list of rows of the last one at or before a tick; -1 if all are later. */
export function findRowAt(table: MessageTable, rows: Uint32Array, tick: number): number {
  let low = 0;
  let high = rows.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (table.ticks[rows[middle]!]! <= tick) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
