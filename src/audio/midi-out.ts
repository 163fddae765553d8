import type { SoundEvent } from "./transport.ts";

/** What is needed of a device that plays: a Web MIDI output is one. Times are in ms of the page's clock. */
export interface MidiPort {
  send(data: readonly number[], timeMs?: number): void;
  /** Takes back what was sent for later, where the browser can. */
  clear?(): void;
}

/** Where a stroke goes out. */
export interface OutNote {
  readonly note: number;
  /** 0 to 15. */
  readonly channel: number;
  /** Where the hat pedal is for it, 0 (open) to 127; null for what is no hat. */
  readonly pedal: number | null;
}

const NOTE_MS = 50;
const HAT_PEDAL = 4;
const ALL_SOUND_OFF = 120;
const ALL_NOTES_OFF = 123;
const CHOKE_PRESSURE = 127;

/** Plays on a device what the engine plays in the kit: each event at its moment of the audio clock, as notes of the outgoing map. */
export class MidiOut {
  readonly #port: MidiPort;
  readonly #noteOf: (event: SoundEvent) => OutNote | null;
  readonly #channels = new Set<number>();
  /** Where the pedal was put last, by channel. */
  readonly #pedals = new Map<number, number>();
  #ends: { readonly note: OutNote; readonly endMs: number }[] = [];

  constructor(port: MidiPort, noteOf: (event: SoundEvent) => OutNote | null) {
    this.#port = port;
    this.#noteOf = noteOf;
  }

  /** @param timeMs when it is to be heard, on the page's clock */
  play(event: SoundEvent, timeMs: number): void {
    const out = this.#noteOf(event);
    if (!out) return;
    const { note, channel, pedal } = out;
    this.#channels.add(channel);
    if (pedal !== null && this.#pedals.get(channel) !== pedal) {
      this.#pedals.set(channel, pedal);
      this.#port.send([0xb0 | channel, HAT_PEDAL, pedal], timeMs);
    }
    this.#port.send([0x90 | channel, note, Math.max(1, Math.min(127, Math.round(event.velocity)))], timeMs);
    const lengthMs = Math.min(NOTE_MS, event.stopAfterMs ?? NOTE_MS);
    this.#port.send([0x80 | channel, note, 0], timeMs + lengthMs);
    if (event.stopAfterMs !== undefined) {
      // A hand on the cymbal: pressed, and let go.
      this.#port.send([0xa0 | channel, note, CHOKE_PRESSURE], timeMs + event.stopAfterMs);
      this.#port.send([0xa0 | channel, note, 0], timeMs + event.stopAfterMs + 1);
    }
    this.#ends = [...this.#ends.filter(({ endMs }) => endMs > timeMs - 1000), { note: out, endMs: timeMs + lengthMs }];
  }

  /** A hand on a drum that sounds: pressed, and let go. */
  damp(event: SoundEvent): void {
    const out = this.#noteOf(event);
    if (!out) return;
    this.#port.send([0xa0 | out.channel, out.note, CHOKE_PRESSURE]);
    this.#port.send([0xa0 | out.channel, out.note, 0]);
  }

  /** Ends all that sounds, and takes back what was sent ahead. @param nowMs on the page's clock */
  silence(nowMs: number): void {
    this.#port.clear?.();
    for (const { note, endMs } of this.#ends) {
      if (endMs > nowMs) this.#port.send([0x80 | note.channel, note.note, 0]);
    }
    this.#ends = [];
    for (const channel of this.#channels) {
      this.#port.send([0xb0 | channel, ALL_NOTES_OFF, 0]);
      this.#port.send([0xb0 | channel, ALL_SOUND_OFF, 0]);
    }
  }

  /** Silence on every channel, whatever was played there. */
  panic(): void {
    this.#port.clear?.();
    for (let channel = 0; channel < 16; channel++) {
      this.#port.send([0xb0 | channel, ALL_NOTES_OFF, 0]);
      this.#port.send([0xb0 | channel, ALL_SOUND_OFF, 0]);
    }
    this.#ends = [];
  }
}
