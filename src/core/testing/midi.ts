import type { MidiFile, MidiMessage } from "../smf/index.ts";

// MIDI messages and files, as tests write them down.

export const channel = (tick: number, status: number, data1: number, data2 = 0): MidiMessage => ({
  kind: "channel",
  tick,
  status,
  data1,
  data2,
});

export const meta = (tick: number, metaType: number, ...data: number[]): MidiMessage => ({
  kind: "meta",
  tick,
  metaType,
  data: Uint8Array.from(data),
});

/** A drum note with its end. */
export const note = (tick: number, key: number, velocity = 90, lengthTicks = 60): MidiMessage[] => [
  channel(tick, 0x99, key, velocity),
  channel(tick + lengthTicks, 0x89, key, 64),
];

/** A file of 480 ticks a quarter; what is in each track may be in any order. */
export const fileOf = (...tracks: readonly (readonly MidiMessage[])[]): MidiFile => ({
  format: 1,
  division: { kind: "ppq", ppq: 480 },
  tracks: tracks.map((messages) => ({ messages: messages.toSorted((a, b) => a.tick - b.tick) })),
  unknownChunks: [],
  headerExtra: new Uint8Array(0),
});
