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
 */
export class Turns {
  readonly #longest: number;
  #lastSlot = Number.NaN;
  #lastGap = Number.NaN;

  constructor(ppq: number) {
    this.#longest = LONGEST_IN_RUN * ppq;
  }

  /** The next hit is the first of its beat. */
  begin(): void {
    this.#lastSlot = Number.NaN;
    this.#lastGap = Number.NaN;
  }

  /** How much less likely the next hit is on a slot, at most 1. @param slotTick without swing, from the start of the take */
  next(slotTick: number): number {
    const gap = slotTick - this.#lastSlot;
    const gapBefore = this.#lastGap;
    this.#lastSlot = slotTick;
    // A shared slot says nothing of how even the others are.
    if (gap < SAME_TICKS) return ON_SHARED_SLOT;
    this.#lastGap = gap;
    const isUneven = gap < this.#longest && gapBefore < this.#longest && Math.abs(gap - gapBefore) > SAME_TICKS;
    return isUneven ? ON_UNEVEN_STEP : 1;
  }
}
