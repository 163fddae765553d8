import { expose } from "comlink";
import type { LengthFault } from "../core/commands/index.ts";
import { type Edit, findVoice, type PackedPattern, unpackPattern } from "../core/document/index.ts";
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

/** What only the take itself says. */
interface TakeFacts {
  /** The places that it names. */
  readonly markers: readonly Marker[];
  /** Drum notes whose length can spoil playback. */
  readonly lengthFaults: readonly LengthFault[];
}

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

let takeFile: (file: MidiFile) => void = () => {};
/** Whoever asks before the take is there waits for it. */
const opened = new Promise<MidiFile>((resolve) => {
  takeFile = resolve;
});

/** Every message of a take, and those that are likely not meant. */
export interface ListedMessages {
  readonly table: MessageTable;
  readonly odd: readonly OddMessages[];
}

// Patterns come packed: half a million hits take seconds to be handed over one by one, while the page stands still.
const take = {
  /** Takes the bytes of a take, once. */
  open(bytes: Uint8Array): void {
    takeFile(readMidiFile(bytes).file);
  },

  /** Every message of the take as the pattern has it now. */
  async list(packed: PackedPattern): Promise<ListedMessages> {
    const pattern = unpackPattern(packed);
    const table = tabulateMessages(await opened, pattern);
    const drums = new Set(
      pattern.streams.flatMap(({ isDrums, trackIndex, channel }) => (isDrums ? [trackIndex * 16 + channel] : [])),
    );
    const isDrumRow = (row: number) => drums.has(table.trackIndexes[row]! * 16 + (table.statuses[row]! & 0x0f));
    return { table, odd: findOddMessages(table, buildTimeMaps(pattern), isDrumRow) };
  },

  /** The same for a project as the server answers with it. */
  async listAnswer(answer: Blob): Promise<ListedMessages> {
    const { value }: { readonly value: { readonly pattern: PackedPattern } } = JSON.parse(await answer.text());
    return take.list(value.pattern);
  },

  /** The notes of a stream that is not drums. */
  async tones(packed: PackedPattern, streamIndex: number): Promise<readonly Tone[]> {
    return readTones(await opened, unpackPattern(packed), streamIndex);
  },

  /** What only the take itself says. */
  async facts(packed: PackedPattern): Promise<TakeFacts> {
    const pattern = unpackPattern(packed);
    const file = await opened;
    return { markers: readMarkers(file, pattern), lengthFaults: findLengthFaults(file, pattern) };
  },

  /** The edit that takes messages out or changes them. */
  async change(packed: PackedPattern, wanted: readonly WantedMessage[]): Promise<Edit> {
    return changeMessages(unpackPattern(packed), await opened, wanted);
  },

  /** Rows of the list as CSV. */
  async csv(packed: PackedPattern, rows: Uint32Array): Promise<string> {
    const pattern = unpackPattern(packed);
    const table = tabulateMessages(await opened, pattern);
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
