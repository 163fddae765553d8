import { findTrackChunk, isChunkBoundary } from "./chunk.ts";
import { META, type MidiMessage } from "./midi-file.ts";
import type { NoticeList } from "./notice-list.ts";

interface TrackReading {
  readonly messages: readonly MidiMessage[];
  readonly nextByteOffset: number;
}

const NO_DATA = new Uint8Array(0);

/** Data bytes after 0xF1 to 0xF6 and 0xF8 to 0xFE, which have no place in a file but turn up in some. */
const SYSTEM_DATA_BYTES: Readonly<Record<number, number>> = { 241: 1, 242: 2, 243: 1 };

/**
 * Reads the messages of one track chunk.
 * @param start offset of the first byte after the chunk's length
 * @param end where the chunk ends by its length, inside the file
 * @param declaredEnd the same before it was held inside the file
 */
export function readTrack(
  bytes: Uint8Array,
  start: number,
  end: number,
  declaredEnd: number,
  trackNumber: number,
  notices: NoticeList,
): TrackReading {
  let reading = readMessages(bytes, start, end, trackNumber, notices);
  if (!reading.isEnded && !isChunkBoundary(bytes, end)) {
    const longerEnd = findTrackChunk(bytes, end);
    notices.add(
      "track.length",
      `Track ${trackNumber} is longer than its header says; it was read to byte ${longerEnd}.`,
      start - 4,
    );
    reading = readMessages(bytes, start, longerEnd, trackNumber, notices);
    return { messages: reading.messages, nextByteOffset: longerEnd };
  }
  if (reading.isEnded && reading.byteOffset < end) {
    const isNextTrack = findTrackChunk(bytes, reading.byteOffset) === reading.byteOffset;
    notices.add(
      isNextTrack ? "track.length" : "track.leftOver",
      isNextTrack
        ? `Track ${trackNumber} is shorter than its header says; the next one begins inside it.`
        : `${end - reading.byteOffset} bytes after the end of track ${trackNumber} were passed over.`,
      reading.byteOffset,
    );
    if (isNextTrack) return { messages: reading.messages, nextByteOffset: reading.byteOffset };
  }
  if (!reading.isEnded) {
    const short = declaredEnd - bytes.length;
    const missing = short > 0 ? `, ${short} bytes short of its header` : ", without an end mark";
    notices.add(
      "track.cutShort",
      `Track ${trackNumber} breaks off at byte ${reading.byteOffset}${missing}. ` +
        `The ${reading.messages.length} messages before that point were kept.`,
      reading.byteOffset,
    );
  }
  return { messages: reading.messages, nextByteOffset: end };
}

/**
 * The hot loop of decoding. Numbers are read in place, without a reader object or a result per quantity, since those
 * made up half of the time on a take of 20,000 hits.
 */
function readMessages(bytes: Uint8Array, start: number, end: number, trackNumber: number, notices: NoticeList) {
  const messages: MidiMessage[] = [];
  let offset = start;
  let tick = 0;
  let runningStatus = 0;
  while (offset < end) {
    const messageOffset = offset;
    let value = 0;
    let length = 0;
    let byte = 0;
    do {
      if (offset >= end) return { messages, byteOffset: messageOffset, isEnded: false };
      byte = bytes[offset++]!;
      value = (value << 7) | (byte & 0x7f);
    } while (byte >= 0x80 && ++length < 4);
    if (byte >= 0x80) {
      notices.add(
        "track.delta",
        `Track ${trackNumber} has a time of more than four bytes; the rest was left.`,
        messageOffset,
      );
      return { messages, byteOffset: messageOffset, isEnded: false };
    }
    tick += value;
    if (offset >= end) return { messages, byteOffset: messageOffset, isEnded: false };

    let status = bytes[offset]!;
    if (status < 0x80) {
      if (runningStatus === 0) {
        const strayOffset = offset;
        while (offset < end && bytes[offset]! < 0x80) offset++;
        notices.add("track.noStatus", `${offset - strayOffset} bytes without a status were passed over.`, strayOffset);
        if (offset >= end) break;
        status = bytes[offset++]!;
      } else {
        status = runningStatus;
      }
    } else {
      offset++;
    }

    // A status inside a message cuts it off; it is taken as the next message at the same time.
    for (;;) {
      if (status < 0xf0) {
        const dataBytes = status >> 5 === 6 ? 1 : 2;
        if (offset + dataBytes > end) return { messages, byteOffset: messageOffset, isEnded: false };
        const data1 = bytes[offset]!;
        const data2 = dataBytes === 2 ? bytes[offset + 1]! : 0;
        if (data1 < 0x80 && data2 < 0x80) {
          offset += dataBytes;
          runningStatus = status;
          messages.push({ kind: "channel", tick, status, data1, data2 });
          break;
        }
        notices.add("message.cutOff", "A message is cut off by the next one; it was left out.", messageOffset);
        if (data1 < 0x80) offset++;
        status = bytes[offset++]!;
        continue;
      }
      // Meta and system-exclusive messages end running status. Some writers go on with it all the same.
      if (status === 0xff || status === 0xf0 || status === 0xf7) {
        const metaType = status === 0xff ? bytes[offset++]! : 0;
        let dataLength = 0;
        length = 0;
        do {
          if (offset >= end) return { messages, byteOffset: messageOffset, isEnded: false };
          byte = bytes[offset++]!;
          dataLength = (dataLength << 7) | (byte & 0x7f);
        } while (byte >= 0x80 && ++length < 4);
        if (byte >= 0x80 || dataLength > end - offset) {
          notices.add(
            "message.cutShort",
            `A message of ${dataLength} bytes is longer than what is left of track ${trackNumber}.`,
            messageOffset,
          );
          return { messages, byteOffset: messageOffset, isEnded: false };
        }
        const data = dataLength === 0 ? NO_DATA : bytes.subarray(offset, offset + dataLength);
        offset += dataLength;
        if (status === 0xff) {
          messages.push({ kind: "meta", tick, metaType, data });
          if (metaType === META.endOfTrack) return { messages, byteOffset: offset, isEnded: true };
        } else {
          messages.push({ kind: "sysex", tick, status, data });
        }
        break;
      }
      const skipped = SYSTEM_DATA_BYTES[status] ?? 0;
      notices.add("message.system", "A message that has no place in a file was left out.", messageOffset);
      offset = Math.min(end, offset + skipped);
      break;
    }
  }
  return { messages, byteOffset: Math.min(offset, end), isEnded: false };
}
