import { findTrackChunk, isChunkId, isTrackChunk } from "./chunk.ts";
import type { Division, MidiFile, Notice, Track, UnknownChunk } from "./midi-file.ts";
import { MidiFileError } from "./midi-file-error.ts";
import { NoticeList } from "./notice-list.ts";
import { readTrack } from "./read-track.ts";

export interface MidiFileReading {
  readonly file: MidiFile;
  /** Empty for a sound file. */
  readonly notices: readonly Notice[];
}

/** Some programs wrap the file in a container or put a few bytes before it; we look this far for its start. */
const HEADER_SEARCH_BYTES = 4096;

/**
 * Reads a Standard MIDI File of format 0, 1 or 2, and as much as can be read of a damaged one.
 * Message payloads are views of `bytes`, so that memory follows the file's size and not the lengths it declares.
 * @param bytes the whole file; it must not change afterwards
 * @returns the messages at ticks counted from the start of each track, and a notice for each thing read around
 * @throws MidiFileError `file.notMidi` if there is no header; nothing else is thrown, whatever the bytes are
 * @source Standard MIDI Files 1.0
 */
export function readMidiFile(bytes: Uint8Array): MidiFileReading {
  const notices = new NoticeList();
  const headerOffset = findHeader(bytes);
  if (headerOffset > 0) {
    notices.add("file.wrapped", `${headerOffset} bytes before the MIDI header were passed over.`, 0);
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < headerOffset + 14) {
    throw new MidiFileError(
      "file.notMidi",
      "This file breaks off inside its MIDI header, so there is nothing to read.",
      bytes.length,
      "Export it again.",
    );
  }
  const headerLength = Math.max(6, view.getUint32(headerOffset + 4));
  const format = readFormat(view.getUint16(headerOffset + 8), headerOffset + 8, notices);
  const declaredTracks = view.getUint16(headerOffset + 10);
  const division = readDivision(view.getUint16(headerOffset + 12), headerOffset + 12, notices);
  let offset = Math.min(bytes.length, headerOffset + 8 + headerLength);
  if (headerLength > 6 && !isChunkId(bytes, offset) && isChunkId(bytes, headerOffset + 14)) {
    notices.add("header.length", `The header says it is ${headerLength} bytes long; six were read.`, headerOffset + 4);
    offset = headerOffset + 14;
  }
  const headerExtra = bytes.subarray(headerOffset + 14, offset);

  const tracks: Track[] = [];
  const unknownChunks: UnknownChunk[] = [];
  while (offset < bytes.length) {
    if (bytes.length - offset < 8 || !isChunkId(bytes, offset)) {
      // From the next byte on: a track's name in the last seven bytes of a file is no track.
      const next = findTrackChunk(bytes, offset + 1);
      notices.add("chunk.stray", `${next - offset} bytes that belong to no track were passed over.`, offset);
      offset = next;
      continue;
    }
    const declaredEnd = offset + 8 + view.getUint32(offset + 4);
    const end = Math.min(declaredEnd, bytes.length);
    if (!isTrackChunk(bytes, offset)) {
      const id = String.fromCharCode(...bytes.subarray(offset, offset + 4));
      if (declaredEnd > bytes.length) {
        notices.add("chunk.cutShort", `The chunk “${id}” is ${declaredEnd - bytes.length} bytes short.`, offset);
      }
      unknownChunks.push({ id, data: bytes.subarray(offset + 8, end), beforeTrackIndex: tracks.length });
      offset = end;
      continue;
    }
    const trackNumber = tracks.length + 1;
    const reading = readTrack(bytes, offset + 8, end, declaredEnd, trackNumber, notices);
    tracks.push({ messages: reading.messages });
    offset = reading.nextByteOffset;
  }
  if (tracks.length !== declaredTracks) {
    const found = `${tracks.length} track${tracks.length === 1 ? "" : "s"}`;
    notices.add(
      "header.trackCount",
      `The header names ${declaredTracks} tracks; ${found} could be read.`,
      headerOffset + 10,
    );
  }
  return { file: { format, division, tracks, unknownChunks, headerExtra }, notices: notices.list() };
}

function findHeader(bytes: Uint8Array): number {
  const last = Math.min(bytes.length - 4, HEADER_SEARCH_BYTES);
  for (let offset = 0; offset <= last; offset++) {
    if (
      bytes[offset] === 0x4d &&
      bytes[offset + 1] === 0x54 &&
      bytes[offset + 2] === 0x68 &&
      bytes[offset + 3] === 0x64
    ) {
      return offset;
    }
  }
  throw new MidiFileError(
    "file.notMidi",
    bytes.length === 0 ? "This file is empty." : "This is not a MIDI file: it has no MIDI header.",
    0,
    "Choose a file that ends in .mid, exported from the program or kit that recorded it.",
  );
}

function readFormat(format: number, byteOffset: number, notices: NoticeList): 0 | 1 | 2 {
  if (format === 0 || format === 1 || format === 2) return format;
  notices.add("header.format", `Format ${format} is not known; it was read as format 1.`, byteOffset);
  return 1;
}

function readDivision(word: number, byteOffset: number, notices: NoticeList): Division {
  if (word < 0x8000) {
    if (word > 0) return { kind: "ppq", ppq: word };
    notices.add("header.division", "The file gives no ticks per quarter note; 480 were assumed.", byteOffset);
    return { kind: "ppq", ppq: 480 };
  }
  const framesPerSecond = 256 - (word >> 8);
  const ticksPerFrame = Math.max(1, word & 0xff);
  if ((word & 0xff) === 0) {
    notices.add("header.division", "The file gives no ticks per frame; one was assumed.", byteOffset + 1);
  }
  if (framesPerSecond === 24 || framesPerSecond === 25 || framesPerSecond === 29 || framesPerSecond === 30) {
    return { kind: "smpte", framesPerSecond, ticksPerFrame };
  }
  notices.add(
    "header.division",
    `${framesPerSecond} frames a second is not a known rate; 25 were assumed.`,
    byteOffset,
  );
  return { kind: "smpte", framesPerSecond: 25, ticksPerFrame };
}
