import { type Division, MAX_DELTA_TICKS, META, type MidiFile, type MidiMessage, type Track } from "./midi-file.ts";
import { MidiFileError } from "./midi-file-error.ts";
import { variableLengthSize, writeVariableLength } from "./variable-length.ts";

/**
 * Writes a Standard MIDI File. Channel messages use running status, which every reader must know.
 * A track without an end mark gets one at its last message.
 * @param file messages in the order of their ticks
 * @returns the bytes of the file
 * @throws MidiFileError `track.order` if a tick is negative, fractional or before the one ahead of it
 * @source Standard MIDI Files 1.0
 */
export function writeMidiFile(file: MidiFile): Uint8Array {
  const trackBytes = file.tracks.map(writeTrack);
  const chunkSize = file.unknownChunks.reduce((sum, chunk) => sum + 8 + chunk.data.length, 0);
  const trackSize = trackBytes.reduce((sum, bytes) => sum + 8 + bytes.length, 0);
  const bytes = new Uint8Array(14 + file.headerExtra.length + chunkSize + trackSize);
  const view = new DataView(bytes.buffer);
  writeName(bytes, 0, "MThd");
  view.setUint32(4, 6 + file.headerExtra.length);
  view.setUint16(8, file.format);
  view.setUint16(10, file.tracks.length);
  view.setUint16(12, divisionWord(file.division));
  bytes.set(file.headerExtra, 14);
  let offset = 14 + file.headerExtra.length;
  const writeChunk = (id: string, data: Uint8Array) => {
    writeName(bytes, offset, id);
    view.setUint32(offset + 4, data.length);
    bytes.set(data, offset + 8);
    offset += 8 + data.length;
  };
  for (let trackIndex = 0; trackIndex <= trackBytes.length; trackIndex++) {
    for (const chunk of file.unknownChunks) {
      if (chunk.beforeTrackIndex === trackIndex) writeChunk(chunk.id, chunk.data);
    }
    const data = trackBytes[trackIndex];
    if (data) writeChunk("MTrk", data);
  }
  return bytes;
}

function divisionWord(division: Division): number {
  if (division.kind === "ppq") return division.ppq;
  return ((256 - division.framesPerSecond) << 8) | division.ticksPerFrame;
}

function writeName(bytes: Uint8Array, offset: number, id: string): void {
  for (let index = 0; index < 4; index++) bytes[offset + index] = id.charCodeAt(index);
}

function writeTrack(track: Track, trackIndex: number): Uint8Array {
  const messages = withEndMark(track.messages);
  const bytes = new Uint8Array(trackSizeLimit(messages));
  let offset = 0;
  let lastTick = 0;
  let runningStatus = 0;
  for (const message of messages) {
    let delta = message.tick - lastTick;
    if (!Number.isInteger(message.tick) || delta < 0) {
      throw new MidiFileError(
        "track.order",
        `Track ${trackIndex + 1} has a message at tick ${message.tick} after one at tick ${lastTick}.`,
        offset,
        "This is a fault of ours. The recording itself is safe.",
      );
    }
    lastTick = message.tick;
    // One delta time reaches 0x0FFFFFFF ticks; a longer silence is bridged with empty sequencer-specific messages.
    for (; delta > MAX_DELTA_TICKS; delta -= MAX_DELTA_TICKS) {
      offset = writeVariableLength(bytes, offset, MAX_DELTA_TICKS);
      bytes.set([0xff, 0x7f, 0x00], offset);
      offset += 3;
      runningStatus = 0;
    }
    offset = writeVariableLength(bytes, offset, delta);
    if (message.kind === "channel") {
      if (message.status !== runningStatus) bytes[offset++] = message.status;
      runningStatus = message.status;
      bytes[offset++] = message.data1;
      if (message.status >> 5 !== 6) bytes[offset++] = message.data2;
      continue;
    }
    runningStatus = 0;
    bytes[offset++] = message.kind === "meta" ? 0xff : message.status;
    if (message.kind === "meta") bytes[offset++] = message.metaType;
    offset = writeVariableLength(bytes, offset, message.data.length);
    bytes.set(message.data, offset);
    offset += message.data.length;
  }
  return bytes.subarray(0, offset);
}

function withEndMark(messages: readonly MidiMessage[]): readonly MidiMessage[] {
  const last = messages[messages.length - 1];
  if (last?.kind === "meta" && last.metaType === META.endOfTrack) return messages;
  return [...messages, { kind: "meta", tick: last?.tick ?? 0, metaType: META.endOfTrack, data: new Uint8Array(0) }];
}

/** Enough for every message with its own status and the bridges over long silences. */
function trackSizeLimit(messages: readonly MidiMessage[]): number {
  const lastTick = messages[messages.length - 1]?.tick ?? 0;
  let size = Math.ceil(lastTick / MAX_DELTA_TICKS) * 7;
  for (const message of messages) {
    size += message.kind === "channel" ? 7 : 6 + variableLengthSize(message.data.length) + message.data.length;
  }
  return size;
}
