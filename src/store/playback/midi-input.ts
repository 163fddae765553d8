import type { LiveStrike } from "../../core/record/index.ts";

export type { LiveStrike };

/** What comes from an input. Times are those of the events themselves, in ms of the page's clock, and not of their handling. */
export interface InputListener {
  onStrike(strike: LiveStrike, eventMs: number, deviceName: string): void;
  /** The pad was let go. */
  onRelease?(note: number): void;
  /** How hard a held pad is pressed, or a cymbal is gripped, 0 to 127. */
  onPressure?(note: number, value: number, eventMs: number): void;
  /** A pedal or button that plays no note: a control change that went down. */
  onControl?(controller: number): void;
  /** A pulse of a clock that the device sends, 24 a quarter; and where it starts and stops. */
  onPulse?(eventMs: number): void;
  onStart?(): void;
  onStop?(): void;
}

/** What can be listened to. */
export interface MidiInput {
  /** The devices that are connected, by name. */
  readonly deviceNames: readonly string[];
  /** Why no device can be heard; null if one could. */
  readonly problem: string | null;
  stop(): void;
}

const HAT_PEDAL = 4;
const PRESSED_FROM = 64;

/** Reads the messages of an input; the pedal of each channel is remembered, for a strike says where it was. */
export function messageReader(
  listener: InputListener,
  deviceName: string,
): (data: Uint8Array, eventMs: number) => void {
  const pedals = new Map<number, number>();
  const pressed = new Set<number>();
  return (data, eventMs) => {
    const [status = 0, data1 = 0, data2 = 0] = data;
    const channel = status & 0x0f;
    switch (status >> 4) {
      case 0x9:
        if (data2 === 0) listener.onRelease?.(data1);
        else
          listener.onStrike(
            { note: data1, channel, pedal: pedals.get(channel) ?? null, velocity: data2 },
            eventMs,
            deviceName,
          );
        break;
      case 0x8:
        listener.onRelease?.(data1);
        break;
      case 0xa:
        listener.onPressure?.(data1, data2, eventMs);
        break;
      case 0xb:
        if (data1 === HAT_PEDAL) pedals.set(channel, data2);
        else if (data2 >= PRESSED_FROM && !pressed.has(data1)) listener.onControl?.(data1);
        if (data2 >= PRESSED_FROM) pressed.add(data1);
        else pressed.delete(data1);
        break;
      case 0xf:
        if (status === 0xf8) listener.onPulse?.(eventMs);
        else if (status === 0xfa || status === 0xfb) listener.onStart?.();
        else if (status === 0xfc) listener.onStop?.();
        break;
      default:
    }
  };
}

/**
 * Listens to every MIDI device that the browser lets us hear, also to those that are plugged in later.
 * @param onDevices called when devices come or go
 */
export async function listenToMidi(
  listener: InputListener,
  onDevices: (deviceNames: readonly string[]) => void,
): Promise<MidiInput> {
  const none = (problem: string): MidiInput => ({ deviceNames: [], problem, stop: () => {} });
  if (!("requestMIDIAccess" in navigator)) return none("This browser cannot hear MIDI devices.");
  let access: MIDIAccess;
  try {
    access = await navigator.requestMIDIAccess();
  } catch (error) {
    if (!(error instanceof DOMException)) throw error;
    return none("The browser was not allowed to hear MIDI devices.");
  }
  // Each device has pedals of its own.
  const readers = new Map<string, ReturnType<typeof messageReader>>();
  const inputs = () => [...access.inputs.values()].filter(({ state }) => state !== "disconnected");
  const nameOf = (input: MIDIInput) => input.name ?? "a device without a name";
  const names = () => inputs().map(nameOf);
  const connect = () => {
    for (const input of inputs()) {
      const read = readers.get(input.id) ?? messageReader(listener, nameOf(input));
      readers.set(input.id, read);
      input.onmidimessage = (event) => {
        if (event.data) read(event.data, event.timeStamp);
      };
    }
    onDevices(names());
  };
  access.onstatechange = connect;
  connect();
  const stop = () => {
    access.onstatechange = null;
    for (const input of access.inputs.values()) input.onmidimessage = null;
  };
  return { deviceNames: names(), problem: null, stop };
}
