import type { ChangedMessage, Pattern } from "../document/index.ts";
import { inOrder, type Outgoing, outgoingTracks } from "../file/index.ts";
import { isNoteOff, isNoteOn, type MidiFile, type MidiMessage, NO_END, pairNotes } from "../smf/index.ts";

/** What a hand has to do with a message. */
export const BY_HAND = { nothing: 0, changed: 1, added: 2 } as const;

/**
 * Every message that an export would write, in order of time, as columns: 200,000 objects would make a table stumble and a worker
 * slow to answer. Row i of every column is one message.
 */
export interface MessageTable {
  readonly count: number;
  readonly trackIndexes: Uint16Array;
  /** The place of the message in its track of the file; below 0 for one that is not in the file, -1 for the first of `addedIds`. */
  readonly messageIndexes: Int32Array;
  /** What messages are called that are not in the file. */
  readonly addedIds: readonly string[];
  /** In ticks of the pattern, cleaned. */
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
  /** Of a drum note, where it was recorded, in ticks of the pattern; not a number for all else. */
  readonly recordedTicks: Float64Array;
  /** Of a drum note, how loud it was recorded; 0 for all else. */
  readonly recordedVelocities: Uint8Array;
  /** One of `BY_HAND`. */
  readonly byHand: Uint8Array;
}

/** `track:message`, as hits and changed messages are called; of what is not in the file, what it goes with. */
export function messageIdAt({ trackIndexes, messageIndexes, addedIds }: MessageTable, row: number): string {
  const index = messageIndexes[row]!;
  return index < 0 ? addedIds[-1 - index]! : `${trackIndexes[row]}:${index}`;
}

