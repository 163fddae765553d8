/** Where the hits of a voice sit against their slots. */
export interface DriftSummary {
  /** The middle drift: the voice's habit, late is positive. */
  readonly meanMs: number;
  /** How far the drifts scatter around it. */
  readonly spreadMs: number;
}

/**
 * Sums up drifts so that a few strays (flams, double triggers, a wrong slot) do not count.
 * @param driftsMs late is positive
 * @param stepMs how far apart the places are on which they can be, as a coarse file has them; 0 for anywhere
 * @returns the median, and 1.4826 · the median distance from it, which for bell-shaped drifts is the standard deviation
 */
export function summarizeDrifts(driftsMs: ArrayLike<number>, stepMs = 0): DriftSummary {
  if (driftsMs.length === 0) return { meanMs: 0, spreadMs: 0 };
  const meanMs = median(driftsMs);
  const distances = new Float64Array(driftsMs.length);
  for (let row = 0; row < distances.length; row++) distances[row] = Math.abs(driftsMs[row]! - meanMs);
  const middleMs = median(distances);
  // Of a steady hand most are on one place or beside it: the middle distance is none or a whole step, whatever the others are.
  const isOfSteps = middleMs < 1.5 * stepMs;
  return { meanMs, spreadMs: isOfSteps ? rootOfSquares(distances, STRAY * (middleMs + stepMs)) : 1.4826 * middleMs };
}

/** Farther off than so many middle distances, each a step more than it seems, are strays. */
const STRAY = 2.5;

/** The standard deviation by the distances up to some limit. */
function rootOfSquares(distances: Float64Array, limit: number): number {
  let squares = 0;
  let count = 0;
  for (const distance of distances) {
    if (distance > limit) continue;
    squares += distance * distance;
    count++;
  }
  return Math.sqrt(squares / count);
}

/**
 * Counts drifts in even bins around the zero line.
 * @param reachMs how far the bins go to either side; drifts beyond are not counted
 * @returns the counts from the earliest bin to the latest; bin i begins at `−reachMs + i · binMs`
 */
export function countDrifts(driftsMs: ArrayLike<number>, reachMs: number, binMs: number): Uint32Array {
  const counts = new Uint32Array(Math.ceil((2 * reachMs) / binMs));
  for (let row = 0; row < driftsMs.length; row++) {
    const bin = Math.floor((driftsMs[row]! + reachMs) / binMs);
    if (bin >= 0 && bin < counts.length) counts[bin]!++;
  }
  return counts;
}

/** The middle value; the mean of the two middle ones of an even number. */
export function median(values: ArrayLike<number>): number {
  const pool = new Float64Array(values);
  const middle = pool.length >> 1;
  const upper = selectNth(pool, middle);
  if (pool.length % 2 === 1) return upper;
  // What lies before the middle is no larger; its largest is the other middle value.
  let lower = Number.NEGATIVE_INFINITY;
  for (let index = 0; index < middle; index++) lower = Math.max(lower, pool[index]!);
  return (lower + upper) / 2;
}

/**
 * Moves the nth smallest value to place n, with nothing larger before it. Grid finding takes hundreds of medians, and
 * sorting for them was most of its time.
 * @source Hoare's selection
 */
function selectNth(values: Float64Array, nth: number): number {
  let left = 0;
  let right = values.length - 1;
  while (left < right) {
    const pivot = values[(left + right) >> 1]!;
    let low = left;
    let high = right;
    while (low <= high) {
      while (values[low]! < pivot) low++;
      while (values[high]! > pivot) high--;
      if (low > high) break;
      const kept = values[low]!;
      values[low++] = values[high]!;
      values[high--] = kept;
    }
    if (nth <= high) right = high;
    else if (nth >= low) left = low;
    else break;
  }
  return values[nth]!;
}
