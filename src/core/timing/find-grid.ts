import { baseTick, baseVelocity, columnOf, type Hit } from "../part/pattern.ts";
import { barAt, GRID_CHOICES, type Grid, gridName, gridStepTicks, type TimeMaps, tickToMs } from "../time/index.ts";
import { median, summarizeDrifts } from "./drift.ts";

/** The grid on which a voice was played, and how well it explains the hits. */
export interface FoundGrid {
  readonly grid: Grid;
  /** 0 to 1: the share of hits that sit on a slot rather than anywhere. */
  readonly shareExplained: number;
  /** The voice's habit, late is positive. */
  readonly meanDriftMs: number;
  /** Robust standard deviation of the drifts around their mean. */
  readonly spreadMs: number;
  readonly runnerUp: Grid | null;
  /** True if no grid explains the hits better than chance. */
  readonly isPoor: boolean;
}

/** Hits that a double trigger or a flam would add; they say nothing of the grid. */
const ECHO_MS = 50;
const ECHO_LOUDNESS = 0.6;
/** More hits than this tell nothing new of the grid, but cost time. */
const MOST_HITS = 2500;
/** A priori share of hits that belong to no slot. */
const STRAY_SHARE = 0.02;
/** What is known of a player before the first hit: a spread of 8 ms, counted as if four hits had shown it … */
const PRIOR_SPREAD_MS = 8;
const PRIOR_HITS = 4;
/** … and a habit that is rarely farther off the line than this. */
const PRIOR_HABIT_MS = 20;
/** A grid is played only if at least this share of the hits is on slots that no coarser grid has. */
const SMALLEST_FINEST_SHARE = 0.02;

/** What the score needs of each hit, as columns, since every candidate reads them several times. */
interface Onsets {
  readonly inBarTicks: Float64Array;
  readonly barTicks: Float64Array;
  readonly msPerTick: Float64Array;
}

/**
 * Finds the grid of a voice from the drifts of its hits.
 *
 * Each candidate says: a hit is on a slot, off by the voice's habit and a normal spread, or (rarely) anywhere in the bar.
 * A candidate's slots fall into levels (quarters, the eighths between, the sixteenths between those …) and each level
 * has the share of the hits that is found on it. A finer grid always fits more closely, but it spreads the same hits over
 * more slots and pays half the logarithm of the number of hits for each level, so it must be needed to win.
 *
 * @param hits of one voice, ascending by base tick
 * @returns null for a voice without hits
 * @source maximum likelihood with the Bayesian information criterion; the spread is 1.4826 · the median deviation
 */
export function findGrid(hits: readonly Hit[], maps: TimeMaps): FoundGrid | null {
  const onsets = collectOnsets(hits, maps);
  if (onsets.inBarTicks.length === 0) return null;
  const scored = GRID_CHOICES.map((grid) => scoreGrid(grid, onsets, maps.meterMap.ppq)).sort(
    (a, b) => b.score - a.score,
  );
  const [best, second] = scored as [GridScore, GridScore];
  const { inBarTicks, barTicks, msPerTick } = onsets;
  let chance = 0;
  for (let row = 0; row < inBarTicks.length; row++) chance -= Math.log(barTicks[row]! * msPerTick[row]!);
  return {
    grid: best.grid,
    shareExplained: best.shareExplained,
    meanDriftMs: best.meanDriftMs,
    spreadMs: best.spreadMs,
    runnerUp: second.grid,
    isPoor: best.score - chance < 0.25 * inBarTicks.length,
  };
}

