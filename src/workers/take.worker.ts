import { expose } from "comlink";
import type { LengthFault } from "../core/commands/index.ts";
import { type Edit, findVoice, type Pattern } from "../core/document/index.ts";
import { findLengthFaults, type Marker, readMarkers, readTones, type Tone } from "../core/file/index.ts";
import {
  changeMessages,
  csvRow,
  findOddMessages,
  kindOf,
  lengthAt,
  type MessageTable,
  messageAt,
  messageWords,
  type OddMessages,
  rawBytes,
  tabulateMessages,
  velocityAt,
  type WantedMessage,
} from "../core/messages/index.ts";
import { type MidiFile, readMidiFile } from "../core/smf/index.ts";
import { buildTimeMaps, formatBarBeat, tickToMs } from "../core/time/index.ts";

const CSV_HEADS = [
  "place",
  "ms",
  "track",
  "channel",
  "kind",
  "what it says",
  "velocity",
  "length in ticks",
  "recorded place",
  "recorded velocity",
  "bytes",
];

let file: MidiFile | null = null;

function expectFile(): MidiFile {
  if (!file) throw new Error("The take was asked for before it was there.");
  return file;
}

const take = {
  /** Takes the bytes of a take, once. */
  open(bytes: Uint8Array): void {
    file = readMidiFile(bytes).file;
  },

  /** Every message of the take as the pattern has it now, and those that are likely not meant. */
  list(pattern: Pattern): { readonly table: MessageTable; readonly odd: readonly OddMessages[] } {
    const table = tabulateMessages(expectFile(), pattern);
    const drums = new Set(
      pattern.streams.flatMap(({ isDrums, trackIndex, channel }) => (isDrums ? [trackIndex * 16 + channel] : [])),
    );
    const isDrumRow = (row: number) => drums.has(table.trackIndexes[row]! * 16 + (table.statuses[row]! & 0x0f));
    return { table, odd: findOddMessages(table, buildTimeMaps(pattern), isDrumRow) };
  },

  /** The notes of a stream that is not drums. */
  tones(pattern: Pattern, streamIndex: number): readonly Tone[] {
    return readTones(expectFile(), pattern, streamIndex);
  },

  /** Drum notes whose length can spoil playback. */
  lengthFaults(pattern: Pattern): readonly LengthFault[] {
    return findLengthFaults(expectFile(), pattern);
  },

  /** The places that the take names. */
  markers(pattern: Pattern): readonly Marker[] {
    return readMarkers(expectFile(), pattern);
  },

  /** The edit that takes messages out or changes them. */
  change(pattern: Pattern, wanted: readonly WantedMessage[]): Edit {
    return changeMessages(pattern, expectFile(), wanted);
  },

  /** Rows of the list as CSV. */
  csv(pattern: Pattern, rows: Uint32Array): string {
    const table = tabulateMessages(expectFile(), pattern);
    const { meterMap, tempoMap } = buildTimeMaps(pattern);
    const names = pattern.lanes.map(({ voiceId }) => findVoice(pattern.noteMap, voiceId).name);
    const lines = [csvRow(CSV_HEADS)];
    for (const row of rows) {
      const message = messageAt(table, row);
      const { tick } = message;
      const recordedTick = table.recordedTicks[row]!;
      lines.push(
        csvRow([
          formatBarBeat(meterMap, tick),
          Math.round(tickToMs(tempoMap, tick) * 1000) / 1000,
          table.trackIndexes[row]! + 1,
          message.kind === "channel" ? (message.status & 0x0f) + 1 : "",
          kindOf(message),
          messageWords(message, names[table.laneIndexes[row]!] ?? null),
          velocityAt(table, row) ?? "",
          lengthAt(table, row) ?? "",
          Number.isNaN(recordedTick) ? "" : formatBarBeat(meterMap, recordedTick),
          table.recordedVelocities[row] || "",
          rawBytes(message),
        ]),
      );
    }
    return lines.join("");
  },
};

export type TakeReader = typeof take;
expose(take);
