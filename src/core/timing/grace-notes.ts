/** A grace note is at most this far before its main hit. */
const GRACE_REACH_MS = 80;
/** A grace note is at most this share as loud as its main hit. */
const GRACE_LOUDNESS = 0.7;
const MOST_GRACE_NOTES = 3;
/** In a ruff the first is farther ahead, but none farther than this from the next. */
const CHAIN_GAP_MS = 50;
const CHAIN_REACH_MS = 150;
/** Strokes within a ruff are about as soft as the next, and the first hardly louder than that: it is a stroke of its own otherwise. */
const CHAIN_LOUDNESS = 2;
const FIRST_LOUDNESS = 1.65;
/** What comes so soon after a stroke is its echo, however even the chain that it seems to begin. */
const ECHO_MS = 12;
/** Grace notes are clearly nearer than steps of the grid. */
const NEARER_THAN_STEP = 0.7;

export interface TimedHits {
  /** Ascending. */
  readonly timesMs: ArrayLike<number>;
  /** 1 to 127, one for each time. */
  readonly velocities: ArrayLike<number>;
}

/**
 * Finds the grace notes of flams, drags and ruffs: one to three weak hits shortly before a main hit of the same voice, or a chain of
 * them that leads up to it.
 * A weak hit that is as far from its main hit as the voice's grid is wide is a note of the grid and no grace note.
 * @param stepsMs how long one step of the voice's grid lasts at each hit
 * @returns for each hit the row of its main hit, or -1
 */
export function findGraceNotes({ timesMs, velocities }: TimedHits, stepsMs: ArrayLike<number>): Int32Array {
  const mainRows = new Int32Array(timesMs.length).fill(-1);
  for (let row = timesMs.length - 1; row > 0; row--) {
    if (mainRows[row] !== -1) continue;
    const reachMs = Math.min(GRACE_REACH_MS, stepsMs[row]! * NEARER_THAN_STEP);
    const gapMs = Math.min(CHAIN_GAP_MS, stepsMs[row]! * NEARER_THAN_STEP);
    const loudestGrace = velocities[row]! * GRACE_LOUDNESS;
    let first = row;
    while (first > 0 && velocities[first - 1]! <= loudestGrace) {
      const aheadMs = timesMs[row]! - timesMs[first - 1]!;
      const isInChain =
        first < row &&
        aheadMs <= CHAIN_REACH_MS &&
        timesMs[first]! - timesMs[first - 1]! <= gapMs &&
        velocities[first - 1]! <= CHAIN_LOUDNESS * velocities[first]!;
      if (aheadMs > reachMs && !isInChain) break;
      first--;
    }
    while (first < row - 1 && timesMs[row]! - timesMs[first]! > reachMs && isLouder(first, velocities)) first++;
    if (first === row) continue;
    // More than three in a row is a roll that leads up to the hit. A hit just before them shows the same.
    const isRoll = row - first > MOST_GRACE_NOTES;
    const afterMs = first > 0 ? timesMs[first]! - timesMs[first - 1]! : Number.POSITIVE_INFINITY;
    const isChain = row - first > 1 && afterMs > ECHO_MS;
    const isDouble = !isChain && afterMs < 50 && velocities[first]! <= velocities[first - 1]! * GRACE_LOUDNESS;
    if (isRoll || isDouble) continue;
    for (let grace = first; grace < row; grace++) mainRows[grace] = row;
  }
  return mainRows;
}

const isLouder = (first: number, velocities: ArrayLike<number>) =>
  velocities[first]! > FIRST_LOUDNESS * velocities[first + 1]!;