function collectOnsets(hits: readonly Hit[], { meterMap, tempoMap }: TimeMaps): Onsets {
  const every = Math.max(1, Math.ceil(hits.length / MOST_HITS));
  const ticks = columnOf(hits, (hit) => hit.recordedTick ?? baseTick(hit)).sort();
  const timesMs = ticks.map((tick) => tickToMs(tempoMap, tick));
  const velocities = columnOf(hits, baseVelocity);
  const isEcho = (row: number, near: number) =>
    near >= 0 &&
    near < ticks.length &&
    Math.abs(timesMs[row]! - timesMs[near]!) < ECHO_MS &&
    velocities[row]! <= ECHO_LOUDNESS * velocities[near]!;
  const kept: number[] = [];
  for (let row = 0; row < ticks.length; row += every) {
    if (!isEcho(row, row - 1) && !isEcho(row, row + 1)) kept.push(row);
  }
  const inBarTicks = new Float64Array(kept.length);
  const barTicks = new Float64Array(kept.length);
  const msPerTick = new Float64Array(kept.length);
  for (const [index, row] of kept.entries()) {
    const bar = barAt(meterMap, ticks[row]!);
    inBarTicks[index] = ticks[row]! - bar.startTick;
    barTicks[index] = bar.endTick - bar.startTick;
    msPerTick[index] = (tickToMs(tempoMap, ticks[row]! + 100) - timesMs[row]!) / 100;
  }
  return { inBarTicks, barTicks, msPerTick };
}

interface GridScore {
  readonly grid: Grid;
  readonly score: number;
  readonly shareExplained: number;
  readonly meanDriftMs: number;
  readonly spreadMs: number;
}

function scoreGrid(grid: Grid, onsets: Onsets, ppq: number): GridScore {
  const stepTicks = gridStepTicks(grid, ppq);
  const { inBarTicks, barTicks, msPerTick } = onsets;
  const count = inBarTicks.length;
  const driftsMs = new Float64Array(count);
  const levels = new Uint8Array(count);
  const levelOf = buildLevels(grid, ppq, barTicks);

  let meanDriftMs = circularMeanMs(onsets, stepTicks);
  // The mean and the slots depend on each other; both settle within a few rounds.
  for (let round = 0; round < 3; round++) {
    for (let row = 0; row < count; row++) {
      const centred = inBarTicks[row]! - meanDriftMs / msPerTick[row]!;
      const index = Math.max(0, Math.floor(centred / stepTicks));
      const before = Math.min(index * stepTicks, barTicks[row]!);
      // The next slot, or the bar line if that comes first; bar lines are slots of every grid.
      const after = Math.min(before + stepTicks, barTicks[row]!);
      const isAfter = after - centred <= centred - before;
      driftsMs[row] = (inBarTicks[row]! - (isAfter ? after : before)) * msPerTick[row]!;
      levels[row] = isAfter && after >= barTicks[row]! - 1e-6 ? 0 : levelOf.levelOfSlot[isAfter ? index + 1 : index]!;
    }
    meanDriftMs = median(driftsMs);
  }
  const ownSpreadMs = summarizeDrifts(driftsMs).spreadMs;
  const spreadMs = Math.sqrt((count * ownSpreadMs ** 2 + PRIOR_HITS * PRIOR_SPREAD_MS ** 2) / (count + PRIOR_HITS));

  const hitsOfLevel = new Float64Array(levelOf.slotsOfLevel.length);
  for (const level of levels) hitsOfLevel[level]!++;
  let score = 0;
  let explained = 0;
  const densityOfLevel = hitsOfLevel.map(
    (hitsHere, level) => hitsHere / count / Math.max(1, levelOf.slotsOfLevel[level]!),
  );
  for (let row = 0; row < count; row++) {
    const deviation = (driftsMs[row]! - meanDriftMs) / spreadMs;
    const bell = Math.exp(-0.5 * deviation * deviation) / (spreadMs * Math.sqrt(2 * Math.PI));
    const onSlot = (1 - STRAY_SHARE) * densityOfLevel[levels[row]!]! * bell;
    const anywhere = STRAY_SHARE / (barTicks[row]! * msPerTick[row]!);
    score += Math.log(onSlot + anywhere);
    if (onSlot > anywhere) explained++;
  }
  score -= 0.5 * Math.log(count + 1) * levelOf.slotsOfLevel.length + familyPrice(grid, levelOf.isEven);
  score -= 0.5 * (meanDriftMs / PRIOR_HABIT_MS) ** 2;
  // A union of two plainer grids fits a part that mixes them, but nobody plays its finest slots.
  if (hitsOfLevel.at(-1)! < SMALLEST_FINEST_SHARE * count && levelOf.slotsOfLevel.length > 2) score = -Infinity;
  return { grid, score, shareExplained: explained / count, meanDriftMs, spreadMs };
}