/** Whether a message is in the file of the take, and not added to it. */
export function isInFile({ messageIndexes }: MessageTable, row: number): boolean {
  return messageIndexes[row]! >= 0;
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

/** How loud the note of a row is, 1 to 127; null for what is no note. */
export function velocityAt({ statuses, data2s }: MessageTable, row: number): number | null {
  return statuses[row]! >> 4 === 0x9 && data2s[row]! > 0 ? data2s[row]! : null;
}

/** How long the note of a row lasts, in ticks; null for what is no note, or one that never ends. */
export function lengthAt(table: MessageTable, row: number): number | null {
  const end = table.partnerRows[row]!;
  return velocityAt(table, row) === null || end < 0 ? null : table.ticks[end]! - table.ticks[row]!;
}

/**
 * Lists every message that an export of a take would write, as it is now: hits at their cleaned places and loudness, those that were
 * added among them, and without what is muted or was taken out.
 */
export function tabulateMessages(file: MidiFile, pattern: Pattern): MessageTable {
  const laneIndexes = new Map(pattern.lanes.map(({ voiceId }, index) => [voiceId, index]));
  const tracks = outgoingTracks(file, pattern).map(inOrder);
  let [count, dataSize, hasAddedEnds] = [0, 0, false];
  for (const track of tracks) {
    count += track.length;
    for (const { message, sourceIndex } of track) {
      if (message.kind !== "channel") dataSize += message.data.length;
      else if (sourceIndex < 0 && isNoteOff(message)) hasAddedEnds = true;
    }
  }
  const addedIds: string[] = [];
  const table = { ...emptyTable(count, dataSize), addedIds };
  const rowsOf = file.tracks.map(({ messages }) => new Int32Array(messages.length).fill(-1));
  /** Where notes begin, by their hits. */
  const onsetRows = new Map<string, number>();
  let [row, dataEnd] = [-1, 0];
  walkInTime(tracks, ({ sourceIndex, message, voiceId, hit }, trackIndex) => {
    row++;
    const isInFile = sourceIndex >= 0;
    if (isInFile) rowsOf[trackIndex]![sourceIndex] = row;
    else addedIds.push(addedId(message, hit?.id ?? null, addedIds.length));
    table.trackIndexes[row] = trackIndex;
    table.messageIndexes[row] = isInFile ? sourceIndex : -addedIds.length;
    table.ticks[row] = message.tick;
    table.laneIndexes[row] = voiceId === null ? -1 : (laneIndexes.get(voiceId) ?? -1);
    table.byHand[row] = isInFile ? BY_HAND.nothing : BY_HAND.added;
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
    if (!hit || voiceId === null) return;
    if (isNoteOn(message)) {
      if (hasAddedEnds) onsetRows.set(hit.id, row);
      table.recordedTicks[row] = hit.recordedTick ?? Number.NaN;
      table.recordedVelocities[row] = hit.recordedVelocity ?? 0;
      const isChanged = hit.pinnedTick !== null || hit.pinnedVelocity !== null;
      if (isInFile && isChanged) table.byHand[row] = BY_HAND.changed;
    } else if (!isInFile && isNoteOff(message)) join(table, onsetRows.get(hit.id) ?? -1, row);
  });
  for (const [trackIndex, { messages }] of file.tracks.entries()) {
    const rows = rowsOf[trackIndex]!;
    pairNotes(messages).forEach((endIndex, onIndex) => {
      if (endIndex !== NO_END) join(table, rows[onIndex]!, rows[endIndex]!);
    });
  }
  for (const messageId of Object.keys(pattern.changedMessages)) {
    const [trackIndex = 0, messageIndex = 0] = messageId.split(":").map(Number);
    const row = rowsOf[trackIndex]?.[messageIndex] ?? -1;
    if (row >= 0) table.byHand[row] = BY_HAND.changed;
  }
  return table;
}

/**
 * Walks through what goes out of some tracks in order of time. What is at one tick stays in the order of the tracks, and of each track.
 * @param visit told once for each message, in order
 */
function walkInTime(
  tracks: readonly (readonly Outgoing[])[],
  visit: (outgoing: Outgoing, trackIndex: number) => void,
): void {
  const nextOf = tracks.map(() => 0);
  for (;;) {
    let first = -1;
    let firstTick = Number.POSITIVE_INFINITY;
    for (let track = 0; track < tracks.length; track++) {
      const next = tracks[track]![nextOf[track]!];
      if (!next || next.message.tick >= firstTick) continue;
      first = track;
      firstTick = next.message.tick;
    }
    if (first === -1) return;
    visit(tracks[first]![nextOf[first]!++]!, first);
  }
}

const POLY_PRESSURE = 0xa;

/** Notes are called as their hits; what goes with one, and what says the time of the take, by what it is. */
function addedId(message: MidiMessage, hitId: string | null, count: number): string {
  if (hitId === null) return `time ${count}`;
  const pressure = message.kind === "channel" && message.status >> 4 === POLY_PRESSURE ? message.data2 : null;
  if (pressure !== null) return `${hitId} ${pressure > 0 ? "hand" : "hand away"}`;
  return isNoteOn(message) ? hitId : `${hitId} ${isNoteOff(message) ? "end" : "pedal"}`;
}

function join({ partnerRows }: MessageTable, onRow: number, endRow: number): void {
  if (onRow < 0 || endRow < 0) return;
  partnerRows[onRow] = endRow;
  partnerRows[endRow] = onRow;
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
    messageIndexes: new Int32Array(count),
    ticks: new Float64Array(count),
    statuses: new Uint8Array(count),
    data1s: new Uint8Array(count),
    data2s: new Uint8Array(count),
    dataStarts: new Uint32Array(count),
    dataEnds: new Uint32Array(count),
    data: new Uint8Array(dataSize),
    laneIndexes: new Int16Array(count).fill(-1),
    partnerRows: new Int32Array(count).fill(-1),
    recordedTicks: new Float64Array(count).fill(Number.NaN),
    recordedVelocities: new Uint8Array(count),
    byHand: new Uint8Array(count),
  };
}
