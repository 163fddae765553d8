/** A note, controller, program, pressure or pitch-bend message. */
export interface ChannelMessage {
  readonly kind: "channel";
  /** Ticks from the start of the track. */
  readonly tick: number;
  /** 0x80 to 0xEF: the kind of message in the high half, the channel (0 to 15) in the low half. */
  readonly status: number;
  readonly data1: number;
  /** 0 for messages with one data byte (program change, channel pressure). */
  readonly data2: number;
}

export interface MetaMessage {
  readonly kind: "meta";
  readonly tick: number;
  readonly metaType: number;
  readonly data: Uint8Array;
}

/** Status 0xF0 starts a system-exclusive message, 0xF7 continues or escapes one. The data is kept as the file has it. */
export interface SysexMessage {
  readonly kind: "sysex";
  readonly tick: number;
  readonly status: 0xf0 | 0xf7;
  readonly data: Uint8Array;
}

export type MidiMessage = ChannelMessage | MetaMessage | SysexMessage;

export type Division =
  | { readonly kind: "ppq"; readonly ppq: number }
  | { readonly kind: "smpte"; readonly framesPerSecond: 24 | 25 | 29 | 30; readonly ticksPerFrame: number };

export interface Track {
  readonly messages: readonly MidiMessage[];
}

/** A chunk that is neither header nor track; it goes out again at the place where it came in. */
export interface UnknownChunk {
  readonly id: string;
  readonly data: Uint8Array;
  readonly beforeTrackIndex: number;
}

export interface MidiFile {
  readonly format: 0 | 1 | 2;
  readonly division: Division;
  readonly tracks: readonly Track[];
  readonly unknownChunks: readonly UnknownChunk[];
  /** Header bytes after the six that the standard defines; empty in almost every file. */
  readonly headerExtra: Uint8Array;
}

/** What the reader found damaged and read around. */
export interface Notice {
  readonly code: string;
  readonly message: string;
  readonly byteOffset: number;
}

export const META = {
  sequenceNumber: 0x00,
  text: 0x01,
  copyright: 0x02,
  trackName: 0x03,
  instrumentName: 0x04,
  lyric: 0x05,
  marker: 0x06,
  cuePoint: 0x07,
  channelPrefix: 0x20,
  port: 0x21,
  endOfTrack: 0x2f,
  tempo: 0x51,
  smpteOffset: 0x54,
  meter: 0x58,
  key: 0x59,
  sequencerSpecific: 0x7f,
} as const;

/** The longest distance that one delta time can hold. */
export const MAX_DELTA_TICKS = 0x0fffffff;

export function isNoteOn(message: MidiMessage): message is ChannelMessage {
  return message.kind === "channel" && message.status >> 4 === 0x9 && message.data2 > 0;
}

/** True for note-off and for note-on with velocity 0, which means the same. */
export function isNoteOff(message: MidiMessage): message is ChannelMessage {
  return (
    message.kind === "channel" && (message.status >> 4 === 0x8 || (message.status >> 4 === 0x9 && message.data2 === 0))
  );
}

export function channelOf(message: ChannelMessage): number {
  return message.status & 0x0f;
}
