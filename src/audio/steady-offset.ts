/** What two clocks of a computer drift apart at the most: each is within 100 millionths. */
const MOST_DRIFT = 200e-6;
/** More than this is no hiccup: sound stood still, and what is planned by its clock must go with it. */
const LONGEST_HICCUP_MS = 50;

/**
 * How far the page's clock is ahead of the audio clock, for a device that plays by itself. On a busy machine sound stumbles by a few
 * hundredths of a second; in the kit that is one crackle, but a device that followed would be off the beat from there on. So it
 * follows only as fast as clocks drift.
 */
export class SteadyOffset {
  #offsetMs: number;
  #readAtMs: number;

  constructor(offsetMs: number, nowMs: number) {
    this.#offsetMs = offsetMs;
    this.#readAtMs = nowMs;
  }

  /** @param offsetMs what the clocks say now @param nowMs on the page's clock @returns what to go by, in ms */
  follow(offsetMs: number, nowMs: number): number {
    const apartMs = offsetMs - this.#offsetMs;
    const mostMs = MOST_DRIFT * Math.max(0, nowMs - this.#readAtMs);
    this.#readAtMs = nowMs;
    const isHiccup = Math.abs(apartMs) <= LONGEST_HICCUP_MS;
    this.#offsetMs += isHiccup ? Math.max(-mostMs, Math.min(mostMs, apartMs)) : apartMs;
    return this.#offsetMs;
  }
}
