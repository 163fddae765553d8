/** Strokes as near as this are a roll, whatever the tempo. */
const ROLL_MS = 95;
/** Faster than the grid is so much of its step. */
const FASTER_SHARE = 0.62;
const FEWEST_STROKES = 4;
/** What goes on for longer is no roll, but a voice on a grid that is too coarse for it. */
const MOST_STROKES = 32;

/**
 * Finds rolls that are faster than the grid: strokes one after the other that are nearer than its slots. Pulled to slots one by
 * one they would bunch up.
 * @param timesMs ascending
 * @param stepsMs how long a step of the voice's grid lasts at each hit
 * @param mainRows the row of the main hit of each grace note, or -1: flams and drags are no part of a roll
 * @returns for each hit the row of the first stroke of its roll, or -1
 */
export function findRolls(
  timesMs: ArrayLike<number>,
  stepsMs: ArrayLike<number>,
  mainRows: ArrayLike<number>,
): Int32Array {
  const firstRows = new Int32Array(timesMs.length).fill(-1);
  const isNext = (row: number) => {
    const gapMs = timesMs[row]! - timesMs[row - 1]!;
    if (mainRows[row] !== -1 || mainRows[row - 1] !== -1) return false;
    return gapMs <= ROLL_MS && gapMs < FASTER_SHARE * stepsMs[row]!;
  };
  for (let first = 0, end = 1; first < timesMs.length; first = end, end = first + 1) {
    while (end < timesMs.length && isNext(end)) end++;
    if (end - first >= FEWEST_STROKES && end - first <= MOST_STROKES) firstRows.fill(first, first, end);
  }
  return firstRows;
}
