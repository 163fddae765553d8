/** A tempo from `tick` on, as the file counts it: microseconds per quarter note. */
export interface TempoChange {
  readonly tick: number;
  readonly usPerQuarter: number;
}

export interface TempoMap {
  readonly ppq: number;
  /** Parallel columns: the tick and time at which each tempo starts, and how long one tick lasts from there. */
  readonly startTicks: readonly number[];
  readonly startMs: readonly number[];
  readonly msPerTick: readonly number[];
}

/** 120 bpm, which holds until the file says otherwise. */
export const DEFAULT_US_PER_QUARTER = 500_000;

/**
 * Builds the map between ticks and time. Two tempos at one tick: the later in the list holds.
 * A tempo of 0 µs per quarter, which would stop time, is passed over.
 * @param ppq ticks per quarter note
 * @source ms = startMs + (tick − startTick) · µsPerQuarter / (1000 · ppq)
 */
export function buildTempoMap(ppq: number, changes: readonly TempoChange[]): TempoMap {
  const sorted = changes.filter((change) => change.usPerQuarter > 0).toSorted((a, b) => a.tick - b.tick);
  const startTicks = [0];
  const startMs = [0];
  const msPerTick = [DEFAULT_US_PER_QUARTER / (1000 * ppq)];
  for (const change of sorted) {
    const last = startTicks.length - 1;
    const tickMs = change.usPerQuarter / (1000 * ppq);
    if (change.tick === startTicks[last]) {
      msPerTick[last] = tickMs;
      continue;
    }
    startMs.push(startMs[last]! + (change.tick - startTicks[last]!) * msPerTick[last]!);
    startTicks.push(change.tick);
    msPerTick.push(tickMs);
  }
  return { ppq, startTicks, startMs, msPerTick };
}

function lastAtOrBefore(starts: readonly number[], value: number): number {
  let low = 0;
  let high = starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (starts[middle]! <= value) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Milliseconds from the start of the pattern. Ticks before 0 and after the last tempo go on at the nearest tempo. */
export function tickToMs(map: TempoMap, tick: number): number {
  const index = lastAtOrBefore(map.startTicks, tick);
  return map.startMs[index]! + (tick - map.startTicks[index]!) * map.msPerTick[index]!;
}

/** The fractional tick that sounds at `ms`; the inverse of `tickToMs`. */
export function msToTick(map: TempoMap, ms: number): number {
  const index = lastAtOrBefore(map.startMs, ms);
  return map.startTicks[index]! + (ms - map.startMs[index]!) / map.msPerTick[index]!;
}

/** The fractional tick that sounds some milliseconds after a tick, or before it. Under one tempo this is a multiplication. */
export function tickAfterMs(map: TempoMap, tick: number, ms: number): number {
  if (map.startTicks.length === 1) return tick + ms / map.msPerTick[0]!;
  return msToTick(map, tickToMs(map, tick) + ms);
}

/**
 * `tickToMs` for a column. A treatment converts every hit of a lane several times on each frame of a drag, and ticks that
 * nearly ascend stay in one tempo for long, so the tempo is not looked up for each.
 */
export function ticksToMs(map: TempoMap, ticks: Float64Array): Float64Array {
  const { startTicks, startMs, msPerTick } = map;
  const ms = new Float64Array(ticks.length);
  // The tempo of the last tick, in which the next one mostly is.
  let [firstTick, endTick, startTick, startsMs, tickMs] = [0, 0, 0, 0, 0];
  for (let row = 0; row < ticks.length; row++) {
    const tick = ticks[row]!;
    if (!(tick >= firstTick && tick < endTick)) {
      const index = lastAtOrBefore(startTicks, tick);
      startTick = startTicks[index]!;
      startsMs = startMs[index]!;
      tickMs = msPerTick[index]!;
      firstTick = index === 0 ? Number.NEGATIVE_INFINITY : startTick;
      endTick = startTicks[index + 1] ?? Number.POSITIVE_INFINITY;
    }
    ms[row] = startsMs + (tick - startTick) * tickMs;
  }
  return ms;
}

/** `tickAfterMs` for a column. */
export function ticksAfterMs(map: TempoMap, ticks: Float64Array, ms: number): Float64Array {
  const after = new Float64Array(ticks.length);
  if (map.startTicks.length === 1) {
    const laterTicks = ms / map.msPerTick[0]!;
    for (let row = 0; row < ticks.length; row++) after[row] = ticks[row]! + laterTicks;
    return after;
  }
  for (let row = 0; row < ticks.length; row++) after[row] = tickAfterMs(map, ticks[row]!, ms);
  return after;
}

/** Quarter notes per minute at `tick`. */
export function bpmAt(map: TempoMap, tick: number): number {
  return 60_000 / (map.msPerTick[lastAtOrBefore(map.startTicks, tick)]! * map.ppq);
}
