import { type ChangedMessage, type Pattern, placeInPattern } from "../document/index.ts";
import { resolutionOf } from "../file/index.ts";
import { channelOf, isNoteOn, type MidiFile, type MidiMessage, pairNotes } from "../smf/index.ts";

/**
 * Every message of a take, in order of time, as columns: 200,000 objects would make a table stumble and a worker slow to
 * answer. Row i of every column is one message.
 */
export interface MessageTable {
  readonly count: number;
  readonly trackIndexes: Uint16Array;
  /** The place of the message in its track. */
  readonly messageIndexes: Uint32Array;
  /** In ticks of the pattern, with changes by hand. */
  readonly ticks: Float64Array;
  /** Of a channel message its status, 0xFF for a meta message, 0xF0 or 0xF7 for system-exclusive ones. */
  readonly statuses: Uint8Array;
  /** The first data byte; of a meta message its type. */
  readonly data1s: Uint8Array;
  readonly data2s: Uint8Array;
  /** Where the data of meta and system-exclusive messages starts and ends in `data`. */
  readonly dataStarts: Uint32Array;
  readonly dataEnds: Uint32Array;
  readonly data: Uint8Array;
  /** The lane of a drum note and its end: an index into the pattern's lanes; -1 for all else. */
  readonly laneIndexes: Int16Array;
  /** The row of the note-off of a note, or of the note of a note-off; -1 for none. */
  readonly partnerRows: Int32Array;
  /** Bit 1: changed by hand. */
  readonly isChanged: Uint8Array;
}

/** `track:message`, as hits and changed messages are called. */
export function messageIdAt(table: MessageTable, row: number): string {
  return `${table.trackIndexes[row]}:${table.messageIndexes[row]}`;
}

/** The message of a row, at its tick in the pattern. */
export function messageAt(table: MessageTable, row: number): MidiMessage {
  const tick = table.ticks[row]!;
  const status = table.statuses[row]!;
  const data1 = table.data1s[row]!;
  if (status < 0xf0) return { kind: "channel", tick, status, data1, data2: table.data2s[row]! };
  const data = table.data.subarray(table.dataStarts[row], table.dataEnds[row]);
  if (status === 0xff) return { kind: "meta", tick, metaType: data1, data };
  return { kind: "sysex", tick, status: status as 0xf0 | 0xf7, data };
}

interface Source {
  readonly trackIndex: number;
  readonly messageIndex: number;
  readonly tick: number;
  readonly message: MidiMessage;
  readonly isChanged: boolean;
  readonly laneIndex: number;
}

/**
 * Lists every message of a take as it is now: without those that were taken out, and with hits at the place and loudness
 * that a hand gave them. Treatments change nothing here; they are heard and exported, but are no part of the take.
 */
