/** A grace note is at most this far before its main hit. */
const GRACE_REACH_MS = 80;
/** A grace note is at most this share as loud as its main hit. */
const GRACE_LOUDNESS = 0.7;
const MOST_GRACE_NOTES = 3;

export interface TimedHits {
  /** Ascending. */
  readonly timesMs: ArrayLike<number>;
  /** 1 to 127, one for each time. */
  readonly velocities: ArrayLike<number>;
}

/**
 * Finds the grace notes of flams, drags and ruffs: one to three weak hits shortly before a main hit of the same voice.
 * A weak hit that is as far from its main hit as the voice's grid is wide is a note of the grid and no grace note.
 * @param stepsMs how long one step of the voice's grid lasts at each hit
 * @returns for each hit the row of its main hit, or -1
 */
export function findGraceNotes({ timesMs, velocities }: TimedHits, stepsMs: ArrayLike<number>): Int32Array {
  const mainRows = new Int32Array(timesMs.length).fill(-1);
  for (let row = timesMs.length - 1; row > 0; row--) {
    if (mainRows[row] !== -1) continue;
    const reachMs = Math.min(GRACE_REACH_MS, stepsMs[row]! * 0.7);
    const loudestGrace = velocities[row]! * GRACE_LOUDNESS;
    let first = row;
    while (first > 0 && timesMs[row]! - timesMs[first - 1]! <= reachMs && velocities[first - 1]! <= loudestGrace)
      first--;
    if (first === row) continue;
    // More than three in a row is a roll that leads up to the hit. A hit just before them shows the same.
    const isRoll = row - first > MOST_GRACE_NOTES;
    const isDouble =
      first > 0 &&
      velocities[first]! <= velocities[first - 1]! * GRACE_LOUDNESS &&
      timesMs[first]! - timesMs[first - 1]! < 50;
    if (isRoll || isDouble) continue;
    for (let grace = first; grace < row; grace++) mainRows[grace] = row;
  }
  return mainRows;
}
