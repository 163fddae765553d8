import type { Strike } from "../core/document/index.ts";

/** A note that was struck, and how hard (1 to 127). */
export interface LiveStrike extends Strike {
  readonly velocity: number;
}

/** What can be listened to. */
export interface MidiInput {
  /** The devices that are connected, by name. */
  readonly deviceNames: readonly string[];
  /** Why no device can be heard; null if one could. */
  readonly problem: string | null;
  stop(): void;
}

/** Reads the messages of an input; the pedal of each channel is remembered, for a strike says where it was. */
export function strikeReader(onStrike: (strike: LiveStrike) => void): (data: Uint8Array) => void {
  const pedals = new Map<number, number>();
  return (data) => {
    const [status = 0, data1 = 0, data2 = 0] = data;
    const channel = status & 0x0f;
    if (status >> 4 === 0xb && data1 === 4) pedals.set(channel, data2);
    if (status >> 4 !== 0x9 || data2 === 0) return;
    onStrike({ note: data1, channel, pedal: pedals.get(channel) ?? null, velocity: data2 });
  };
}

/**
 * Listens to every MIDI device that the browser lets us hear, also to those that are plugged in later.
 * @param onDevices called when devices come or go
 */
export async function listenToMidi(
  onStrike: (strike: LiveStrike) => void,
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
  const read = strikeReader(onStrike);
  const onMessage = (event: MIDIMessageEvent) => {
    if (event.data) read(event.data);
  };
  const inputs = () => [...access.inputs.values()];
  const names = () => inputs().map((input) => input.name ?? "a device without a name");
  const connect = () => {
    for (const input of inputs()) input.onmidimessage = onMessage;
    onDevices(names());
  };
  access.onstatechange = connect;
  connect();
  const stop = () => {
    access.onstatechange = null;
    for (const input of inputs()) input.onmidimessage = null;
  };
  return { deviceNames: names(), problem: null, stop };
}