export function tabulateMessages(file: MidiFile, pattern: Pattern): MessageTable {
  const { factor } = resolutionOf(file.division);
  const place = placeInPattern(pattern);
  const hitsById = new Map(pattern.hits.map((hit) => [hit.id, hit]));
  const laneIndexes = new Map(pattern.lanes.map(({ voiceId }, index) => [voiceId, index]));
  const drumTracks = drumChannels(pattern);
  const hasChanges = Object.keys(pattern.changedMessages).length > 0;
  const sources: Source[] = [];
  /** By track and message: the other end of its note, and its row; -1 for none. */
  const partnersOf: Int32Array[] = [];
  const rowsOf: Int32Array[] = [];
  let dataSize = 0;
  // Hot: a take can have a million messages. What belongs to one is found by its place, and not by a name.
  for (const [trackIndex, { messages }] of file.tracks.entries()) {
    const drums = drumTracks.get(trackIndex);
    const removedEnds = new Uint8Array(messages.length);
    const lanes = new Int32Array(messages.length).fill(-1);
    const partners = new Int32Array(messages.length).fill(-1);
    partnersOf.push(partners);
    rowsOf.push(new Int32Array(messages.length).fill(-1));
    for (const [onIndex, endIndex] of pairNotes(messages)) {
      partners[onIndex] = endIndex;
      partners[endIndex] = onIndex;
      const onset = messages[onIndex]!;
      if (onset.kind !== "channel" || !drums?.has(channelOf(onset))) continue;
      const hit = hitsById.get(`${trackIndex}:${onIndex}`);
      if (!hit) removedEnds[endIndex] = 1;
      else lanes[endIndex] = laneIndexes.get(hit.voiceId) ?? -1;
    }
    for (let messageIndex = 0; messageIndex < messages.length; messageIndex++) {
      const message = messages[messageIndex]!;
      const changed = hasChanges ? pattern.changedMessages[`${trackIndex}:${messageIndex}`] : undefined;
      if (changed === null || removedEnds[messageIndex] === 1) continue;
      let tick = place(message.tick * factor);
      let shown = message;
      let isChanged = changed !== undefined;
      if (message.kind === "channel" && isNoteOn(message) && drums?.has(channelOf(message))) {
        const hit = hitsById.get(`${trackIndex}:${messageIndex}`);
        if (!hit) continue;
        lanes[messageIndex] = laneIndexes.get(hit.voiceId) ?? -1;
        isChanged = hit.pinnedTick !== null || hit.pinnedVelocity !== null;
        tick = hit.pinnedTick ?? tick;
        if (hit.pinnedVelocity !== null) shown = { ...message, data2: hit.pinnedVelocity };
      } else if (changed) {
        tick = changed.tick;
        shown = withBytes(message, changed);
      }
      if (shown.kind !== "channel") dataSize += shown.data.length;
      sources.push({ trackIndex, messageIndex, tick, message: shown, isChanged, laneIndex: lanes[messageIndex]! });
    }
  }
  sources.sort((a, b) => a.tick - b.tick || a.trackIndex - b.trackIndex || a.messageIndex - b.messageIndex);
  const table = emptyTable(sources.length, dataSize);
  let dataEnd = 0;
  for (let row = 0; row < sources.length; row++) {
    const { trackIndex, messageIndex, tick, message, isChanged, laneIndex } = sources[row]!;
    rowsOf[trackIndex]![messageIndex] = row;
    table.trackIndexes[row] = trackIndex;
    table.messageIndexes[row] = messageIndex;
    table.ticks[row] = tick;
    table.isChanged[row] = isChanged ? 1 : 0;
    table.laneIndexes[row] = laneIndex;
    table.statuses[row] = message.kind === "meta" ? 0xff : message.status;
    table.dataStarts[row] = dataEnd;
    if (message.kind === "channel") {
      table.data1s[row] = message.data1;
      table.data2s[row] = message.data2;
    } else {
      if (message.kind === "meta") table.data1s[row] = message.metaType;
      table.data.set(message.data, dataEnd);
      dataEnd += message.data.length;
    }
    table.dataEnds[row] = dataEnd;
  }
  for (let row = 0; row < sources.length; row++) {
    const { trackIndex, messageIndex } = sources[row]!;
    const partner = partnersOf[trackIndex]![messageIndex]!;
    table.partnerRows[row] = partner === -1 ? -1 : rowsOf[trackIndex]![partner]!;
  }
  return table;
}

function drumChannels(pattern: Pattern): ReadonlyMap<number, ReadonlySet<number>> {
  const byTrack = new Map<number, Set<number>>();
  for (const { trackIndex, channel, isDrums } of pattern.streams) {
    if (!isDrums) continue;
    const channels = byTrack.get(trackIndex) ?? new Set();
    byTrack.set(trackIndex, channels.add(channel));
  }
  return byTrack;
}

/** A message with other values; its tick is left to the caller. */
export function withBytes(message: MidiMessage, { bytes }: NonNullable<ChangedMessage>): MidiMessage {
  if (message.kind !== "channel") return { ...message, data: Uint8Array.from(bytes) };
  const [status = message.status, data1 = 0, data2 = 0] = bytes;
  return { ...message, status, data1, data2 };
}

/** Of a channel message its status and data bytes, of others their data: what a change of it holds. */
export function bytesOf(message: MidiMessage): readonly number[] {
  if (message.kind !== "channel") return [...message.data];
  return hasOneDataByte(message.status)
    ? [message.status, message.data1]
    : [message.status, message.data1, message.data2];
}

function hasOneDataByte(status: number): boolean {
  return status >> 4 === 0xc || status >> 4 === 0xd;
}

function emptyTable(count: number, dataSize: number) {
  return {
    count,
    trackIndexes: new Uint16Array(count),
    messageIndexes: new Uint32Array(count),
    ticks: new Float64Array(count),
    statuses: new Uint8Array(count),
    data1s: new Uint8Array(count),
    data2s: new Uint8Array(count),
    dataStarts: new Uint32Array(count),
    dataEnds: new Uint32Array(count),
    data: new Uint8Array(dataSize),
    laneIndexes: new Int16Array(count).fill(-1),
    partnerRows: new Int32Array(count).fill(-1),
    isChanged: new Uint8Array(count),
  };
}
