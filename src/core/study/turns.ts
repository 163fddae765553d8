/**
 * Hardly any drum is struck twice for one slot, but for grace notes and double triggers, which are no onsets: how much less likely it is
 * that a hit is on the slot of the one before.
 */
const ON_SHARED_SLOT = 0.05;
/** Runs are even: how much less likely a step of another length within one is. A gap longer than this, in quarters, is in no run. */
const ON_UNEVEN_STEP = 0.25;
const LONGEST_IN_RUN = 0.3;
/** Slots that are nearer than this are one, and steps of lengths that are nearer are even, in ticks. */
const SAME_TICKS = 0.5;

/**
 * What the slots of a drum's hits say of one another within a beat: hardly two of them are one, and those of a run are even. Eight strokes
 * in a beat are thirty-seconds, and not some of the twelve slots that sixths have.
 * Hot: whoever asks keeps the gaps, since an object that keeps them is slower.
 * @param gap from the slot of the hit before, without swing, in ticks; not a number for the first of a beat
 * @param gapBefore what `nextGap` said of the hit before; not a number if there was none
 * @returns how much less likely the hit is there, at most 1
 */
export function turnOn(gap: number, gapBefore: number, ppq: number): number {
  if (gap < SAME_TICKS) return ON_SHARED_SLOT;
  const longest = LONGEST_IN_RUN * ppq;
  const isUneven = gap < longest && gapBefore < longest && Math.abs(gap - gapBefore) > SAME_TICKS;
  return isUneven ? ON_UNEVEN_STEP : 1;
}

/** The gap that the next one is compared with: a shared slot says nothing of how even the others are. */
export const nextGap = (gap: number, gapBefore: number): number => (gap < SAME_TICKS ? gapBefore : gap);
