import { channelOf, META, type MidiMessage, readText } from "../smf/index.ts";

export const MESSAGE_KINDS = [
  "note",
  "note end",
  "controller",
  "pressure",
  "program",
  "pitch bend",
  "tempo and meter",
  "text",
  "system exclusive",
  "other",
] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

export function kindOf(message: MidiMessage): MessageKind {
  if (message.kind === "sysex") return "system exclusive";
  if (message.kind === "meta") {
    if (message.metaType >= 0x01 && message.metaType <= 0x0f) return "text";
    return TIME_METAS.has(message.metaType) ? "tempo and meter" : "other";
  }
  const { status, data2 } = message;
  return status >> 4 === 0x9 && data2 === 0 ? "note end" : CHANNEL_KINDS[(status >> 4) - 0x8]!;
}

const TIME_METAS: ReadonlySet<number> = new Set([META.tempo, META.meter, META.key, META.smpteOffset]);
const CHANNEL_KINDS = [
  "note end",
  "note",
  "pressure",
  "controller",
  "program",
  "pressure",
  "pitch bend",
] as const satisfies readonly MessageKind[];

/** Controllers that turn up beside drums. */
const CONTROLLER_NAMES: Readonly<Record<number, string>> = {
  0: "bank",
  1: "modulation",
  2: "breath",
  4: "hat pedal",
  7: "volume",
  10: "pan",
  11: "expression",
  16: "stick position",
  17: "stick position",
  64: "sustain",
  120: "all sound off",
  121: "reset all controllers",
  123: "all notes off",
};

const TEXT_NAMES: Readonly<Record<number, string>> = {
  [META.text]: "Text",
  [META.copyright]: "Copyright",
  [META.trackName]: "Track name",
  [META.instrumentName]: "Instrument",
  [META.lyric]: "Lyric",
  [META.marker]: "Marker",
  [META.cuePoint]: "Cue",
};

/** What a message says, in words: `Hi-hat, note 42` or `Tempo 92 bpm`. How loud a note is has a column of its own. */
export function messageWords(message: MidiMessage, voiceName: string | null): string {
  if (message.kind === "sysex") return `${message.data.length} bytes for one make of device`;
  if (message.kind === "meta") return metaWords(message.metaType, message.data);
  const { data1, data2 } = message;
  const drum = voiceName ? `${voiceName}, note ${data1}` : `Note ${data1}`;
  switch (kindOf(message)) {
    case "note":
      return drum;
    case "note end":
      return `${voiceName ?? drum} ends`;
    case "pressure":
      return message.status >> 4 === 0xa ? `Pressure on note ${data1}: ${data2}` : `Pressure on the channel: ${data1}`;
    case "controller": {
      const name = CONTROLLER_NAMES[data1];
      return `Controller ${data1}${name ? `, ${name}` : ""}: ${data2}`;
    }
    case "program":
      return `Program ${data1 + 1}`;
    default: {
      const bend = (data2 << 7) + data1 - 8192;
      return `Pitch bend ${bend > 0 ? "+" : ""}${bend}`;
    }
  }
}

function metaWords(metaType: number, data: Uint8Array): string {
  const [a = 0, b = 0, c = 0] = data;
  switch (metaType) {
    case META.tempo: {
      const usPerQuarter = (a << 16) | (b << 8) | c;
      return usPerQuarter === 0 ? "Tempo without a value" : `Tempo ${roundTo(60_000_000 / usPerQuarter, 2)} bpm`;
    }
    case META.meter:
      return `Meter ${a}/${2 ** b}`;
    case META.key:
      return `Key of ${keyName((a << 24) >> 24, b === 1)}`;
    case META.smpteOffset:
      return "Film offset";
    case META.endOfTrack:
      return "End of the track";
    case META.channelPrefix:
      return `For channel ${a + 1}`;
    case META.port:
      return `Port ${a + 1}`;
    case META.sequenceNumber:
      return `Sequence ${(a << 8) | b}`;
    default: {
      if (metaType === META.sequencerSpecific) return `Sequencer-specific, ${data.length} bytes`;
      if (metaType > 0x0f) return `${data.length} bytes of kind ${metaType}`;
      return `${TEXT_NAMES[metaType] ?? "Text"}: ${readText(data)}`;
    }
  }
}

const SHARP_SIDE = ["C", "G", "D", "A", "E", "B", "F sharp", "C sharp"];
const FLAT_SIDE = ["C", "F", "B flat", "E flat", "A flat", "D flat", "G flat", "C flat"];
const MINOR_SHARP = ["A", "E", "B", "F sharp", "C sharp", "G sharp", "D sharp", "A sharp"];
const MINOR_FLAT = ["A", "D", "G", "C", "F", "B flat", "E flat", "A flat"];

function keyName(sharps: number, isMinor: boolean): string {
  const names = isMinor ? (sharps < 0 ? MINOR_FLAT : MINOR_SHARP) : sharps < 0 ? FLAT_SIDE : SHARP_SIDE;
  return `${names[Math.min(7, Math.abs(sharps))]} ${isMinor ? "minor" : "major"}`;
}

const roundTo = (value: number, digits: number) => Math.round(value * 10 ** digits) / 10 ** digits;

/** The bytes as the file has them after the delta time, in hex: `99 26 54`. */
export function rawBytes(message: MidiMessage): string {
  const bytes =
    message.kind === "channel"
      ? kindOf(message) === "program" || message.status >> 4 === 0xd
        ? [message.status, message.data1]
        : [message.status, message.data1, message.data2]
      : message.kind === "meta"
        ? [0xff, message.metaType, ...message.data]
        : [message.status, ...message.data];
  return bytes.map((byte) => byte.toString(16).padStart(2, "0").toUpperCase()).join(" ");
}

/** 1 to 16, as people count channels; null for messages of no channel. */
export function channelNumber(message: MidiMessage): number | null {
  return message.kind === "channel" ? channelOf(message) + 1 : null;
}
