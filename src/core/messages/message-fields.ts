import { META, type MidiMessage, readText, writeText } from "../smf/index.ts";
import { bytesOf } from "./message-table.ts";
import { kindOf } from "./message-words.ts";

/** One value of a message that a person can type. */
export type MessageField =
  | { readonly id: string; readonly label: string; readonly value: string; readonly min: number; readonly max: number }
  | { readonly id: string; readonly label: string; readonly value: string; readonly isText: true };

const number = (id: string, label: string, value: number, min: number, max: number): MessageField => ({
  id,
  label,
  value: String(value),
  min,
  max,
});

/** What can be changed of a message besides its place. Channels and programs count from 1, as people do. */
export function fieldsOf(message: MidiMessage, isHit: boolean): readonly MessageField[] {
  if (message.kind === "sysex") return [bytesField(message.data)];
  if (message.kind === "meta") return metaFields(message.metaType, message.data);
  const { status, data1, data2 } = message;
  const channel = number("channel", "Channel", (status & 0x0f) + 1, 1, 16);
  switch (kindOf(message)) {
    case "note":
      // The drum of a hit is changed on the Bench, where it can be heard.
      return isHit
        ? [number("data2", "Velocity", data2, 1, 127)]
        : [channel, number("data1", "Note", data1, 0, 127), number("data2", "Velocity", data2, 1, 127)];
    case "note end":
      // It ends the note that it belongs to, and must stay with it.
      return [];
    case "controller":
      return [channel, number("data1", "Controller", data1, 0, 127), number("data2", "Value", data2, 0, 127)];
    case "program":
      return [channel, number("program", "Program", data1 + 1, 1, 128)];
    case "pressure":
      return status >> 4 === 0xa
        ? [channel, number("data1", "Note", data1, 0, 127), number("data2", "Pressure", data2, 0, 127)]
        : [channel, number("data1", "Pressure", data1, 0, 127)];
    default:
      return [channel, number("bend", "Bend", (data2 << 7) + data1 - 8192, -8192, 8191)];
  }
}

function metaFields(metaType: number, data: Uint8Array): readonly MessageField[] {
  const [a = 0, b = 0, c = 0] = data;
  if (metaType === META.endOfTrack) return [];
  if (metaType === META.tempo) {
    const usPerQuarter = (a << 16) | (b << 8) | c;
    return [number("bpm", "Quarters a minute", Math.round(6e9 / Math.max(1, usPerQuarter)) / 100, 4, 960)];
  }
  if (metaType === META.meter) {
    return [number("numerator", "Beats in a bar", a, 1, 64), number("denominator", "of the note", 2 ** b, 1, 128)];
  }
  if (metaType <= 0x0f && metaType > 0) return [{ id: "text", label: "Text", value: readText(data), isText: true }];
  return [bytesField(data)];
}

const bytesField = (data: Uint8Array): MessageField => ({
  id: "hex",
  label: "Bytes",
  value: [...data].map((byte) => byte.toString(16).padStart(2, "0").toUpperCase()).join(" "),
  isText: true,
});

/**
 * Makes the bytes of a message from what was typed into its fields.
 * @returns what a changed message holds, or a sentence on what cannot be taken
 */
export function readFields(
  message: MidiMessage,
  isHit: boolean,
  typed: Readonly<Record<string, string>>,
): readonly number[] | string {
  const values: Record<string, number> = {};
  for (const field of fieldsOf(message, isHit)) {
    if ("isText" in field) continue;
    const value = Number((typed[field.id] ?? field.value).replace(",", "."));
    const isWhole = field.id === "bpm" || Number.isInteger(value);
    if (!(isWhole && value >= field.min && value <= field.max)) {
      return `${field.label} goes from ${field.min} to ${field.max}.`;
    }
    values[field.id] = value;
  }
  if (message.kind === "channel") {
    const { status, data1, data2 } = message;
    const bend = values.bend === undefined ? null : values.bend + 8192;
    const bytes = [
      (status & 0xf0) | (values.channel === undefined ? status & 0x0f : values.channel - 1),
      values.program === undefined ? (bend === null ? (values.data1 ?? data1) : bend & 0x7f) : values.program - 1,
      bend === null ? (values.data2 ?? data2) : bend >> 7,
    ];
    return bytes.slice(0, bytesOf(message).length);
  }
  if (values.bpm !== undefined) {
    const usPerQuarter = Math.min(0xffffff, Math.round(60_000_000 / values.bpm));
    return [usPerQuarter >> 16, (usPerQuarter >> 8) & 0xff, usPerQuarter & 0xff];
  }
  if (values.numerator !== undefined && values.denominator !== undefined) {
    const power = Math.log2(values.denominator);
    if (!Number.isInteger(power)) return "The note of a meter is 1, 2, 4, 8, 16, 32, 64 or 128.";
    return [values.numerator, power, ...message.data.slice(2)];
  }
  if (typed.text !== undefined) return [...writeText(typed.text)];
  if (typed.hex !== undefined) return readHex(typed.hex);
  return [...message.data];
}

function readHex(text: string): readonly number[] | string {
  const pieces = text.trim() === "" ? [] : text.trim().split(/[\s,]+/);
  const isByte = (piece: string) => /^[0-9a-f]{1,2}$/i.test(piece);
  const wrong = pieces.find((piece) => !isByte(piece));
  if (wrong !== undefined) return `“${wrong.slice(0, 20)}” is no byte. Bytes are written from 00 to FF.`;
  return pieces.map((piece) => Number.parseInt(piece, 16));
}