/** Where two families explain a voice equally well, people mean the plainer one; dotted grids are for compound meters. */
function familyPrice(grid: Grid, isEven: boolean): number {
  if (grid.family === "straight") return 0;
  return grid.family === "triplet" || isEven ? 1 : 6;
}

interface Levels {
  /** Which level each slot of a bar is on, 0 the coarsest. */
  readonly levelOfSlot: Uint8Array;
  readonly slotsOfLevel: readonly number[];
  /** Whether the steps fill a bar without a rest. */
  readonly isEven: boolean;
}

/** Sorts the slots of a bar into levels: the bar line, those that are also quarters, also eighths, and so on. */
function buildLevels(grid: Grid, ppq: number, barTicks: Float64Array): Levels {
  const stepTicks = gridStepTicks(grid, ppq);
  const longestBar = barTicks.reduce((longest, ticks) => Math.max(longest, ticks), 0);
  const coarser: Grid[] = [];
  for (const denominator of [4, 8, 16, 32, 64] as const) {
    if (denominator < grid.denominator) coarser.push({ family: "straight", denominator });
    // Every second eighth triplet is a quarter triplet, but nobody who plays eighth triplets thinks of those.
    if (denominator < grid.denominator && denominator >= 8 && grid.family === "triplet") {
      coarser.push({ family: "triplet", denominator });
    }
  }
  if (grid.family === "triplet")
    coarser.splice(0, coarser.length, ...coarser.filter((other) => isWithin(other, grid, ppq)));
  else if (grid.family === "dotted") coarser.length = 0;
  const ladder = [longestBar, ...[...coarser, grid].map((step) => gridStepTicks(step, ppq))];
  const levelOfSlot = new Uint8Array(Math.ceil(longestBar / stepTicks) + 2);
  for (let slot = 0; slot < levelOfSlot.length; slot++) {
    levelOfSlot[slot] = ladder.findIndex((ticks) => isMultiple(slot * stepTicks, ticks));
  }
  const usualBar = median(barTicks);
  const slotsInBar = Math.max(1, Math.ceil(usualBar / stepTicks - 1e-6));
  const slotsOfLevel = ladder.map(() => 0);
  for (let slot = 0; slot < slotsInBar; slot++) slotsOfLevel[levelOfSlot[slot]!]!++;
  return { levelOfSlot, slotsOfLevel, isEven: isMultiple(usualBar, stepTicks) };
}

function isMultiple(ticks: number, ofTicks: number): boolean {
  const ratio = ticks / ofTicks;
  return Math.abs(ratio - Math.round(ratio)) < 1e-6;
}

function isWithin(coarse: Grid, fine: Grid, ppq: number): boolean {
  return isMultiple(gridStepTicks(coarse, ppq), gridStepTicks(fine, ppq));
}

/** The mean of the drifts on a circle one step around, so that late and early do not cancel at the half-way point. */
function circularMeanMs({ inBarTicks, msPerTick }: Onsets, stepTicks: number): number {
  let sine = 0;
  let cosine = 0;
  let meanMsPerTick = 0;
  for (let row = 0; row < inBarTicks.length; row++) {
    const angle = (2 * Math.PI * inBarTicks[row]!) / stepTicks;
    sine += Math.sin(angle);
    cosine += Math.cos(angle);
    meanMsPerTick += msPerTick[row]! / inBarTicks.length;
  }
  return (Math.atan2(sine, cosine) / (2 * Math.PI)) * stepTicks * meanMsPerTick;
}

/** `eighths, 6 ms early`: how a voice was played, in the words of a lane head. */
export function foundGridSentence(found: FoundGrid): string {
  if (found.isPoor) return "on no grid that fits";
  const ms = Math.round(found.meanDriftMs);
  return `${gridName(found.grid)}, ${ms === 0 ? "on the line" : `${Math.abs(ms)} ms ${ms > 0 ? "late" : "early"}`}`;
}
