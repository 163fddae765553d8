/** A time signature from `tick` on. The file's denominators are powers of two, 1 to 128. */
export interface MeterChange {
  readonly tick: number;
  readonly numerator: number;
  readonly denominator: number;
}

export interface Meter {
  readonly numerator: number;
  readonly denominator: number;
}

/** One stretch under one meter. Bars and beats in it are counted from its start. */
interface MeterSegment {
  readonly startTick: number;
  /** Where the next meter begins; infinite for the last. */
  readonly endTick: number;
  readonly startBarIndex: number;
  readonly barTicks: number;
  readonly meter: Meter;
  /** Ticks of the pulses from the start of a bar; the first is 0. */
  readonly pulseTicks: readonly number[];
}

export interface MeterMap {
  readonly ppq: number;
  readonly segments: readonly MeterSegment[];
}

export interface Bar {
  readonly barIndex: number;
  readonly startTick: number;
  /** Shorter than its meter says when the meter changes inside it. */
  readonly endTick: number;
  readonly meter: Meter;
  readonly pulseTicks: readonly number[];
}

/** A place in music, counted from 0. A person reads bar and beat counted from 1. */
export interface BarBeat {
  readonly barIndex: number;
  readonly beatIndex: number;
  /** Ticks since the pulse. */
  readonly tick: number;
}

const DEFAULT_METER: Meter = { numerator: 4, denominator: 4 };

/**
 * Builds the map of bars and pulses. A change inside a bar ends that bar and starts a new one, as players count it.
 * Two changes at one tick: the later in the list holds. Before the first change the meter is 4/4.
 * @param ppq ticks per quarter note
 * @param changes in any order
 * @source a bar of n/d lasts n · 4 / d quarters
 */
export function buildMeterMap(ppq: number, changes: readonly MeterChange[]): MeterMap {
  const sorted = changes.filter(isUsableMeter).toSorted((a, b) => a.tick - b.tick);
  const starts: MeterChange[] = sorted[0]?.tick === 0 ? [] : [{ tick: 0, ...DEFAULT_METER }];
  for (const change of sorted) {
    if (starts.at(-1)?.tick === change.tick) starts.pop();
    starts.push(change);
  }
  const segments: MeterSegment[] = [];
  for (const [index, { tick, numerator, denominator }] of starts.entries()) {
    const last = segments.at(-1);
    const barsBefore = last ? Math.ceil((tick - last.startTick) / last.barTicks - 1e-9) : 0;
    segments.push({
      startTick: tick,
      endTick: starts[index + 1]?.tick ?? Number.POSITIVE_INFINITY,
      startBarIndex: (last?.startBarIndex ?? 0) + barsBefore,
      barTicks: (numerator * 4 * ppq) / denominator,
      meter: { numerator, denominator },
      pulseTicks: findPulses(numerator, denominator, ppq),
    });
  }
  return { ppq, segments };
}

function isUsableMeter({ numerator, denominator }: MeterChange): boolean {
  return numerator >= 1 && numerator <= 255 && denominator >= 1 && denominator <= 128;
}

/**
 * The pulses of a bar: what is counted. The quarter in x/4; three at a time in 6/8, 9/8, 12/8; groups of two with the
 * odd three at the end in 5/8 (2+3) and 7/8 (2+2+3); else each unit of the denominator.
 */
function findPulses(numerator: number, denominator: number, ppq: number): readonly number[] {
  const unitTicks = (4 * ppq) / denominator;
  const isCompound = denominator >= 8 && numerator > 3 && numerator % 3 === 0;
  const isOddGrouped = denominator >= 8 && numerator > 3 && !isCompound;
  const pulses: number[] = [];
  for (let unit = 0; unit < numerator; ) {
    pulses.push(unit * unitTicks);
    const left = numerator - unit;
    unit += isCompound || (isOddGrouped && left === 3) ? 3 : isOddGrouped && left > 1 ? 2 : 1;
  }
  return pulses;
}

function segmentAt(map: MeterMap, tick: number): MeterSegment {
  let low = 0;
  let high = map.segments.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (map.segments[middle]!.startTick <= tick) low = middle;
    else high = middle - 1;
  }
  return map.segments[low]!;
}

/** The bar that holds `tick`. Ticks before 0 count as the first bar. */
export function barAt(map: MeterMap, tick: number): Bar {
  const segment = segmentAt(map, tick);
  const barsIn = Math.max(0, Math.floor((tick - segment.startTick) / segment.barTicks + 1e-9));
  return barOfSegment(segment, barsIn);
}

/** The bar with this index, counted from 0. */
export function barByIndex(map: MeterMap, barIndex: number): Bar {
  let segment = map.segments[0]!;
  for (const next of map.segments) {
    if (next.startBarIndex > barIndex) break;
    segment = next;
  }
  return barOfSegment(segment, Math.max(0, barIndex - segment.startBarIndex));
}

function barOfSegment(segment: MeterSegment, barsIn: number): Bar {
  const startTick = segment.startTick + barsIn * segment.barTicks;
  return {
    barIndex: segment.startBarIndex + barsIn,
    startTick,
    endTick: Math.min(startTick + segment.barTicks, segment.endTick),
    meter: segment.meter,
    pulseTicks: segment.pulseTicks,
  };
}

/** The place of a tick as bar, beat (pulse) and the ticks since that beat. */
export function tickToBarBeat(map: MeterMap, tick: number): BarBeat {
  const bar = barAt(map, tick);
  const inBar = tick - bar.startTick;
  let beatIndex = bar.pulseTicks.length - 1;
  while (beatIndex > 0 && bar.pulseTicks[beatIndex]! > inBar + 1e-9) beatIndex--;
  return { barIndex: bar.barIndex, beatIndex, tick: Math.round(inBar - bar.pulseTicks[beatIndex]!) };
}

/** The tick of a place; the inverse of `tickToBarBeat`. */
export function barBeatToTick(map: MeterMap, place: BarBeat): number {
  const bar = barByIndex(map, place.barIndex);
  return bar.startTick + (bar.pulseTicks[place.beatIndex] ?? 0) + place.tick;
}

/** A place as a person reads it, counted from 1: `3:2:40`. */
export function formatBarBeat(map: MeterMap, tick: number): string {
  const { barIndex, beatIndex, tick: ticks } = tickToBarBeat(map, tick);
  return `${barIndex + 1}:${beatIndex + 1}:${ticks}`;
}

/**
 * Reads a place that a person typed: `3`, `3:2` or `3:2:40`, counted from 1.
 * @returns its tick, or null if it is no place
 */
export function parseBarBeat(map: MeterMap, text: string): number | null {
  const match = /^\s*(\d{1,6})(?:\s*[:.]\s*(\d{1,3}))?(?:\s*[:.]\s*(\d{1,6}))?\s*$/.exec(text);
  if (!match) return null;
  const [barIndex, beatIndex] = [Number(match[1]) - 1, Number(match[2] ?? 1) - 1];
  if (barIndex < 0 || beatIndex < 0 || barByIndex(map, barIndex).pulseTicks[beatIndex] === undefined) return null;
  return Math.round(barBeatToTick(map, { barIndex, beatIndex, tick: Number(match[3] ?? 0) }));
}

/** The first bar line at or after `tick`. */
export function nextBarLine(map: MeterMap, tick: number): number {
  const bar = barAt(map, tick);
  return tick <= bar.startTick ? bar.startTick : bar.endTick;
}
