import { baseTick, baseVelocity, columnOf, type Hit } from "../document/pattern.ts";
import { remembering } from "../remember.ts";
import { barAt, type TimeMaps, ticksToMs, tickToMs } from "../time/index.ts";
import { findGraceNotes } from "../timing/grace-notes.ts";

/** Hits that a double trigger or a flam would add; they say nothing of the grid. */
const ECHO_MS = 50;
const ECHO_LOUDNESS = 0.6;
/** Grace notes are looked for as on a grid of such steps, before the grid is known. */
const GRACE_STEP_MS = 100;

/** What finding a grid needs of each hit, as columns, since every candidate reads them several times. */
export interface Onsets {
  /** Where each was recorded, ascending. */
  readonly ticks: Float64Array;
  /** From the line of the bar that it was meant for: of a late take also after the end of the bar, of an early one before it. */
  readonly inBarTicks: Float64Array;
  readonly barTicks: Float64Array;
  readonly msPerTick: Float64Array;
  /** 1 to 127. */
  readonly velocities: Float64Array;
  /** All hits of the take were recorded on multiples of so many ticks, as a coarse file has them; 0 for anywhere. */
  readonly stepTicks: number;
}

/** No file is so coarse that a step of its own is more than this, in quarters: what is on wider ones was not played. */
const COARSEST_QUARTERS = 1 / 48;

/**
 * The largest step of which the ticks of all recorded hits are multiples. It takes a whole take: two hits of one drum have a wide
 * one by chance.
 */
export function stepOf(voices: Iterable<readonly Hit[]>, ppq: number): number {
  let step = 0;
  for (const hits of voices) {
    for (const { recordedTick } of hits) {
      for (let rest = recordedTick ?? 0; rest !== 0; ) [step, rest] = [rest, step % rest];
      // Hot: of most files a few hits tell that there is none.
      if (step === 1) return 1;
    }
  }
  return Math.min(step, ppq * COARSEST_QUARTERS);
}

/** The same in ms, at the tempo of the first. */
export const stepMsOf = ({ stepTicks, msPerTick }: Onsets): number => stepTicks * (msPerTick[0] ?? 1);

/**
 * The hits of a voice that say something of its grid, without echoes.
 * @param lateMs how late the whole take came in
 * @param stepTicks as `stepOf` has it of the whole take
 */
export const collectOnsets = (hits: readonly Hit[], maps: TimeMaps, lateMs = 0, stepTicks = 1): Onsets =>
  rememberOnsets(hits, [maps, lateMs, stepTicks], () => onsetsOf(hits, maps, lateMs, stepTicks));

const rememberOnsets = remembering<readonly Hit[], Onsets>();

function onsetsOf(hits: readonly Hit[], { meterMap, tempoMap }: TimeMaps, lateMs: number, stepTicks: number): Onsets {
  const tickOf = (hit: Hit) => hit.recordedTick ?? baseTick(hit);
  // Base ticks ascend; only where a hand has moved hits past each other do recorded ones not.
  const sorted = hits.every((hit, row) => row === 0 || tickOf(hits[row - 1]!) <= tickOf(hit))
    ? hits
    : hits.toSorted((a, b) => tickOf(a) - tickOf(b));
  const ticks = columnOf(sorted, tickOf);
  const timesMs = ticksToMs(tempoMap, ticks);
  const velocities = columnOf(sorted, baseVelocity);
  const mainRows = findGraceNotes({ timesMs, velocities }, new Float64Array(ticks.length).fill(GRACE_STEP_MS));
  const isEcho = (row: number, near: number) =>
    near >= 0 &&
    near < ticks.length &&
    Math.abs(timesMs[row]! - timesMs[near]!) < ECHO_MS &&
    velocities[row]! <= ECHO_LOUDNESS * velocities[near]!;
  const kept: number[] = [];
  for (let row = 0; row < ticks.length; row++) {
    if (mainRows[row] === -1 && !isEcho(row, row - 1) && !isEcho(row, row + 1)) kept.push(row);
  }
  const keptTicks = new Float64Array(kept.length);
  const inBarTicks = new Float64Array(kept.length);
  const barTicks = new Float64Array(kept.length);
  const msPerTick = new Float64Array(kept.length);
  const keptVelocities = new Float64Array(kept.length);
  let bar = barAt(meterMap, 0);
  for (let index = 0; index < kept.length; index++) {
    const row = kept[index]!;
    const tick = ticks[row]!;
    keptTicks[index] = tick;
    keptVelocities[index] = velocities[row]!;
    msPerTick[index] = (tickToMs(tempoMap, tick + 100) - timesMs[row]!) / 100;
    const meantTick = Math.max(0, tick - lateMs / msPerTick[index]!);
    if (meantTick < bar.startTick || meantTick >= bar.endTick) bar = barAt(meterMap, meantTick);
    inBarTicks[index] = tick - bar.startTick;
    barTicks[index] = bar.endTick - bar.startTick;
  }
  return {
    ticks: keptTicks,
    inBarTicks,
    barTicks,
    msPerTick,
    velocities: keptVelocities,
    stepTicks,
  };
}

/** A run of so many hits shows every place in the bar that they take turns on. */
const RUN_LENGTH = 48;

/**
 * Runs of the onsets, evenly spread, so that there are hardly more than a limit: more of them tell nothing new, but cost time. Not
 * every so many of them: of hats in eighths every fourth is on a half note.
 */
export function thinned(onsets: Onsets, most: number): Onsets {
  return onsets.ticks.length <= most
    ? onsets
    : rememberThinned(onsets, [most], () => someOnsets(onsets, rowsOfRuns(onsets.ticks.length, most)));
}

const rememberThinned = remembering<Onsets, Onsets>();

/** The same of hits, before anything is made of them. */
export function thinnedHits(hits: readonly Hit[], most: number): readonly Hit[] {
  return hits.length <= most ? hits : rowsOfRuns(hits.length, most).map((row) => hits[row]!);
}

function rowsOfRuns(count: number, most: number): readonly number[] {
  const runs = Math.max(1, Math.round(most / RUN_LENGTH));
  const rows: number[] = [];
  for (let run = 0; run < runs; run++) {
    const start = Math.floor((run * (count - RUN_LENGTH)) / Math.max(1, runs - 1));
    for (let row = Math.max(start, (rows.at(-1) ?? -1) + 1); row < Math.min(count, start + RUN_LENGTH); row++)
      rows.push(row);
  }
  return rows;
}

/** Some rows of the onsets. */
export function someOnsets(onsets: Onsets, rows: ArrayLike<number>): Onsets {
  // A plain loop: `from` and `filter` of typed arrays go through iterators and calls, and are many times slower.
  const pick = (column: Float64Array) => {
    const some = new Float64Array(rows.length);
    for (let index = 0; index < some.length; index++) some[index] = column[rows[index]!]!;
    return some;
  };
  return {
    ticks: pick(onsets.ticks),
    inBarTicks: pick(onsets.inBarTicks),
    barTicks: pick(onsets.barTicks),
    msPerTick: pick(onsets.msPerTick),
    velocities: pick(onsets.velocities),
    stepTicks: onsets.stepTicks,
  };
}
