import { ROLES, type Role } from "../document/role.ts";
import { barAt, type MeterMap } from "../time/index.ts";

/** The loudness of some hits in numbers. */
export interface LoudnessSummary {
  readonly role: Role;
  readonly count: number;
  readonly mean: number;
  /** Standard deviation, in velocity. */
  readonly spread: number;
  /** How far the loudest stands out: its velocity over the root of the mean square. 1 if all are alike. */
  readonly crest: number;
}

/** Mean, spread and crest of each role that has hits. */
export function summarizeLoudness(velocities: ArrayLike<number>, roles: Uint8Array): readonly LoudnessSummary[] {
  return ROLES.flatMap((role, place): LoudnessSummary[] => {
    let [count, sum, squares, loudest] = [0, 0, 0, 0];
    for (let row = 0; row < roles.length; row++) {
      if (roles[row] !== place) continue;
      const velocity = velocities[row]!;
      count++;
      sum += velocity;
      squares += velocity * velocity;
      loudest = Math.max(loudest, velocity);
    }
    if (count === 0) return [];
    const mean = sum / count;
    const spread = Math.sqrt(Math.max(0, squares / count - mean * mean));
    return [{ role, count, mean, spread, crest: loudest / Math.sqrt(squares / count) }];
  });
}

export interface BarDifference {
  readonly barIndex: number;
  readonly startTick: number;
  readonly endTick: number;
  /** How much louder or softer its hits are on average, in velocity. */
  readonly meanChange: number;
}

/** The bars whose loudness differs most between two sides, the most different first; none that differ by less than one. */
export function barsThatDiffer(
  before: ArrayLike<number>,
  after: ArrayLike<number>,
  ticks: ArrayLike<number>,
  meterMap: MeterMap,
  most: number,
): readonly BarDifference[] {
  const bars = new Map<number, { startTick: number; endTick: number; change: number; size: number; count: number }>();
  let bar = barAt(meterMap, 0);
  for (let row = 0; row < ticks.length; row++) {
    const tick = Math.max(0, ticks[row]!);
    if (tick < bar.startTick || tick >= bar.endTick) bar = barAt(meterMap, tick);
    const { barIndex, startTick, endTick } = bar;
    const entry = bars.get(barIndex) ?? { startTick, endTick, change: 0, size: 0, count: 0 };
    const change = after[row]! - before[row]!;
    entry.change += change;
    entry.size += Math.abs(change);
    entry.count++;
    bars.set(barIndex, entry);
  }
  return [...bars]
    .filter(([, { size, count }]) => size / count >= 1)
    .sort(([, a], [, b]) => b.size / b.count - a.size / a.count)
    .slice(0, most)
    .map(([barIndex, { startTick, endTick, change, count }]) => ({
      barIndex,
      startTick,
      endTick,
      meanChange: change / count,
    }));
}

/** Hits nearer than this to the one before are in a row … */
const IN_A_ROW_MS = 300;
/** … and so many alike are heard as a machine. */
const FEWEST_ALIKE = 4;

/**
 * Hits in a row that trigger the same sound: the same velocity, and so the same layer of the kit.
 * @param timesMs when each sounds, ascending
 * @returns rows
 */
export function findAlike(velocities: ArrayLike<number>, timesMs: ArrayLike<number>): readonly number[] {
  const rows: number[] = [];
  for (let start = 0, end = 0; start < velocities.length; start = end) {
    for (
      end = start + 1;
      end < velocities.length &&
      velocities[end] === velocities[start] &&
      timesMs[end]! - timesMs[end - 1]! <= IN_A_ROW_MS;
      end++
    );
    if (end - start >= FEWEST_ALIKE) for (let row = start; row < end; row++) rows.push(row);
  }
  return rows;
}
