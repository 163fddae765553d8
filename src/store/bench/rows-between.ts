import { remembering } from "../../core/remember.ts";

/** Whether columns of ticks ascend, looked at once each: they never change. */
const rememberAscending = remembering<Float64Array, boolean>();

const isAscending = (ticks: Float64Array) =>
  rememberAscending(ticks, [], () => ticks.every((tick, row) => row === 0 || ticks[row - 1]! <= tick));

/** The first row at or after a tick, in a column that ascends. */
function firstAtOrAfter(ticks: Float64Array, tick: number): number {
  let low = 0;
  let high = ticks.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ticks[middle]! < tick) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * The rows whose ticks lie within a stretch, as `first` up to but without `end`. What is drawn and what is under the pointer
 * is found by this, so that a long take costs no more than what is in view. Where hands have put recorded hits out of order,
 * rows between the first and the last may lie outside.
 */
export function rowsBetween(ticks: Float64Array, firstTick: number, lastTick: number): { first: number; end: number } {
  if (isAscending(ticks)) {
    const first = firstAtOrAfter(ticks, firstTick);
    let end = firstAtOrAfter(ticks, lastTick);
    while (end < ticks.length && ticks[end]! <= lastTick) end++;
    return { first, end: Math.max(first, end) };
  }
  const isInside = (row: number) => ticks[row]! >= firstTick && ticks[row]! <= lastTick;
  let first = 0;
  while (first < ticks.length && !isInside(first)) first++;
  let end = ticks.length;
  while (end > first && !isInside(end - 1)) end--;
  return { first, end };
}
