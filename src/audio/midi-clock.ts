import { PULSES_PER_QUARTER } from "../core/record/index.ts";
import type { MidiPort } from "./midi-out.ts";

const PULSE = 0xf8;
const START = 0xfa;
const STOP = 0xfc;

/** Tells a device how fast it goes: start, 24 pulses a quarter, and stop. @source MIDI 1.0, system real-time messages */
export class MidiClock {
  readonly #port: MidiPort;
  /** When the next pulse is due, on the audio clock. */
  #nextS: number;

  /** @param startS when it begins, on the audio clock @param pageMs the same on the page's clock */
  constructor(port: MidiPort, startS: number, pageMs: number) {
    this.#port = port;
    this.#nextS = startS;
    port.send([START], pageMs);
  }

  /**
   * Sends the pulses up to a moment of the audio clock.
   * @param msPerQuarterAt how long a quarter lasts at a moment
   * @param pageMsOf when a moment is heard, on the page's clock
   */
  plan(untilS: number, msPerQuarterAt: (timeS: number) => number, pageMsOf: (timeS: number) => number): void {
    while (this.#nextS < untilS) {
      this.#port.send([PULSE], pageMsOf(this.#nextS));
      this.#nextS += msPerQuarterAt(this.#nextS) / 1000 / PULSES_PER_QUARTER;
    }
  }

  stop(): void {
    this.#port.send([STOP]);
  }
}
