import { baseTick, baseVelocity, columnOf, type Hit } from "../part/pattern.ts";
import { barAt, type TimeMaps, tickToMs } from "../time/index.ts";
import { findGraceNotes } from "./grace-notes.ts";

/** Hits that a double trigger or a flam would add; they say nothing of the grid. */
const ECHO_MS = 50;
const ECHO_LOUDNESS = 0.6;
/** Grace notes are looked for as on a grid of such steps, before the grid is known. */
const GRACE_STEP_MS = 100;

/** What finding a grid needs of each hit, as columns, since every candidate reads them several times. */
export interface Onsets {
  /** Where each was recorded, ascending. */
  readonly ticks: Float64Array;
  readonly inBarTicks: Float64Array;
  readonly barTicks: Float64Array;
  readonly msPerTick: Float64Array;
}

/** The hits of a voice that say something of its grid, without echoes. */
export function collectOnsets(hits: readonly Hit[], { meterMap, tempoMap }: TimeMaps): Onsets {
  const ticks = columnOf(hits, (hit) => hit.recordedTick ?? baseTick(hit)).sort();
  const timesMs = ticks.map((tick) => tickToMs(tempoMap, tick));
  const velocities = columnOf(hits, baseVelocity);
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
  for (const [index, row] of kept.entries()) {
    keptTicks[index] = ticks[row]!;
    const bar = barAt(meterMap, ticks[row]!);
    inBarTicks[index] = ticks[row]! - bar.startTick;
    barTicks[index] = bar.endTick - bar.startTick;
    msPerTick[index] = (tickToMs(tempoMap, ticks[row]! + 100) - timesMs[row]!) / 100;
  }
  return { ticks: keptTicks, inBarTicks, barTicks, msPerTick };
}

/** Every so many of the onsets, so that there are no more than a limit: more of them tell nothing new, but cost time. */
export function thinned(onsets: Onsets, most: number): Onsets {
  const every = Math.ceil(onsets.ticks.length / most);
  if (every <= 1) return onsets;
  const pick = (column: Float64Array) => column.filter((_, row) => row % every === 0);
  return {
    ticks: pick(onsets.ticks),
    inBarTicks: pick(onsets.inBarTicks),
    barTicks: pick(onsets.barTicks),
    msPerTick: pick(onsets.msPerTick),
  };
}
